package calmstep.service.fleet;

import calmstep.service.jobs.Jobs;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Does the same at many devices, hundreds at once, but only a few at one site: its line is shared
 * and often thin.
 */
@Component
public class Round {
    private static final Logger LOG = LoggerFactory.getLogger(Round.class);
    private static final int AT_ONCE = 256;
    private static final int AT_ONE_SITE = 8;

    /**
     * So many of them may be at the database at once: the rest of its connections is for people.
     */
    private static final int AT_THE_DATABASE = 6;

    private final Fleet fleet;
    private final Jobs jobs;
    private final Semaphore places = new Semaphore(AT_ONCE);
    private final Semaphore atTheDatabase = new Semaphore(AT_THE_DATABASE);
    private final Map<String, Semaphore> placesAtSite = new ConcurrentHashMap<>();

    Round(Fleet fleet, Jobs jobs) {
        this.fleet = fleet;
        this.jobs = jobs;
    }

    /** What is done at each device. */
    public interface Visit {
        /**
         * @return whether it went well; may take its time, and must not throw but for a fault of
         *     ours
         */
        boolean at(String device, long job);
    }

    /**
     * Begins; returns at once.
     *
     * @param kind of the job
     * @param names of devices; each must be known
     * @return the job's identifier
     */
    public long start(String kind, List<String> names, String who, Visit visit) {
        names.forEach(fleet::require);
        long id = jobs.start(kind, names.size(), who);
        Thread.ofVirtual()
                .name("%s-%s".formatted(kind, id))
                .start(() -> goRound(id, kind, names, visit));
        return id;
    }

    /**
     * Does what a visit does at the database, when it is its turn. Never holds a device's answer
     * up: nothing is asked meanwhile.
     */
    public <T> T atTheDatabase(Supplier<T> work) {
        atTheDatabase.acquireUninterruptibly();
        try {
            return work.get();
        } finally {
            atTheDatabase.release();
        }
    }

    private void goRound(long job, String kind, List<String> names, Visit visit) {
        List<Thread> threads =
                names.stream()
                        .map(
                                name ->
                                        Thread.ofVirtual()
                                                .name("%s-%s".formatted(kind, name))
                                                .start(() -> visitOne(job, name, visit)))
                        .toList();
        try {
            for (Thread thread : threads) {
                thread.join();
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
        jobs.finish(job);
    }

    private void visitOne(long job, String name, Visit visit) {
        boolean well = false;
        Semaphore atSite =
                placesAtSite.computeIfAbsent(
                        atTheDatabase(() -> fleet.siteOf(name)), _ -> new Semaphore(AT_ONE_SITE));
        try {
            atSite.acquire();
            try {
                places.acquire();
                try {
                    if (atTheDatabase(() -> jobs.isCancelled(job))) {
                        return;
                    }
                    well = visit.at(name, job);
                } finally {
                    places.release();
                }
            } finally {
                atSite.release();
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException failed) {
            LOG.error("The visit of {} failed for a reason of our own", name, failed);
            jobs.trouble(
                    job,
                    "%s: a fault of Calm Step itself; the service's log has more".formatted(name));
        }
        count(job, well);
    }

    private void count(long job, boolean well) {
        atTheDatabase(
                () -> {
                    jobs.count(job, well);
                    return well;
                });
    }
}
