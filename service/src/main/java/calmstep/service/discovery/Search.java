package calmstep.service.discovery;

import calmstep.dialect.Recognition.Shows;
import calmstep.dialect.SnmpAsk;
import calmstep.dialect.SnmpLogin;
import calmstep.dialect.SshGreeting;
import calmstep.service.discovery.Ranges.RangeView;
import calmstep.service.fleet.Logins;
import calmstep.service.jobs.Jobs;
import calmstep.service.problems.Refusal;
import java.io.IOException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicInteger;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Goes through a range, address after address, at its pace. */
@Component
class Search {
    private static final Logger LOG = LoggerFactory.getLogger(Search.class);
    private static final Duration ANSWERS_WITHIN = Duration.ofMillis(1500);
    private static final int AT_ONCE = 256;

    private final Ranges ranges;
    private final Candidates candidates;
    private final Logins logins;
    private final Jobs jobs;

    Search(Ranges ranges, Candidates candidates, Logins logins, Jobs jobs) {
        this.ranges = ranges;
        this.candidates = candidates;
        this.logins = logins;
        this.jobs = jobs;
    }

    /**
     * @return the job's identifier
     */
    long start(String name, String who) {
        RangeView range = ranges.require(name);
        Collection<String> addresses = range.space().addresses();
        Optional<SnmpAsk> snmp =
                Optional.of(range.snmpLogin())
                        .filter(login -> !login.isEmpty())
                        .map(logins::snmp)
                        .map(login -> asker(login));
        long job = jobs.start("search", addresses.size(), who);
        Thread.ofVirtual()
                .name("search-" + job)
                .start(() -> goThrough(job, range, addresses, snmp));
        return job;
    }

    private static SnmpAsk asker(SnmpLogin login) {
        try {
            return SnmpAsk.as(login, ANSWERS_WITHIN);
        } catch (IOException noSocket) {
            throw Refusal.conflict(
                    "SNMP cannot be asked from here: %s. Nothing was searched."
                            .formatted(noSocket.getMessage()));
        }
    }

    private void goThrough(
            long job, RangeView range, Collection<String> addresses, Optional<SnmpAsk> snmp) {
        AtomicInteger answered = new AtomicInteger();
        try {
            knock(job, range, addresses, snmp, answered);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } finally {
            snmp.ifPresent(Search::close);
            ranges.searched(range.name(), jobs.isCancelled(job), answered.get());
            jobs.finish(job);
        }
    }

    private void knock(
            long job,
            RangeView range,
            Collection<String> addresses,
            Optional<SnmpAsk> snmp,
            AtomicInteger answered)
            throws InterruptedException {
        Semaphore places = new Semaphore(AT_ONCE);
        List<Thread> threads = new ArrayList<>();
        long began = System.nanoTime();
        int begun = 0;
        for (String address : addresses) {
            places.acquire();
            waitUntil(began + begun++ * 1_000_000_000L / range.perSecond());
            if (jobs.isCancelled(job)) {
                break;
            }
            threads.add(
                    Thread.ofVirtual()
                            .name("knock-" + address)
                            .start(
                                    () -> {
                                        boolean found = false;
                                        try {
                                            found = look(range, address, snmp);
                                        } catch (RuntimeException failed) {
                                            LOG.error(
                                                    "Looking at {} failed for a reason of our own",
                                                    address,
                                                    failed);
                                        } finally {
                                            places.release();
                                        }
                                        answered.addAndGet(found ? 1 : 0);
                                        jobs.count(job, found);
                                    }));
        }
        for (Thread thread : threads) {
            thread.join();
        }
    }

    private static void waitUntil(long nanos) throws InterruptedException {
        long left = nanos - System.nanoTime();
        if (left > 0) {
            Thread.sleep(Duration.ofNanos(left));
        }
    }

    private boolean look(RangeView range, String address, Optional<SnmpAsk> snmp) {
        String greeting = SshGreeting.of(address, range.sshPort(), ANSWERS_WITHIN).orElse("");
        Shows shows =
                snmp.flatMap(ask -> who(ask, address, range.snmpPort()))
                        .map(s -> greeted(s, greeting))
                        .orElse(new Shows(greeting, "", "", "", "", "", "", ""));
        if (shows.nothing()) {
            return false;
        }
        candidates.saw(range.name(), address, shows);
        return true;
    }

    private static Shows greeted(Shows s, String greeting) {
        return new Shows(
                greeting,
                s.object(),
                s.hostName(),
                s.description(),
                s.model(),
                s.revision(),
                s.serial(),
                s.release());
    }

    private static Optional<Shows> who(SnmpAsk ask, String address, int port) {
        try {
            return ask.who(address, port);
        } catch (IOException unreachable) {
            // No route, or refused at once: as good as no answer.
            return Optional.empty();
        }
    }

    private static void close(SnmpAsk ask) {
        try {
            ask.close();
        } catch (IOException alreadyGone) {
            LOG.debug("The SNMP socket was closed already", alreadyGone);
        }
    }
}
