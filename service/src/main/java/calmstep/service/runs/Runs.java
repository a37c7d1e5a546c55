package calmstep.service.runs;

import calmstep.core.plan.Timetable;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitState;
import calmstep.core.wave.Wishes;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.plans.Plans;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.core.type.TypeReference;

/** What people do with runs: start, say go, hold, retry, judge, set aside. */
@Component
public class Runs {
    static final TypeReference<List<Turn>> TURNS = new TypeReference<>() {};

    private final RunRows runs;
    private final UnitRows units;
    private final StepRows steps;
    private final NewUnits newUnits;
    private final ReachedSites reached;
    private final RunViews views;
    private final ShownRuns shown;
    private final Plans plans;
    private final Events events;
    private final Wake wake;
    private final Json json;
    private final TransactionTemplate transactions;
    private final ApplicationEventPublisher publisher;
    private final Clock clock;

    Runs(
            RunRows runs,
            UnitRows units,
            StepRows steps,
            NewUnits newUnits,
            ReachedSites reached,
            RunViews views,
            ShownRuns shown,
            Plans plans,
            Events events,
            Wake wake,
            Json json,
            TransactionTemplate transactions,
            ApplicationEventPublisher publisher,
            Clock clock) {
        this.runs = runs;
        this.units = units;
        this.steps = steps;
        this.newUnits = newUnits;
        this.reached = reached;
        this.views = views;
        this.shown = shown;
        this.plans = plans;
        this.events = events;
        this.wake = wake;
        this.json = json;
        this.transactions = transactions;
        this.publisher = publisher;
        this.clock = clock;
    }

    /** Starts a run of an approved plan. A device that is in another unfinished run is refused. */
    RunView start(String planName, String who) {
        transactions.executeWithoutResult(
                _ -> {
                    Plans.Used used = plans.use(planName);
                    RunRow row = new RunRow();
                    row.planId = used.planId();
                    row.name = planName;
                    row.startedBy = who;
                    row.startedAt = clock.instant();
                    row.limits =
                            used.timetable().map(Timetable::limits).map(json::write).orElse("");
                    row.goesOnWhenOdd = used.wishes().whenOdd() == Wishes.WhenOdd.GO_ON;
                    newUnits.mustBeFree(used.units());
                    runs.save(row);
                    newUnits.add(
                            row,
                            used.units(),
                            used.timetable(),
                            entry ->
                                    used.wishes()
                                            .asks()
                                            .asksFor(
                                                    entry.map(Timetable.Entry::pilot)
                                                            .orElse(true)));
                    events.append(
                            Optional.of(row.id()),
                            row.name,
                            "run",
                            who,
                            "Run %s started with %s units.%s%s"
                                    .formatted(
                                            row.name,
                                            used.units().size(),
                                            used.wishes().asks() == Wishes.Asks.NOBODY
                                                    ? " Nobody is asked at its gates: its plan says"
                                                            + " so."
                                                    : "",
                                            row.goesOnWhenOdd
                                                    ? " What is odd behind a restart does not stop"
                                                            + " the next one: its plan says so."
                                                    : ""));
                    publisher.publishEvent(
                            new SitesConcerned(
                                    row.id(),
                                    reached.of(row.id()),
                                    SitesConcerned.Occasion.BEFORE));
                    wake.all();
                });
        return find(planName);
    }

    /**
     * Makes the rows of a rehearsal, under way and with every gate open: nobody stands there.
     * Nothing of it is scheduled: {@link Rehearsing} plays it.
     */
    RunRow rehearsal(long planId, String name, List<UnitPlan> plans, Timetable table, String who) {
        return transactions.execute(
                _ -> {
                    RunRow row = newRehearsal(planId, name, who, table);
                    newUnits.add(row, plans, Optional.of(table), _ -> false);
                    events.append(
                            Optional.of(row.id()),
                            row.name,
                            "run",
                            who,
                            "Rehearsal %s: %s units against stand-ins."
                                    .formatted(name, plans.size()));
                    return row;
                });
    }

    private RunRow newRehearsal(long planId, String name, String who, Timetable table) {
        RunRow row = new RunRow();
        row.planId = planId;
        row.name = name;
        row.state = RunRow.UNDER_WAY;
        row.startedBy = who;
        row.startedAt = clock.instant();
        row.rehearsal = true;
        row.limits = json.write(table.limits());
        runs.save(row);
        return row;
    }

