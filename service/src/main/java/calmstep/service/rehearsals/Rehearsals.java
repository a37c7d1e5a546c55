package calmstep.service.rehearsals;

import static calmstep.core.known.Known.known;

import calmstep.core.fleet.Part;
import calmstep.core.forecast.Times;
import calmstep.core.plan.Timetable;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.practice.Fault;
import calmstep.service.Settings;
import calmstep.service.durations.LearntTimes;
import calmstep.service.fleet.Fleet;
import calmstep.service.jobs.Jobs;
import calmstep.service.json.Json;
import calmstep.service.plans.PlannedWork;
import calmstep.service.problems.Refusal;
import calmstep.service.rehearsals.Outcome.NotPlayed;
import calmstep.service.rehearsals.PlayedTimes.Act;
import calmstep.service.rehearsals.PlayedTimes.Planned;
import calmstep.service.runs.Rehearsing;
import calmstep.service.runs.RunViews;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Semaphore;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.util.FileSystemUtils;
import tools.jackson.core.type.TypeReference;

/** Rehearses plans and keeps what came out. */
@Component
class Rehearsals {
    static final int USUAL_PACE = 30;
    private static final int FASTEST = 600;
    private static final Logger LOG = LoggerFactory.getLogger(Rehearsals.class);
    private static final TypeReference<List<AskedFault>> ASKED = new TypeReference<>() {};

    private final RehearsalRows rows;
    private final PlannedWork plans;
    private final Fleet fleet;
    private final StandIns standIns;
    private final Rehearsing rehearsing;
    private final RunViews runs;
    private final LearntTimes learnt;
    private final Jobs jobs;
    private final Json json;
    private final TransactionTemplate transactions;
    private final Settings settings;
    private final Clock clock;

    /** Stand-ins share their addresses, so a process plays one rehearsal at a time. */
    private final Semaphore house = new Semaphore(1);

