package calmstep.service.runs;

import java.lang.management.ManagementFactory;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Takes leases on devices and keeps them alive while a step is carried out. */
@Component
class LeasedDevices {
    private static final Logger LOG = LoggerFactory.getLogger(LeasedDevices.class);
    private static final int SECONDS = 15;
    private static final long RENEWED_EVERY_MS = 4000;

    private final Leases leases;
    private final TransactionTemplate transactions;
    private final String holder = ManagementFactory.getRuntimeMXBean().getName();

    LeasedDevices(Leases leases, TransactionTemplate transactions) {
        this.leases = leases;
        this.transactions = transactions;
    }

    /** Empty when somebody else drives the device. */
    Optional<Hold> take(long deviceId, long unitId, String device) {
        Optional<Long> fence = Optional.ofNullable(transactions.execute(_ -> leases.take(deviceId, unitId, holder, SECONDS))).flatMap(f -> f);
        return fence.map(f -> new Lease(deviceId, device, f));
    }

    private final class Lease implements Hold {
        private final long deviceId;
        private final String device;
        private final long fence;
        private final CountDownLatch givenBack = new CountDownLatch(1);

        private Lease(long deviceId, String device, long fence) {
            this.deviceId = deviceId;
            this.device = device;
            this.fence = fence;
            Thread.ofVirtual().name("lease-" + device).start(this::renew);
        }

        @Override
        public void mustHold() {
            if (leases.renew(deviceId, fence, SECONDS) != 1) {
                throw new LeaseLost(device, fence);
            }
        }

        /** It is told to end, not interrupted: an interrupt in the middle of a call would break the connection to the database. */
        private void renew() {
            try {
                while (!givenBack.await(RENEWED_EVERY_MS, TimeUnit.MILLISECONDS)) {
                    try {
                        transactions.executeWithoutResult(_ -> leases.renew(deviceId, fence, SECONDS));
                    } catch (RuntimeException away) {
                        LOG.debug("The lease on {} could not be renewed just now", device, away);
                    }
                }
            } catch (InterruptedException stop) {
                Thread.currentThread().interrupt();
            }
        }

        @Override
        public void close() {
            givenBack.countDown();
            try {
                transactions.executeWithoutResult(_ -> leases.release(deviceId, fence));
            } catch (RuntimeException away) {
                LOG.debug("The lease on {} runs out by itself", device, away);
            }
        }
    }
}
