package calmstep.service.fleet;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.jobs.Jobs;
import calmstep.service.problems.Refusal;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Reads a selection of devices, hundreds at once, but only a few at one site: its line is shared and often thin. The ones that do not answer are
 * kept as silent, with the reason.
 */
@Component
class ReadDevices {
    private static final Logger LOG = LoggerFactory.getLogger(ReadDevices.class);
    private static final int AT_ONCE = 256;
    private static final int AT_ONE_SITE = 8;

    private final Fleet fleet;
    private final Jobs jobs;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Semaphore places = new Semaphore(AT_ONCE);
    private final Map<String, Semaphore> placesAtSite = new ConcurrentHashMap<>();

    ReadDevices(Fleet fleet, Jobs jobs, Events events, TransactionTemplate transactions) {
        this.fleet = fleet;
        this.jobs = jobs;
        this.events = events;
        this.transactions = transactions;
    }

    /** @return the job's identifier */
    long start(List<String> names, String who) {
        List<String> selected = names.isEmpty() ? fleet.all().stream().map(k -> k.device().name()).toList() : names;
        selected.forEach(fleet::require);
        long id = jobs.start("read", selected.size(), who);
        Thread.ofVirtual().name("read-" + id).start(() -> readAll(id, selected));
        return id;
    }

    private void readAll(long job, List<String> names) {
        List<Thread> threads = names.stream().map(name -> Thread.ofVirtual().name("read-" + name).start(() -> readOne(job, name))).toList();
        try {
            for (Thread thread : threads) {
                thread.join();
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
        jobs.finish(job);
    }

    private void readOne(long job, String name) {
        boolean read = false;
        Semaphore atSite = placesAtSite.computeIfAbsent(fleet.siteOf(name), _ -> new Semaphore(AT_ONE_SITE));
        try {
            atSite.acquire();
            try {
                places.acquire();
                try {
                    if (jobs.isCancelled(job)) {
                        return;
                    }
                    read = read(name);
                } finally {
                    places.release();
                }
            } finally {
                atSite.release();
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException failed) {
            LOG.error("Reading {} failed for a reason of our own", name, failed);
        }
        jobs.count(job, read);
    }

    private boolean read(String name) {
        long id = fleet.require(name).id();
        try (Door door = fleet.door(name, Talk.NONE)) {
            Reading reading = door.session().read();
            transactions.executeWithoutResult(_ -> {
                fleet.rememberHostKey(name, door.seenHostKey());
                fleet.keep(id, reading);
                events.append(Optional.empty(), name, "fleet", Events.SERVICE, "%s was read: it runs %s.".formatted(name, reading.system()));
            });
            return true;
        } catch (DeviceTrouble trouble) {
            fleet.keepSilence(id, name, trouble.trouble());
        } catch (Refusal refusal) {
            fleet.keepSilence(id, name, new Trouble("a login that opens %s".formatted(name), String.valueOf(refusal.getMessage()), "Give the login a password."));
        }
        return false;
    }
}
