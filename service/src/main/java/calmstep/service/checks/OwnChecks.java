package calmstep.service.checks;

import calmstep.core.check.OwnCheck;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.step.Around;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.fleet.DeviceDoors;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.net.URI;
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
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Keeps checks, and tries them: by hand, and before and after a device is changed. */
@Service
public class OwnChecks implements Around.Checks {
    private static final int MOST = 50;

    private final CheckRows rows;
    private final Fleet fleet;
    private final DeviceDoors ways;
    private final Probe probe;
    private final Events events;
    private final Clock clock;

    OwnChecks(
            CheckRows rows,
            Fleet fleet,
            DeviceDoors ways,
            Probe probe,
            Events events,
            Clock clock) {
        this.rows = rows;
        this.fleet = fleet;
        this.ways = ways;
        this.probe = probe;
        this.events = events;
        this.clock = clock;
    }

    /** The checks of all devices that have some, as lines. */
    Map<String, List<String>> all() {
        return rows.findAllByOrderByDeviceAscOrdinalAsc().stream()
                .collect(
                        Collectors.groupingBy(
                                row -> row.device,
                                TreeMap::new,
                                Collectors.mapping(row -> row.line, Collectors.toList())));
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
        if (checks.stream().anyMatch(OwnChecks::isAskedOfTheDevice)
                && !fleet.dialectOf(device).canBeAskedWhatItReaches()) {
            wrong.add(
                    "%s cannot be asked whether it reaches something: its family has no such command. Check the address from here instead, with ping, port or page."
                            .formatted(device));
        }
        if (checks.stream().map(OwnCheck::name).distinct().count() < checks.size()) {
            wrong.add("Two checks of %s have the same name; each needs its own.".formatted(device));
        }
        if (checks.size() > MOST) {
            wrong.add("Expected %s checks at most, saw %s.".formatted(MOST, checks.size()));
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
        events.append(
                Optional.empty(),
                device,
                "fleet",
                who,
                checks.isEmpty()
                        ? "%s has no checks of one's own any more.".formatted(device)
                        : "%s is checked by: %s."
                                .formatted(
                                        device,
                                        checks.stream()
                                                .map(OwnCheck::name)
                                                .collect(Collectors.joining(", "))));
        return lines(device);
    }

    /** Tries them now; what is counted is counted in the newest reading. */
    List<Fact> tried(String device) {
        List<OwnCheck> checks = of(device).stream().map(OwnCheck::parse).toList();
        Optional<Reading> reading = fleet.require(device).reading();
        if (checks.stream().noneMatch(OwnChecks::isAskedOfTheDevice)) {
            return tried(checks, reading, Optional.empty());
        }
        try (Door door = ways.door(device, Talk.NONE)) {
            return tried(checks, reading, Optional.of(door.session()));
        } catch (DeviceTrouble trouble) {
            throw Refusal.conflict(trouble.trouble().sentence());
        }
    }

    @Override
    public List<Fact> run(String device, Reading reading, DeviceSession session) {
        return tried(
                lines(device).stream().map(OwnCheck::parse).toList(),
                Optional.of(reading),
                Optional.of(session));
    }

    private static boolean isAskedOfTheDevice(OwnCheck check) {
        return check.expectation() instanceof OwnCheck.Expectation.Reaches;
    }

    /**
     * All at once, so that one that waits for its time limit keeps no other; but a device is asked
     * one thing after the other.
     */
    private List<Fact> tried(
            List<OwnCheck> checks, Optional<Reading> reading, Optional<DeviceSession> session) {
        if (checks.isEmpty()) {
            return List.of();
        }
        try (ExecutorService all = Executors.newVirtualThreadPerTaskExecutor()) {
            List<Supplier<Fact>> trials = new ArrayList<>();
            for (OwnCheck check : checks) {
                begin(check, trials, session, all, reading);
            }
            return trials.stream().map(Supplier::get).toList();
        }
    }

    private static String reached(DeviceSession session, URI address) {
        return session.whyNotReached(address).map(_ -> "not reached").orElse(OwnCheck.OK);
    }

    private void begin(
            OwnCheck check,
            List<Supplier<Fact>> trials,
            Optional<DeviceSession> session,
            ExecutorService all,
            Optional<Reading> reading) {
        if (check.expectation() instanceof OwnCheck.Expectation.Reaches(URI address)) {
            trials.add(() -> check.fact(reached(session.orElseThrow(), address)));
        } else {
            Future<Fact> trial =
                    all.submit(() -> check.fact(probe.tried(check.expectation(), reading)));
            trials.add(() -> ended(trial));
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
