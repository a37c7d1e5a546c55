package calmstep.service.runs;

import calmstep.core.step.Members;
import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitState;
import calmstep.service.events.Events;
import calmstep.service.fleet.ReadDevices;
import calmstep.service.json.Json;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** What a person decides about a unit that is stuck, or that stays out of its run. */
@Component
class UnitDecisions {
    private static final Set<StepName> COPY = EnumSet.of(StepName.STAGE, StepName.CONFIRM_IMAGE);

    private final Runs runs;
    private final StepRows steps;
    private final Events events;
    private final Wake wake;
    private final ReadDevices devices;
    private final Ways ways;
    private final UnitPlans plans;
    private final Json json;
    private final Clock clock;

    UnitDecisions(
            Runs runs,
            StepRows steps,
            Events events,
            Wake wake,
            ReadDevices devices,
            Ways ways,
            UnitPlans plans,
            Json json,
            Clock clock) {
        this.runs = runs;
        this.steps = steps;
        this.events = events;
        this.wake = wake;
        this.devices = devices;
        this.ways = ways;
        this.plans = plans;
        this.json = json;
        this.clock = clock;
    }

    /** Tries the failed step of a unit again; it looks first. */
    RunView retry(String runName, String unitName, String who) {
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(row.id());
                            StepRow failed = failed(row, rows);
                            beginAnew(failed);
                            copyAnew(failed, rows);
                            row.state = StepRow.stateOf(rows).toString();
                            tellRetry(run, row, who, failed);
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    private static void beginAnew(StepRow failed) {
        failed.state = StepState.DUE.toString();
        failed.attempts = 0;
        if (StepName.parse(failed.name).mayBeginAnew()) {
            failed.intentAt = null;
            failed.intentMark = null;
        }
    }

    /**
     * An image that is damaged stays so, however often it is looked at: it is brought once more.
     */
    private static void copyAnew(StepRow failed, List<StepRow> rows) {
        StepName name = StepName.parse(failed.name);
        if (name == StepName.CONFIRM_IMAGE || name == StepName.CHOOSE_BOOT) {
            rows.stream()
                    .filter(row -> row.hop == failed.hop && row.detour == failed.detour)
                    .filter(row -> row.ordinal < failed.ordinal)
                    .filter(row -> COPY.contains(StepName.parse(row.name)))
                    .forEach(UnitDecisions::beginAnew);
        }
    }

    private void tellRetry(RunRow run, UnitRow row, String who, StepRow failed) {
        events.append(
                Optional.of(run.id()),
                row.name,
                "unit",
                who,
                "%s tries %s of %s again.".formatted(who, failed.name, row.name));
    }

    /** Goes on with a unit although members of it are out, as long as they are. */
    RunView goOnWithout(String runName, String unitName, String why, String who) {
        Runs.mustSayWhy(why, "the unit is changed without some of its members");
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(row.id());
                            Set<String> out = ways.without(row, plans.of(row), rows);
                            if (out.isEmpty()) {
                                throw Refusal.conflict(
                                        "%s is %s; a unit goes on without members where it is stuck because they are out, and enough others are left to serve."
                                                .formatted(row.name, row.state));
                            }
                            beginAnew(failed(row, rows));
                            Set<String> without = StepRow.lines(row.without);
                            without.addAll(out);
                            row.without = String.join("\n", without);
                            row.state = StepRow.stateOf(rows).toString();
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s has %s go on without %s: %s"
                                            .formatted(who, row.name, Members.named(out), why));
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    /** Leaves the failed step of a unit out. */
    RunView skip(String runName, String unitName, String why, String who) {
        Runs.mustSayWhy(why, "the step is left out");
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(row.id());
                            StepRow failed = failed(row, rows);
                            if (!StepName.parse(failed.name).maySkip()) {
                                throw Refusal.conflict(
                                        "%s of %s cannot be left out: what comes behind it builds upon it. Try it again, let the unit go back, or set it aside."
                                                .formatted(failed.name, row.name));
                            }
                            failed.state = StepState.SKIPPED.toString();
                            failed.finishedAt = clock.instant();
                            row.state = StepRow.stateOf(rows).toString();
                            row.inWork &= !row.isOver();
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s leaves %s of %s out: %s"
                                            .formatted(who, failed.name, row.name, why));
                            runs.finishWhenOver(run.id());
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    private static StepRow failed(UnitRow unit, List<StepRow> rows) {
        return rows.stream()
                .filter(s -> s.stepState() == StepState.FAILED)
                .findFirst()
                .orElseThrow(
                        () ->
                                Refusal.conflict(
                                        "%s is not stuck; it is %s."
                                                .formatted(unit.name, unit.state)));
    }

    /** Takes a unit back in that was set aside; it goes on where it stood, and looks first. */
    RunView takeIn(String runName, String unitName, String who) {
        UnitRow unit =
                runs.changeAny(
                        runName,
                        unitName,
                        (run, row) -> {
                            if (run.isOver() || !row.state.equals(UnitState.SET_ASIDE.toString())) {
                                throw Refusal.conflict(
                                        "%s is %s, the run is %s; only a unit that was set aside is taken back in, while its run goes on."
                                                .formatted(row.name, row.state, run.state));
                            }
                            row.state =
                                    StepRow.stateOf(steps.findByUnitIdOrderByOrdinal(row.id()))
                                            .toString();
                            row.setAsideWhy = null;
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s takes %s back in.".formatted(who, row.name));
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    /**
     * Writes something for the contacts of the sites that a unit concerns: their next mail has it,
     * and no other reason of colleagues.
     */
    RunView writeForContacts(String runName, String unitName, String text, String who) {
        Reason.of(text, "what its contacts are to read");
        runs.changeAny(
                runName,
                unitName,
                (run, row) -> {
                    if (run.isOver()) {
                        throw Refusal.conflict(
                                "The run is %s; its contacts were told.".formatted(run.state));
                    }
                    row.forContacts = text;
                    events.append(
                            Optional.of(run.id()),
                            row.name,
                            "unit",
                            who,
                            "%s writes for the contacts of %s: %s".formatted(who, row.name, text));
                });
        return runs.find(runName);
    }

    /** Takes a unit out of the run as it stands. */
    RunView setAside(String runName, String unitName, String why, String who) {
        Runs.mustSayWhy(why, "the unit is set aside");
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            row.state = UnitState.SET_ASIDE.toString();
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(row.id());
                            row.setAsideWhy = why + chosen(row, rows) + drained(rows);
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s set %s aside: %s"
                                            .formatted(who, row.name, row.setAsideWhy));
                            runs.restWhenAside(run.id());
                        });
        // How it stands is in the record only where somebody looked behind the last word.
        devices.start(List.of(unitName), Events.SERVICE);
        // Nobody drives it any more; an execution that rests until a word would rest for an hour.
        wake.unit(unit.id());
        return runs.find(runName);
    }

    /**
     * Where its boot choice was made and it has not restarted since, even a power cut starts the
     * new image: whoever reads why it was set aside should know.
     */
    private String chosen(UnitRow unit, List<StepRow> rows) {
        return rows.stream()
                .filter(
                        step ->
                                step.name.equals(StepName.CHOOSE_BOOT.toString())
                                        && step.stepState() == StepState.DONE)
                .filter(choice -> isNotRestarted(choice, rows))
                .reduce((_, last) -> last)
                .map(choice -> itsNextStart(choice, unit))
                .orElse("");
    }

    /** Where it was told to give its traffic away, and nobody let it carry it again. */
    private static String drained(List<StepRow> rows) {
        return rows.stream()
                        .filter(step -> step.name.equals(StepName.UN_DRAIN.toString()))
                        .filter(step -> step.stepState() != StepState.DONE)
                        .anyMatch(step -> StepRow.drained(rows, step.hop) != Scene.Drained.NO)
                ? "; it was told to give its traffic away, and not yet to take it back: see that"
                        + " it carries it"
                : "";
    }

    private String itsNextStart(StepRow choice, UnitRow unit) {
        return "; its boot choice is made, so its next start takes %s"
                .formatted(json.read(unit.plan, UnitPlan.class).hop(choice.hop).hop().step());
    }

    private static boolean isNotRestarted(StepRow choice, List<StepRow> rows) {
        return rows.stream()
                .anyMatch(
                        step ->
                                step.hop == choice.hop
                                        && step.detour == choice.detour
                                        && step.name.equals(StepName.RESTART.toString())
                                        && step.stepState() != StepState.DONE);
    }
}
