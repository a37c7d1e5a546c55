package calmstep.service.runs;

import calmstep.core.device.Trouble;
import calmstep.core.step.Evidence;
import calmstep.core.step.Hope;
import calmstep.core.step.Intent;
import calmstep.core.step.Journal;
import calmstep.core.step.StepName;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitState;
import calmstep.core.window.Limits;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Writes down what happens to a unit, in short transactions, each guarded by the driver's lease.
 */
@Component
class UnitLedger {
    private final RunRows runs;
    private final UnitRows units;
    private final StepRows steps;
    private final TalkLines lines;
    private final UnitPlans plans;
    private final StepEvidence kept;
    private final Runs use;
    private final Fleet fleet;
    private final Doubts doubts;
    private final Events events;
    private final Json json;
    private final TransactionTemplate transactions;
    private final TransactionTemplate looks;

    UnitLedger(
            RunRows runs,
            UnitRows units,
            StepRows steps,
            TalkLines lines,
            UnitPlans plans,
            StepEvidence kept,
            Runs use,
            Fleet fleet,
            Doubts doubts,
            Events events,
            Json json,
            TransactionTemplate transactions,
            PlatformTransactionManager manager) {
        this.runs = runs;
        this.units = units;
        this.steps = steps;
        this.lines = lines;
        this.plans = plans;
        this.kept = kept;
        this.use = use;
        this.fleet = fleet;
        this.doubts = doubts;
        this.events = events;
        this.json = json;
        this.transactions = transactions;
        this.looks = new TransactionTemplate(manager);
        this.looks.setReadOnly(true);
    }

    Standing standing(long unitId) {
        return looks.execute(
                _ -> {
                    UnitRow unit = units.findById(unitId).orElseThrow();
                    return new Standing(
                            runs.findById(unit.runId).orElseThrow(),
                            unit,
                            steps.findByUnitIdOrderByOrdinal(unitId));
                });
    }

    Limits limits(RunRow run) {
        return run.limits.isEmpty() ? Limits.USUAL : json.read(run.limits, Limits.class);
    }

    static boolean endsPart(StepRow step) {
        return step.name.equals(StepName.PROVE.toString());
    }

    /**
     * Behind the proof of a part's last hop others may begin. A word is for one window: before the
     * next one a person is asked again.
     */
    private void endPart(UnitRow unit, StepRow step) {
        List<Turn> turns = json.read(unit.turns, Runs.TURNS);
        if (unit.inWork && endsPart(step) && turns.get(unit.begun - 1).lastHop() == step.hop) {
            unit.inWork = false;
            if (unit.begun < turns.size()
                    && !turns.get(unit.begun).closes().equals(turns.get(unit.begun - 1).closes())
                    && unit.asks) {
                unit.gateOpen = false;
                unit.gateQuestion = null;
                unit.gateAskedAt = null;
            }
        }
    }

    void settle(long unitId) {
        transactions.executeWithoutResult(
                _ -> use.finishWhenOver(changeState(lock(unitId), stateOf(unitId)).runId));
    }

    private UnitRow changeState(UnitRow unit, UnitState state) {
        if (!unit.isOver() && !unit.state.equals(state.toString())) {
            unit.state = state.toString();
            events.append(
                    Optional.of(unit.runId),
                    unit.name,
                    "unit",
                    Events.SERVICE,
                    "%s is %s.".formatted(unit.name, state));
            if (state == UnitState.CHANGING) {
                underWay(runs.findById(unit.runId).orElseThrow(), unit);
            }
        }
        return unit;
    }

    /**
     * Locks a unit, and before it its run where something is written there: all units of a run wait
     * for each other at that one. Whoever writes about both takes the locks in this order and
     * appends events last: the lock for appending is everybody's, and two units that take it in the
     * middle wait for each other.
     */
    private UnitRow lock(long unitId, boolean run) {
        if (run) {
            runs.lock(units.runOf(unitId).orElseThrow());
        }
        return units.lock(unitId);
    }

    UnitRow lock(long unitId) {
        return lock(unitId, true);
    }

    /**
     * Whether a run is told that one of its units is in a state: that it is the first to be
     * changed, is stuck, or is over.
     */
    private static boolean concernsRun(Standing before, UnitState after) {
        return after.isOver()
                || after == UnitState.STUCK
                || (after == UnitState.CHANGING && before.run().state.equals(RunRow.ARMED));
    }

    /** The state of a unit when one of its steps is in another state. */
    private static UnitState stateWith(Standing before, StepRow row, StepState step) {
        return UnitMachine.stateOf(
                before.steps().stream()
                        .map(one -> one.id() == row.id() ? one.record().with(step) : one.record())
                        .toList());
    }

