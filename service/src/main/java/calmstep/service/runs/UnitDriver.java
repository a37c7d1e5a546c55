package calmstep.service.runs;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.Backups;
import calmstep.core.device.Trouble;
import calmstep.core.step.Around;
import calmstep.core.step.Detour;
import calmstep.core.step.Feeder;
import calmstep.core.step.Hope;
import calmstep.core.step.Journal;
import calmstep.core.step.Next;
import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepRunner;
import calmstep.core.step.StepState;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.Settings;
import calmstep.service.backups.BackupStore;
import calmstep.service.checks.OwnChecks;
import calmstep.service.database.DriversShare;
import calmstep.service.fleet.DeviceDoors;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.notices.AlarmDesk;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionException;

/** Takes one unit further: one step, and those that follow it at once. */
@Component
class UnitDriver {
    private static final Logger LOG = LoggerFactory.getLogger(UnitDriver.class);
    private static final Set<StepName> ROLLS =
            EnumSet.of(StepName.RESTART_STANDBYS, StepName.RESTART);
    private static final Duration UNTIL_A_WORD = Duration.ofHours(1);
    private static final Duration LEASE_IS_TAKEN = Duration.ofSeconds(1);
    private static final Duration BESIDE_OTHERS = Duration.ofSeconds(2);
    private static final Duration AGAIN = Duration.ofSeconds(2);
    private static final Duration AT_LEAST = Duration.ofMillis(500);

    /**
     * In which one that only looks, and has to look again soon, does not ask anew how its unit
     * stands; a person's word to hold it is heard behind that.
     */
    private static final Duration STAYS_FOR = Duration.ofSeconds(8);

    /** More than a hop has. */
    private static final int IN_ONE_VISIT = 24;

    private final UnitLedger ledger;
    private final UnitTurns turns;
    private final TalkLines lines;
    private final OneAnswer answers;
    private final UnitPlans plans;
    private final LeasedDevices leases;
    private final Casts casts;
    private final Fleet fleet;
    private final DeviceDoors ways;
    private final BackupStore backups;
    private final Shelf shelf;
    private final Catalogues catalogues;
    private final DetourImages images;
    private final CutOff cutOff;
    private final StepEvidence evidence;
    private final ConsoleWatches consoles;
    private final AlarmDesk alarms;
    private final OwnChecks checks;
    private final Json json;
    private final Settings settings;
    private final Clock clock;