    Rehearsals(
            RehearsalRows rows,
            PlannedWork plans,
            Fleet fleet,
            StandIns standIns,
            Rehearsing rehearsing,
            RunViews runs,
            LearntTimes learnt,
            Jobs jobs,
            Json json,
            TransactionTemplate transactions,
            Settings settings,
            Clock clock) {
        this.rows = rows;
        this.plans = plans;
        this.fleet = fleet;
        this.standIns = standIns;
        this.rehearsing = rehearsing;
        this.runs = runs;
        this.learnt = learnt;
        this.jobs = jobs;
        this.json = json;
        this.transactions = transactions;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * A plan as it will be rehearsed: the units that have a stand-in, and the others with the
     * reason.
     */
    private record Piece(
            PlannedWork.Version version,
            Instant begins,
            PlannedWork.ToRehearse.Played plan,
            List<UnitPlan> units,
            List<NotPlayed> notPlayed) {}

    /**
     * Begins a rehearsal; its job tells how far it is.
     *
     * @param pace how much faster than by day
     */
    RehearsalView start(String plan, int pace, List<AskedFault> faults, String who) {
        if (pace < 1 || pace > FASTEST) {
            throw Refusal.wrong("Expected a pace of 1 to %s, saw %s.".formatted(FASTEST, pace));
        }
        Piece piece = piece(plan);
        faults.forEach(asked -> mustBeKnown(asked, piece));
        if (!house.tryAcquire()) {
            throw Refusal.conflict(
                    "Another rehearsal is being played; expected none. Wait for it, or end it.");
        }
        try {
            RehearsalRow row =
                    transactions.execute(
                            _ -> {
                                RehearsalRow fresh = new RehearsalRow();
                                fresh.planId = piece.version().planId();
                                fresh.number =
                                        rows.findByPlanIdOrderByNumberDesc(fresh.planId).stream()
                                                .findFirst()
                                                .map(last -> last.number + 1)
                                                .orElse(1);
                                fresh.planSha256 = piece.version().sha256();
                                fresh.pace = pace;
                                fresh.asked = json.write(faults);
                                fresh.startedBy = who;
                                fresh.startedAt = clock.instant();
                                fresh.jobId = jobs.start("rehearsal", piece.units().size(), who);
                                return rows.saveAndFlush(fresh);
                            });
            Thread.ofVirtual()
                    .name("rehearsal-" + row.jobId)
                    .start(() -> play(row, plan, piece, faults));
            return find(plan, row.number);
        } catch (RuntimeException failed) {
            house.release();
            throw failed;
        }
    }

    private Piece piece(String plan) {
        PlannedWork.ToRehearse asked = plans.toRehearse(plan);
        Map<String, NotPlayed> without = new LinkedHashMap<>();
        asked.units()
                .forEach(
                        unit ->
                                standIns.whyNot(unit)
                                        .ifPresent(why -> without.put(unit.device(), why)));
        List<UnitPlan> units =
                asked.units().stream().filter(unit -> !without.containsKey(unit.device())).toList();
        if (units.isEmpty()) {
            throw Refusal.unusable(
                    "Nothing of the plan \"%s\" can be rehearsed: %s."
                            .formatted(
                                    plan,
                                    without.isEmpty()
                                            ? "it changes nothing"
                                            : "no unit of it has a stand-in"),
                    without.values().stream()
                            .map(w -> "%s: %s".formatted(w.device(), w.why()))
                            .toList());
        }
        Set<String> played = units.stream().map(UnitPlan::device).collect(Collectors.toSet());
        List<String> missing =
                plans.missing(plan).stream()
                        .filter(image -> image.devices().stream().anyMatch(played::contains))
                        .map(PlannedWork.MissingImage::fileName)
                        .toList();
        if (!missing.isEmpty()) {
            throw Refusal.unusable(
                    "The stand-ins pull real images from the shelf, and %s of them are not there. Fetch them: calmstep shelf fetch --plan %s"
                            .formatted(missing.size(), plan),
                    missing);
        }
        return new Piece(
                plans.version(plan),
                asked.now(),
                asked.played().orElseThrow(),
                units,
                List.copyOf(without.values()));
    }

    private void mustBeKnown(AskedFault asked, Piece piece) {
        Fault fault;
        try {
            fault = Fault.parse(asked.fault());
        } catch (IllegalArgumentException unknown) {
            throw Refusal.wrong(
                    "A stand-in does not know the fault \"%s\"; expected one of %s."
                            .formatted(
                                    asked.fault(),
                                    Arrays.stream(Fault.values())
                                            .map(Fault::toString)
                                            .collect(Collectors.joining(", "))));
        }
        if (piece.units().stream().noneMatch(unit -> asked.means(unit.device(), unit.site()))) {
            throw Refusal.wrong(
                    "\"%s\" means no unit that is played; expected a device of the plan, or site:NAME."
                            .formatted(asked.where()));
        }
        if (fault.isOfMembers()
                && piece.units().stream()
                        .noneMatch(
                                unit ->
                                        asked.means(unit.device(), unit.site())
                                                && fleet
                                                                .require(unit.device())
                                                                .device()
                                                                .parts()
                                                                .stream()
                                                                .filter(
                                                                        part ->
                                                                                part.kind()
                                                                                                == Part
                                                                                                        .Kind
                                                                                                        .MEMBER
                                                                                        || part
                                                                                                        .kind()
                                                                                                == Part
                                                                                                        .Kind
                                                                                                        .PARTNER)
                                                                .count()
                                                        > 1)) {
            throw Refusal.wrong(
                    "\"%s\" has no unit of several members, so \"%s\" means nothing there."
                            .formatted(asked.where(), asked.fault()));
        }
    }

    /** How a rehearsal ended. */
    private record Ended(String state, Outcome outcome) {}

    /**
     * Its end is told when everything of it is gone: whoever sees it may begin the next one at
     * once.
     */
    private void play(RehearsalRow row, String plan, Piece piece, List<AskedFault> faults) {
        Path folder = settings.data().resolve("rehearsals").resolve(String.valueOf(row.jobId));
        Ended ended =
                new Ended(
                        "broken",
                        Outcome.broken(
                                "%s~rehearsal-%s".formatted(plan, row.number),
                                "It was cut off.",
                                piece.notPlayed()));
        try {
            ended = played(row, plan, piece, faults, folder);
        } finally {
            FileSystemUtils.deleteRecursively(folder.toFile());
            house.release();
            end(row, ended.state(), ended.outcome());
        }
    }

    private Ended played(
            RehearsalRow row, String plan, Piece piece, List<AskedFault> faults, Path folder) {
        String run = "%s~rehearsal-%s".formatted(plan, row.number);
        try {
            sweep(Objects.requireNonNull(folder.getParent()));
            Files.createDirectories(folder);
            Times times = learnt.times();
            jobs.tell(row.jobId, "stand-ins are put up");
            try (StandIns.Up up = standIns.of(piece.units(), faults, times, row.pace, folder)) {
                Following following = new Following(row.jobId);
                rehearsing.play(
                        new Rehearsing.Play(
                                row.planId, run, up.units(), rules(piece), piece.begins()),
                        up.standIns(),
                        following,
                        row.startedBy);
                PlayedTimes played =
                        new PlayedTimes(up.units(), times, unit -> fleet.require(unit).device());
                return new Ended(
                        following.hasLeft() ? "cancelled" : "finished",
                        played.outcome(run, piece.notPlayed(), acts(piece), runs.find(run)));
            }
        } catch (Refusal refused) {
            return new Ended(
                    "broken",
                    Outcome.broken(run, String.valueOf(refused.getMessage()), piece.notPlayed()));
        } catch (IOException | RuntimeException failed) {
            LOG.error("The rehearsal {} is broken", run, failed);
            return new Ended(
                    "broken",
                    Outcome.broken(
                            run,
                            "It could not be played: %s. The service's log has more; no device was touched."
                                    .formatted(failed),
                            piece.notPlayed()));
        }
    }

    /** What rehearsals left behind whose process died with them. */
    private void sweep(Path rehearsals) throws IOException {
        if (Files.isDirectory(rehearsals)) {
            try (Stream<Path> left = Files.list(rehearsals)) {
                left.filter(
                                one ->
                                        !jobs.require(Long.parseLong(one.getFileName().toString()))
                                                .state()
                                                .equals("under-way"))
                        .forEach(one -> FileSystemUtils.deleteRecursively(one.toFile()));
            }
        }
    }

    private static List<Act> acts(Piece piece) {
        Set<String> played =
                piece.units().stream().map(UnitPlan::device).collect(Collectors.toSet());
        return piece.plan().nights().nights().stream()
                .map(
                        night ->
                                new Act(
                                        "The night of " + night.night(),
                                        night.units().stream()
                                                .filter(part -> played.contains(part.unit()))
                                                .map(
                                                        part -> {
                                                            Turn turn =
                                                                    known(
                                                                                    piece.plan()
                                                                                            .timetable()
                                                                                            .units(),
                                                                                    part.unit())
                                                                            .turns()
                                                                            .get(part.part() - 1);
                                                            Duration shift =
                                                                    Duration.between(
                                                                            part.closes(),
                                                                            turn.closes());
                                                            return new Planned(
                                                                    part.unit(),
                                                                    turn,
                                                                    part.begins().plus(shift),
                                                                    part.ends().plus(shift));
                                                        })
                                                .toList()))
                .filter(act -> !act.parts().isEmpty())
                .toList();
    }

    private static Timetable rules(Piece piece) {
        return new Timetable(
                piece.plan().timetable().limits(),
                piece.units().stream()
                        .collect(
                                Collectors.toMap(
                                        UnitPlan::device,
                                        unit ->
                                                piece.plan()
                                                        .timetable()
                                                        .units()
                                                        .get(unit.device()))));
    }

    private void end(RehearsalRow row, String state, Outcome outcome) {
        transactions.executeWithoutResult(
                _ -> {
                    RehearsalRow current =
                            rows.findById(Optional.ofNullable(row.id).orElseThrow()).orElseThrow();
                    current.state = state;
                    current.outcome = json.write(outcome);
                    current.finishedAt = clock.instant();
                    outcome.units()
                            .forEach(unit -> jobs.count(row.jobId, unit.state().equals("settled")));
                    if (!outcome.broken().isEmpty()) {
                        jobs.trouble(row.jobId, outcome.broken());
                    }
                    jobs.finish(row.jobId);
                });
    }

    /** Keeps the job alive and looks whether somebody ended it. */
    private final class Following implements Rehearsing.Audience {
        private static final Duration TELLS_EVERY = Duration.ofSeconds(2);

        private final long job;
        private Instant told = Instant.EPOCH;
        private String doing = "";
        private boolean left;

        Following(long job) {
            this.job = job;
        }

        @Override
        public synchronized boolean hasLeft() {
            if (!left && Duration.between(told, clock.instant()).compareTo(TELLS_EVERY) > 0) {
                told = clock.instant();
                jobs.tell(job, doing);
                left = jobs.isCancelled(job);
            }
            return left;
        }

        @Override
        public synchronized void isAt(Instant moment) {
            doing =
                    "the rehearsal's clock shows %s"
                            .formatted(moment.truncatedTo(ChronoUnit.MINUTES));
        }
    }

    List<RehearsalView> of(String plan) {
        PlannedWork.Version now = plans.version(plan);
        return rows.findByPlanIdOrderByNumberDesc(now.planId()).stream()
                .map(row -> view(row, plan, now))
                .toList();
    }

    RehearsalView find(String plan, int number) {
        PlannedWork.Version now = plans.version(plan);
        return view(
                rows.findByPlanIdAndNumber(now.planId(), number)
                        .orElseThrow(
                                () ->
                                        Refusal.notFound(
                                                "rehearsal of " + plan, String.valueOf(number))),
                plan,
                now);
    }

    private RehearsalView view(RehearsalRow row, String plan, PlannedWork.Version now) {
        boolean lost =
                row.state.equals("under-way") && jobs.require(row.jobId).state().equals("lost");
        return new RehearsalView(
                row.number,
                plan,
                lost ? "lost" : row.state,
                row.jobId,
                row.pace,
                json.read(row.asked, ASKED),
                row.startedBy,
                row.startedAt,
                row.finishedAt,
                !row.planSha256.equals(now.sha256()),
                row.outcome.isEmpty() ? null : json.read(row.outcome, Outcome.class));
    }
}