    /** A person's word at the gate. */
    RunView go(String runName, String unitName, String who) {
        sayGo(runName, unitName, who);
        return find(runName);
    }

    void sayGo(String runName, String unitName, String who) {
        UnitRow unit = change(runName, unitName, (run, row) -> openGate(run, row, who));
        wake.unit(unit.id());
    }

    private void openGate(RunRow run, UnitRow row, String who) {
        if (row.gateQuestion == null || row.gateOpen) {
            throw Refusal.conflict("%s is not at a gate; it is %s.".formatted(row.name, row.state));
        }
        row.gateOpen = true;
        row.gateBy = who;
        row.gateAt = clock.instant();
        events.append(
                Optional.of(run.id()),
                row.name,
                "gate",
                who,
                "%s said go for %s.".formatted(who, row.name));
    }

    static void mustSayWhy(String why, String what) {
        Reason.of(why, what);
    }

    /** Holds one unit: a step in flight ends, nothing new begins on it. */
    RunView holdUnit(String runName, String unitName, boolean held, String who) {
        sayHold(runName, unitName, held, who);
        return find(runName);
    }

    void sayHold(String runName, String unitName, boolean held, String who) {
        UnitRow unit =
                change(
                        runName,
                        unitName,
                        (run, row) -> {
                            mustChange(row, held);
                            row.held = held;
                            row.waitsFor = held ? "%s holds it".formatted(who) : "";
                            tellHeld(run, row, who, held);
                        });
        wake.unit(unit.id());
    }

    private void tellHeld(RunRow run, UnitRow row, String who, boolean held) {
        events.append(
                Optional.of(run.id()),
                row.name,
                "unit",
                who,
                (held ? "%s holds %s." : "%s lets %s go on.").formatted(who, row.name));
    }

    private static void mustChange(UnitRow row, boolean held) {
        if (row.held == held) {
            throw Refusal.conflict(
                    held
                            ? "%s is held already.".formatted(row.name)
                            : "%s is not held; it is %s.".formatted(row.name, row.state));
        }
    }

    /**
     * Ends a run for good: steps in flight end, nothing new begins, and each unit stays as it
     * stands.
     */
    RunView abandon(String name, String why, String who) {
        mustSayWhy(why, "the run is abandoned");
        transactions.executeWithoutResult(
                _ -> {
                    RunRow run = runs.lock(idOf(name));
                    mustNotPlayByItself(run);
                    if (run.isOver()) {
                        throw Refusal.conflict(
                                "The run %s is %s already.".formatted(name, run.state));
                    }
                    endAbandoned(run, name, who, why);
                });
        return find(name);
    }

    private void endAbandoned(RunRow run, String name, String who, String why) {
        run.state = "abandoned";
        run.finishedAt = clock.instant();
        events.append(
                Optional.of(run.id()),
                name,
                "run",
                who,
                "%s abandons the run: %s".formatted(who, why));
        events.tie(run.id(), name);
        publisher.publishEvent(
                new SitesConcerned(run.id(), reached.of(run.id()), SitesConcerned.Occasion.AFTER));
        publisher.publishEvent(new RunFinished(run.id()));
    }

    /** Changes a unit of a run that goes on, within a transaction. */
    UnitRow change(String runName, String unitName, BiConsumer<RunRow, UnitRow> changed) {
        return changeAny(
                runName,
                unitName,
                (run, unit) -> {
                    if (run.isOver() || unit.isOver()) {
                        throw Refusal.conflict(
                                "%s is %s, the run is %s; nothing can be changed any more."
                                        .formatted(unit.name, unit.state, run.state));
                    }
                    changed.accept(run, unit);
                });
    }

    UnitRow changeAny(String runName, String unitName, BiConsumer<RunRow, UnitRow> changed) {
        return transactions.execute(
                _ -> {
                    RunRow run = runs.lock(idOf(runName));
                    UnitRow unit =
                            units.lock(
                                    units.idOf(run.id(), unitName)
                                            .orElseThrow(() -> Refusal.notFound("unit", unitName)));
                    mustNotPlayByItself(run);
                    changed.accept(run, unit);
                    wake.within(unit.id());
                    return unit;
                });
    }

    private static void mustNotPlayByItself(RunRow run) {
        if (run.rehearsal) {
            throw Refusal.conflict("%s is a rehearsal; it plays by itself.".formatted(run.name));
        }
    }