    UnitDriver(
            UnitLedger ledger,
            UnitTurns turns,
            TalkLines lines,
            OneAnswer answers,
            UnitPlans plans,
            LeasedDevices leases,
            Casts casts,
            Fleet fleet,
            DeviceDoors ways,
            BackupStore backups,
            Shelf shelf,
            Catalogues catalogues,
            DetourImages images,
            CutOff cutOff,
            StepEvidence evidence,
            ConsoleWatches consoles,
            AlarmDesk alarms,
            OwnChecks checks,
            Json json,
            Settings settings,
            Clock clock) {
        this.ledger = ledger;
        this.turns = turns;
        this.lines = lines;
        this.answers = answers;
        this.plans = plans;
        this.leases = leases;
        this.casts = casts;
        this.fleet = fleet;
        this.ways = ways;
        this.backups = backups;
        this.shelf = shelf;
        this.catalogues = catalogues;
        this.images = images;
        this.cutOff = cutOff;
        this.evidence = evidence;
        this.consoles = consoles;
        this.alarms = alarms;
        this.checks = checks;
        this.json = json;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * @return when to come again; empty when the unit is over
     */
    Optional<Instant> drive(long unitId) {
        return DriversShare.within(() -> visit(unitId));
    }

    private Optional<Instant> visit(long unitId) {
        try (Visit visit = new Visit()) {
            for (int steps = 1; ; steps++) {
                Standing standing = ledger.standing(unitId);
                Optional<Instant> next = drive(unitId, standing, visit);
                boolean atOnce = next.isPresent() && !next.get().isAfter(clock.instant());
                if (!atOnce || standing.run().rehearsal || steps == IN_ONE_VISIT) {
                    return next;
                }
            }
        }
    }

    private Optional<Instant> drive(long unitId, Standing standing, Visit visit) {
        if (standing.isOver()) {
            consoles.end(unitId);
            return Optional.empty();
        }
        Counterpart counterpart = counterpart(standing);
        UnitPlan plan = plans.of(standing.unit());
        List<StepRecord> records = standing.steps().stream().map(StepRow::record).toList();
        UnitMachine.Leave leave =
                new UnitMachine.Leave(
                        standing.unit().gateOpen,
                        json.read(standing.unit().turns, Runs.TURNS),
                        standing.unit().begun,
                        standing.isDoubtful());
        Next due = UnitMachine.next(plan, records, leave, counterpart.clock().instant());
        if (standing.isHeld() && !goesOnWhileHeld(due, standing, plan)) {
            return Optional.of(clock.instant().plus(UNTIL_A_WORD));
        }
        return switch (due) {
            case Next.Settled() -> {
                ledger.settle(unitId);
                yield Optional.empty();
            }
            case Next.Stuck _, Next.Doubtful _ -> after(counterpart, UNTIL_A_WORD);
            case Next.AtGate(StepRecord step, String question) -> {
                boolean opened =
                        turns.askAtGate(unitId, question + more(standing, plan, step.hop()));
                yield after(counterpart, opened ? Duration.ZERO : UNTIL_A_WORD);
            }
            case Next.NotYet(Turn turn) -> {
                turns.waits(unitId, "its turn is at %s".formatted(Turn.words(turn.begins())));
                yield Optional.of(turn.begins());
            }
            case Next.Missed(Turn turn) -> {
                turns.missed(unitId, turn);
                yield after(counterpart, UNTIL_A_WORD);
            }
            case Next.Begin(StepRecord step, int turn) ->
                    turns.begin(unitId, turn, counterpart.clock().instant())
                            ? carry(standing, plan, step, counterpart, visit)
                            : after(counterpart, BESIDE_OTHERS);
            case Next.Carry(StepRecord step) -> carry(standing, plan, step, counterpart, visit);
        };
    }

    /** Who is cut off, and whether something odd would stop the next restart; asked once. */
    private String more(Standing standing, UnitPlan plan, int hop) {
        if (standing.unit().gateQuestion != null) {
            return "";
        }
        String goesOn =
                standing.run().goesOnWhenOdd && hop < plan.hops().size()
                        ? " What is odd behind one restart does not stop the next: its plan says"
                                + " so."
                        : "";
        return cutOff.words(standing.unit().name, plan.hop(hop)).map(" "::concat).orElse("")
                + goesOn;
    }

    /** A member that was ordered to restart is waited for; no other one is. */
    private static boolean goesOnWhileHeld(Next due, Standing standing, UnitPlan plan) {
        return due instanceof Next.Carry(StepRecord step)
                && (step.name().goesOnWhileHeld()
                        || (ROLLS.contains(step.name())
                                && plan.hop(step.hop()).rolls()
                                && standing.row(step).intent().isPresent()));
    }

    private static Duration longer(Duration one, Duration other) {
        return one.compareTo(other) > 0 ? one : other;
    }

    private static Optional<Instant> after(Counterpart counterpart, Duration pause) {
        return Optional.of(counterpart.clock().instant().plus(pause));
    }

    private Optional<Instant> carry(
            Standing standing,
            UnitPlan plan,
            StepRecord step,
            Counterpart counterpart,
            Visit visit) {
        UnitRow unit = standing.unit();
        DriversShare.isAt(standing.row(step).ordinal);
        if (visit.take(counterpart, unit.name).isEmpty()) {
            return after(counterpart, LEASE_IS_TAKEN);
        }
        Optional<String> base = plan.supply().fedBy().filter(_ -> step.name() == StepName.STAGE);
        if (base.isEmpty()) {
            return carry(standing, plan, step, counterpart, visit, Optional.empty());
        }
        Optional<Hold> held = counterpart.take(base.get());
        if (held.isEmpty()) {
            return after(counterpart, LEASE_IS_TAKEN);
        }
        try (Hold _ = held.get();
                Door door =
                        counterpart.door(
                                base.get(),
                                lines.of(unit, standing.row(step), counterpart.clock()))) {
            return carry(
                    standing,
                    plan,
                    step,
                    counterpart,
                    visit,
                    Optional.of(new Feeder(base.get(), counterpart.address(base.get()), door)));
        }
    }

    private Optional<Instant> carry(
            Standing standing,
            UnitPlan plan,
            StepRecord step,
            Counterpart counterpart,
            Visit visit,
            Optional<Feeder> feeder) {
        UnitRow unit = standing.unit();
        StepRow row = standing.row(step);
        Hold lease = visit.take(counterpart, unit.name).orElseThrow();
        boolean goesOn = false;
        try {
            Door door =
                    visit.door(
                            counterpart,
                            unit.name,
                            answers.with(lines.of(unit, row, counterpart.clock()), unit, row));
            Journal journal = ledger.journal(standing, row, lease, counterpart.clock());
            consoles.before(standing, plan, step, door, counterpart);
            StepOutcome outcome = lookOn(standing, plan, step, counterpart, door, feeder, journal);
            StepOutcome written = ledger.finish(standing, row, outcome, lease, counterpart.clock());
            consoles.after(unit, step, written);
            goesOn =
                    written instanceof StepOutcome.Done || written instanceof StepOutcome.NotNeeded;
            return next(written, counterpart, step);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            return after(counterpart, AT_LEAST);
        } catch (DataAccessException | TransactionException | LeaseLost notOurs) {
            LOG.warn(
                    "{} of {} is interrupted and will be looked at again: {}",
                    step.name(),
                    unit.name,
                    notOurs.getMessage());
            throw notOurs;
        } catch (RuntimeException fault) {
            LOG.error("{} of {} failed for a reason of our own", step.name(), unit.name, fault);
            return fault(unit, row, step, fault, counterpart);
        } finally {
            if (!goesOn) {
                visit.leave();
            }
        }
    }

    private StepOutcome lookOn(
            Standing standing,
            UnitPlan plan,
            StepRecord step,
            Counterpart counterpart,
            Door door,
            Optional<Feeder> feeder,
            Journal journal)
            throws InterruptedException {
        StepRunner runner = new StepRunner(counterpart.clock());
        Optional<Instant> stays = Optional.empty();
        while (true) {
            StepOutcome outcome =
                    runner.carry(
                            step.name(),
                            scene(standing, plan, step, counterpart, door, feeder),
                            journal);
            stays = stays.or(() -> Optional.of(clock.instant().plus(STAYS_FOR)));
            if (!step.name().onlyLooks()
                    || standing.run().rehearsal
                    || !(outcome instanceof StepOutcome.Waiting(String _, Duration again))
                    || !clock.instant().plus(again).isBefore(stays.get())) {
                return outcome;
            }
            door.close();
            Thread.sleep(again);
        }
    }

    private static Optional<Instant> next(
            StepOutcome written, Counterpart counterpart, StepRecord step) {
        return switch (written) {
            case StepOutcome.Waiting(String _, Duration again) -> after(counterpart, again);
            case StepOutcome.Failed failed ->
                    after(
                            counterpart,
                            untilTriedAgain(failed.hope(), step.attempts(), counterpart));
            case StepOutcome.Done _, StepOutcome.NotNeeded _ -> after(counterpart, Duration.ZERO);
        };
    }

    private Optional<Instant> fault(
            UnitRow unit,
            StepRow row,
            StepRecord step,
            RuntimeException fault,
            Counterpart counterpart) {
        ledger.fault(
                unit.id(),
                row.id(),
                new Trouble(
                        "%s is carried out".formatted(step.name()),
                        "a fault of Calm Step itself: %s".formatted(fault),
                        "Nothing more is done to the device. The service's log has more; try"
                                + " the step again when the cause is gone."));
        return after(counterpart, UNTIL_A_WORD);
    }

    private static Duration untilTriedAgain(Hope hope, int attempts, Counterpart counterpart) {
        return switch (hope) {
            case NONE -> Duration.ZERO;
            case SOON -> AGAIN;
            case COPIED_AGAIN, WHEN_IT_IS_BACK ->
                    longer(hope.pause(attempts + 1).dividedBy(counterpart.pace()), AT_LEAST);
        };
    }

    private Counterpart counterpart(Standing standing) {
        return standing.run().rehearsal
                ? casts.require(standing.run()).of(standing.unit())
                : new Counterpart() {
                    private final UnitRow unit = standing.unit();

                    @Override
                    public Optional<Hold> take(String device) {
                        return leases.take(
                                device.equals(unit.name)
                                        ? unit.deviceId
                                        : fleet.require(device).id(),
                                unit.id(),
                                device);
                    }

                    @Override
                    public Door door(String device, Talk talk) {
                        return ways.door(device, talk);
                    }

                    @Override
                    public String address(String device) {
                        return fleet.require(device).device().address();
                    }

                    @Override
                    public Backups backups() {
                        return backups.of(unit.runId, unit.id(), unit.deviceId);
                    }

                    @Override
                    public Clock clock() {
                        return clock;
                    }

                    @Override
                    public int pace() {
                        return settings.pace();
                    }
                };
    }

    private Scene scene(
            Standing standing,
            UnitPlan plan,
            StepRecord step,
            Counterpart counterpart,
            Door door,
            Optional<Feeder> feeder) {
        UnitRow unit = standing.unit();
        boolean backwards =
                Detour.isBackwards(standing.steps().stream().map(StepRow::record).toList(), step);
        return new Scene(
                plan,
                backwards ? images.back(unit, standing.steps(), step.hop()) : plan.hop(step.hop()),
                step.detour(),
                door,
                feeder,
                counterpart.backups(),
                shelf,
                step.counts(standing.row(step).intent()),
                standing.find(step.hop(), plan.hop(step.hop()).restartBefore(step.name()))
                        .flatMap(StepRow::intent),
                standing.drained(step.hop()),
                evidence.before(standing.steps(), step.hop()),
                evidence.first(standing.steps()),
                loads(standing.row(step)),
                counterpart.clock().instant(),
                counterpart.pace(),
                around(standing, step),
                (before, after) -> fleet.dialectOf(unit.name).compare(before, after));
    }

    private Around around(Standing standing, StepRecord step) {
        boolean plays = standing.run().rehearsal;
        boolean tells =
                step.name().isForAlarms() || (step.name().disturbs() && isQuieted(standing, step));
        return new Around(
                plays || !tells
                        ? Optional.empty()
                        : alarms.of(standing.unit().id(), standing.unit().name),
                plays ? Around.NOTHING.checks() : checks,
                ledger.limits(standing.run()).watch().each(),
                standing.isHeld(),
                sentence -> ledger.tell(standing.unit(), sentence),
                () -> consoles.complaints(standing, step));
    }

    /** Where a person left the step out, nobody is quieted behind their back. */
    private static boolean isQuieted(Standing standing, StepRecord step) {
        return standing.find(step.hop(), StepName.QUIET)
                .filter(row -> row.stepState() == StepState.DONE)
                .isPresent();
    }

    private Optional<FirmwareImage> loads(StepRow step) {
        return Optional.ofNullable(step.loads)
                .flatMap(catalogues::findImage)
                .map(found -> found.published().image());
    }
}