    /**
     * @param row of the step, as it stood when it was begun
     */
    Journal journal(Standing standing, StepRow row, Hold lease, Clock clock) {
        long unitId = standing.unit().id();
        long stepId = row.id();
        return new Journal() {
            private boolean looks = row.stepState() == StepState.LOOKING;

            @Override
            public void looking() {
                if (looks) {
                    return;
                }
                looks = true;
                steps.looks(stepId, clock.instant());
                begins(standing, row);
            }

            @Override
            public void acting(Intent intent, String expected, String seen) {
                write(
                        lease,
                        stepId,
                        step -> {
                            step.state = StepState.ACTING.toString();
                            step.intentAt = intent.at();
                            step.intentMark = intent.mark();
                            step.expected = expected;
                            step.seen = seen;
                            step.waiting = "";
                            UnitRow unit = units.findById(unitId).orElseThrow();
                            tellBegun(unit, step, expected, seen);
                        });
            }

            @Override
            public void proving() {
                steps.proves(stepId, clock.instant());
            }
        };
    }

    private void tellBegun(UnitRow unit, StepRow step, String expected, String seen) {
        events.append(
                Optional.of(unit.runId),
                unit.name,
                "step",
                Events.SERVICE,
                "%s, hop %s, %s begins: %s. Now: %s."
                        .formatted(unit.name, step.hop, step.name, expected, seen));
    }

    /**
     * Most steps leave the unit's state as it is, and so need no lock on the run, which all its
     * units share.
     */
    private void begins(Standing standing, StepRow row) {
        UnitState state = stateWith(standing, row, StepState.LOOKING);
        if (!standing.unit().state.equals(state.toString())) {
            transactions.executeWithoutResult(
                    _ ->
                            changeState(
                                    lock(standing.unit().id(), concernsRun(standing, state)),
                                    stateOf(standing.unit().id())));
        }
    }

    private void write(Hold lease, long stepId, java.util.function.Consumer<StepRow> change) {
        lines.write();
        transactions.executeWithoutResult(
                _ -> {
                    lease.mustHold();
                    change.accept(steps.findById(stepId).orElseThrow());
                });
    }

    /** Until the first of its units is changed, nobody has noticed anything of a run. */
    private void underWay(RunRow run, UnitRow first) {
        if (run.state.equals(RunRow.ARMED)) {
            run.state = RunRow.UNDER_WAY;
            events.append(
                    Optional.of(run.id()),
                    run.name,
                    "run",
                    Events.SERVICE,
                    "Run %s is under way: %s is the first to be changed."
                            .formatted(run.name, first.name));
        }
    }

    /** Keeps a sentence among what happened to a unit. */
    void tell(UnitRow unit, String sentence) {
        transactions.executeWithoutResult(
                _ ->
                        events.append(
                                Optional.of(unit.runId),
                                unit.name,
                                "unit",
                                Events.SERVICE,
                                sentence));
    }

    private UnitState stateOf(long unitId) {
        steps.flush();
        return UnitMachine.stateOf(
                steps.standings(unitId).stream().map(StepRows.Standing::record).toList());
    }

    /**
     * Within a transaction that holds the run and the unit: the unit's state follows from its
     * steps.
     */
    private void follow(UnitRow unit) {
        UnitState state = stateOf(unit.id());
        changeState(unit, state);
        if (state.isOver()) {
            unit.inWork = false;
            use.finishWhenOver(unit.runId);
        }
    }

    /**
     * Writes an outcome down. @return the outcome, with hope only where the step will be tried
     * again
     */
    StepOutcome finish(
            Standing standing, StepRow row, StepOutcome outcome, Hold lease, Clock clock) {
        long unitId = standing.unit().id();
        long stepId = row.id();
        if (outcome instanceof StepOutcome.Waiting waiting) {
            waits(row, waiting, lease);
            return outcome;
        }
        lines.write();
        return Optional.ofNullable(
                        transactions.execute(
                                _ -> {
                                    lease.mustHold();
                                    UnitRow unit =
                                            lock(
                                                    unitId,
                                                    outcome instanceof StepOutcome.Failed
                                                            || concernsRun(
                                                                    standing,
                                                                    stateWith(
                                                                            standing,
                                                                            row,
                                                                            StepState.DONE)));
                                    StepRow step = steps.findById(stepId).orElseThrow();
                                    return switch (outcome) {
                                        case StepOutcome.Done(
                                                        String expected,
                                                        String seen,
                                                        Evidence evidence) -> {
                                            end(unit, step, StepState.DONE, expected, seen, clock);
                                            keep(unit, step, evidence);
                                            doubts.raise(standing.run(), unit, step, evidence);
                                            yield outcome;
                                        }
                                        case StepOutcome.NotNeeded(String seen) -> {
                                            end(
                                                    unit,
                                                    step,
                                                    StepState.NOT_NEEDED,
                                                    step.expected,
                                                    seen,
                                                    clock);
                                            yield outcome;
                                        }
                                        case StepOutcome.Waiting _ -> outcome;
                                        case StepOutcome.Failed(Trouble trouble, Hope hope) ->
                                                fail(unit, step, trouble, hope);
                                    };
                                }))
                .orElseThrow();
    }