    /** Holds a run: what is in flight ends its step, nothing new begins. */
    RunView hold(String name, String who) {
        changeRun(
                name,
                run -> {
                    mustBe(run, run.goesOn(), "%s or %s".formatted(RunRow.ARMED, RunRow.UNDER_WAY));
                    run.state = RunRow.HELD;
                    run.heldWhy = "%s holds it".formatted(who);
                    events.append(
                            Optional.of(run.id()),
                            name,
                            "run",
                            who,
                            "%s holds the run.".formatted(who));
                });
        return find(name);
    }

    RunView resume(String name, String who) {
        changeRun(
                name,
                run -> {
                    mustBe(run, run.state.equals(RunRow.HELD), RunRow.HELD);
                    run.state = steps.hasChanged(run.id()) ? RunRow.UNDER_WAY : RunRow.ARMED;
                    run.heldWhy = "";
                    units.findByRunIdOrderByName(run.id()).forEach(unit -> unit.counted = false);
                    wake.run(run.id());
                    tellResumed(run, name, who);
                });
        wake.carriedOut(idOf(name));
        return find(name);
    }

    private void tellResumed(RunRow run, String name, String who) {
        events.append(
                Optional.of(run.id()), name, "run", who, "%s lets the run go on.".formatted(who));
    }

    private void changeRun(String name, Consumer<RunRow> changed) {
        transactions.executeWithoutResult(
                _ -> {
                    RunRow run = runs.lock(idOf(name));
                    mustNotPlayByItself(run);
                    changed.accept(run);
                });
    }

    private static void mustBe(RunRow run, boolean is, String expected) {
        if (!is) {
            throw Refusal.conflict(
                    "The run %s is %s; expected %s.".formatted(run.name, run.state, expected));
        }
    }

    /** Within a transaction: finishes the run when every unit is over. */
    void finishWhenOver(long runId) {
        RunRow run = runs.lock(runId);
        if (isAllOver(run)) {
            finish(run, Events.SERVICE);
        }
    }

    /**
     * Within a transaction, behind a person's word that set a unit aside: where it was the last
     * one, the run waits for another word. Whoever set it aside may take it back in.
     */
    void restWhenAside(long runId) {
        RunRow run = runs.lock(runId);
        if (isAllOver(run)) {
            events.append(
                    Optional.of(runId),
                    run.name,
                    "run",
                    Events.SERVICE,
                    "Nothing of the run %s is open any more. Take a unit back in, or end the run."
                            .formatted(run.name));
        }
    }

    private boolean isAllOver(RunRow run) {
        List<String> sitesOver = run.rehearsal ? List.of() : reached.over(run.id());
        if (!sitesOver.isEmpty()) {
            publisher.publishEvent(
                    new SitesConcerned(run.id(), sitesOver, SitesConcerned.Occasion.AFTER));
        }
        return !run.rehearsal && !run.isOver() && units.countNotOver(run.id()) == 0;
    }

    /** Ends a run of which nothing is open any more. */
    RunView end(String name, String who) {
        changeRun(
                name,
                run -> {
                    long open = units.countNotOver(run.id());
                    mustBe(
                            run,
                            !run.isOver(),
                            "%s, %s or %s".formatted(RunRow.ARMED, RunRow.UNDER_WAY, RunRow.HELD));
                    if (open > 0) {
                        throw Refusal.conflict(
                                "%s of its units %s not over. Set aside what stays as it is, or abandon the run."
                                        .formatted(open, open == 1 ? "is" : "are"));
                    }
                    finish(run, who);
                });
        return find(name);
    }

    private void finish(RunRow run, String who) {
        long runId = run.id();
        run.state = "finished";
        run.finishedAt = clock.instant();
        events.append(
                Optional.of(runId),
                run.name,
                "run",
                who,
                "Run %s finished: %s of %s units settled."
                        .formatted(
                                run.name,
                                units.countByRunIdAndState(runId, UnitState.SETTLED.toString()),
                                units.countByRunId(runId)));
        events.tie(runId, run.name);
        publisher.publishEvent(new RunFinished(runId));
    }

    long idOf(String name) {
        return views.idOf(name);
    }

    /** How it stands behind a person's word. */
    RunView find(String name) {
        shown.forget(name);
        return views.find(name);
    }
}
