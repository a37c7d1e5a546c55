package calmstep.service.checks;

import calmstep.core.check.OwnCheck;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.step.Around;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Keeps checks, and tries them: by hand, and before and after a device is changed. */
@Service
public class OwnChecks implements Around.Checks {
    private static final int MOST = 50;

    private final CheckRows rows;
    private final Fleet fleet;
    private final Probe probe;
    private final Events events;
    private final Clock clock;

    OwnChecks(CheckRows rows, Fleet fleet, Probe probe, Events events, Clock clock) {
        this.rows = rows;
        this.fleet = fleet;
        this.probe = probe;
        this.events = events;
        this.clock = clock;
    }

    /** The checks of all devices that have some, as lines. */
    Map<String, List<String>> all() {
        return rows.findAllByOrderByDeviceAscOrdinalAsc().stream().collect(Collectors.groupingBy(row -> row.device, TreeMap::new, Collectors.mapping(row -> row.line, Collectors.toList())));
    }

    List<String> of(String device) {
        fleet.require(device);
        return lines(device);
    }

    private List<String> lines(String device) {
        return rows.findByDeviceOrderByOrdinal(device).stream().map(row -> row.line).toList();
    }

    /** These, and no others from now on. @throws Refusal with everything that is wrong */
    @Transactional
    public List<String> set(String device, List<String> lines, String who) {
        fleet.require(device);
        List<String> wrong = new ArrayList<>();
        List<OwnCheck> checks = new ArrayList<>();
        for (String line : lines) {
            try {
                checks.add(OwnCheck.parse(line));
            } catch (IllegalArgumentException unreadable) {
                wrong.add(String.valueOf(unreadable.getMessage()));
            }
        }
        if (checks.stream().map(OwnCheck::name).distinct().count() < checks.size()) {
            wrong.add("Two checks of %s have the same name; each needs its own.".formatted(device));
        }
        if (checks.size() > MOST) {
            wrong.add("Expected %d checks at most, saw %d.".formatted(MOST, checks.size()));
        }
        if (!wrong.isEmpty()) {
            throw Refusal.unusable("These are no checks. Nothing was changed.", wrong);
        }
        rows.deleteByDevice(device);
        rows.flush();
        for (OwnCheck check : checks) {
            CheckRow row = new CheckRow();
            row.device = device;
            row.ordinal = checks.indexOf(check);
            row.line = check.line();
            row.addedBy = who;
            row.addedAt = clock.instant();
            rows.save(row);
        }
        events.append(Optional.empty(), device, "fleet", who, checks.isEmpty() ? "%s has no checks of one's own any more.".formatted(device) : "%s is checked by: %s.".formatted(device, checks.stream().map(OwnCheck::name).collect(Collectors.joining(", "))));
        return lines(device);
    }

    /** Tries them now; what is counted is counted in the newest reading. */
    List<Fact> tried(String device) {
        return tried(of(device), fleet.require(device).reading());
    }

    @Override
    public List<Fact> run(String device, Reading reading) {
        return tried(lines(device), Optional.of(reading));
    }

    /** All at once: one that waits for its time limit keeps no other. */
    private List<Fact> tried(List<String> lines, Optional<Reading> reading) {
        if (lines.isEmpty()) {
            return List.of();
        }
        try (ExecutorService all = Executors.newVirtualThreadPerTaskExecutor()) {
            return lines.stream().map(OwnCheck::parse).map(check -> all.submit(() -> check.fact(probe.tried(check.expectation(), reading)))).toList().stream().map(OwnChecks::ended).toList();
        }
    }

    private static Fact ended(Future<Fact> trial) {
        try {
            return trial.get();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("told to stop while checks were tried", stop);
        } catch (ExecutionException fault) {
            throw new IllegalStateException("a check could not be tried", fault.getCause());
        }
    }
}
