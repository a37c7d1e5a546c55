package calmstep.service.runs;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.lang.management.ManagementFactory;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Takes leases on devices and keeps them alive, all at once, while steps are carried out. */
@Component
class LeasedDevices {
    private static final Logger LOG = LoggerFactory.getLogger(LeasedDevices.class);
    private static final int SECONDS = 15;
    private static final long RENEWED_EVERY_MS = 4000;

    private final Leases leases;
    private final TransactionTemplate transactions;
    private final String holder = ManagementFactory.getRuntimeMXBean().getName();
    private final CountDownLatch ended = new CountDownLatch(1);

    LeasedDevices(Leases leases, TransactionTemplate transactions) {
        this.leases = leases;
        this.transactions = transactions;
    }

    @PostConstruct
    void begin() {
        Thread.ofVirtual().name("leases").start(this::renew);
    }

    /**
     * It is told to end, not interrupted: an interrupt in the middle of a call would break the
     * connection to the database.
     */
    @PreDestroy
    void end() {
        ended.countDown();
    }

    private void renew() {
        try {
            while (!ended.await(RENEWED_EVERY_MS, TimeUnit.MILLISECONDS)) {
                try {
                    transactions.executeWithoutResult(_ -> leases.renewAll(holder, SECONDS));
                } catch (RuntimeException away) {
                    LOG.debug("The leases could not be renewed just now", away);
                }
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    /** Empty when somebody else drives the device. */
    Optional<Hold> take(long deviceId, long unitId, String device) {
        Optional<Long> fence =
                Optional.ofNullable(
                                transactions.execute(
                                        _ -> leases.take(deviceId, unitId, holder, SECONDS)))
                        .flatMap(f -> f);
        return fence.map(f -> new Lease(deviceId, device, f));
    }

    private final class Lease implements Hold {
        private final long deviceId;
        private final String device;
        private final long fence;

        private Lease(long deviceId, String device, long fence) {
            this.deviceId = deviceId;
            this.device = device;
            this.fence = fence;
        }

        @Override
        public void mustHold() {
            if (leases.renew(deviceId, fence, SECONDS) != 1) {
                throw new LeaseLost(device, fence);
            }
        }

        @Override
        public void close() {
            try {
                transactions.executeWithoutResult(_ -> leases.release(deviceId, fence));
            } catch (RuntimeException away) {
                LOG.debug("The lease on {} runs out by itself", device, away);
            }
        }
    }
}