    /** Told again and again by whoever starts, so it takes no lock that others wait for. */
    private void waits(StepRow row, StepOutcome.Waiting waiting, Hold lease) {
        if (waiting.seen().startsWith("late") && !row.waiting.startsWith("late")) {
            write(
                    lease,
                    row.id(),
                    step -> {
                        UnitRow unit = units.findById(step.unitId).orElseThrow();
                        events.append(
                                Optional.of(unit.runId),
                                unit.name,
                                "step",
                                Events.SERVICE,
                                "%s, hop %s, %s: %s."
                                        .formatted(unit.name, step.hop, step.name, waiting.seen()));
                    });
        }
        steps.waits(row.id(), waiting.seen());
    }

    private void end(
            UnitRow unit,
            StepRow step,
            StepState state,
            String expected,
            String seen,
            Clock clock) {
        setEnded(step, state, expected, seen, clock);
        events.append(
                Optional.of(unit.runId),
                unit.name,
                "step",
                Events.SERVICE,
                "%s, hop %s, %s: %s; %s.".formatted(unit.name, step.hop, step.name, state, seen));
        endPart(unit, step);
        follow(unit);
    }

    private static void setEnded(
            StepRow step, StepState state, String expected, String seen, Clock clock) {
        step.state = state.toString();
        step.expected = expected;
        step.seen = seen;
        step.waiting = "";
        step.remedy = "";
        step.lastLines = "";
        step.finishedAt = clock.instant();
    }

    private void keep(UnitRow unit, StepRow step, Evidence evidence) {
        if (evidence.reading().isPresent() || !evidence.changes().isEmpty()) {
            kept.keep(step, evidence);
            evidence.reading()
                    .filter(_ -> !isRehearsal(unit))
                    .ifPresent(reading -> fleet.keep(unit.deviceId, reading));
        }
    }

    /**
     * Within a transaction that holds the run: one more that is stuck behind its boot choice may be
     * one too many. Before it nobody is harmed.
     */
    private void countStuck(UnitRow unit) {
        RunRow run = runs.findById(unit.runId).orElseThrow();
        if (run.rehearsal || unit.counted) {
            return;
        }
        unit.counted = true;
        units.flush();
        limits(run)
                .watch()
                .whyStop(
                        (int) units.countByRunIdAndCountedTrue(run.id()),
                        (int) units.countByRunId(run.id()))
                .filter(_ -> run.goesOn())
                .ifPresent(why -> holdByItself(why, run));
    }

    private void holdByItself(String why, RunRow run) {
        run.state = RunRow.HELD;
        run.heldWhy = why;
        events.append(
                Optional.of(run.id()),
                run.name,
                "run",
                Events.SERVICE,
                "The run is held by itself: %s. What is in flight ends its step; look at the stuck ones before it goes on."
                        .formatted(why));
    }

    private boolean isRehearsal(UnitRow unit) {
        return runs.findById(unit.runId).orElseThrow().rehearsal;
    }

    private StepOutcome fail(UnitRow unit, StepRow step, Trouble trouble, Hope hope) {
        List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unit.id());
        List<StepRecord> after =
                UnitMachine.afterFailure(
                        rows.stream().map(StepRow::record).toList(),
                        step.record(),
                        hope,
                        plans.of(unit).giveUpAfter());
        for (int i = 0; i < rows.size(); i++) {
            rows.get(i).state = after.get(i).state().toString();
        }
        boolean again = step.stepState() != StepState.FAILED;
        boolean isNews = !again || !trouble.seen().equals(step.seen);
        step.expected = trouble.expected();
        step.seen = trouble.seen();
        step.remedy = trouble.remedy();
        step.lastLines = String.join("\n", trouble.lastLines());
        step.membersOut = String.join("\n", trouble.membersOut());
        step.waiting = again ? "tried again: " + trouble.seen() : "";
        if (isNews) {
            events.append(
                    Optional.of(unit.runId),
                    unit.name,
                    "step",
                    Events.SERVICE,
                    "%s, hop %s, %s: %s. %s"
                            .formatted(
                                    unit.name,
                                    step.hop,
                                    step.name,
                                    again ? "trouble, tried again" : "failed",
                                    trouble.sentence()));
        }
        follow(unit);
        if (!again
                && rows.stream()
                        .anyMatch(
                                row ->
                                        row.name.equals(StepName.CHOOSE_BOOT.toString())
                                                && row.stepState() == StepState.DONE)) {
            countStuck(unit);
        }
        return new StepOutcome.Failed(trouble, again ? hope : Hope.NONE);
    }

    /** A fault of our own stops the unit; nothing is done to the device any more. */
    void fault(long unitId, long stepId, Trouble trouble) {
        transactions.executeWithoutResult(
                _ -> {
                    UnitRow unit = lock(unitId);
                    StepRow step = steps.findById(stepId).orElseThrow();
                    step.attempts = Integer.MAX_VALUE;
                    fail(unit, step, trouble, Hope.NONE);
                    step.attempts = 1;
                });
    }
}
