package calmstep.service.rehearsals;

import calmstep.core.fleet.Device;
import calmstep.core.forecast.Times;
import calmstep.core.step.StepName;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.service.rehearsals.Outcome.NotPlayed;
import calmstep.service.rehearsals.Outcome.PlayedNight;
import calmstep.service.rehearsals.Outcome.PlayedPart;
import calmstep.service.rehearsals.Outcome.PlayedStep;
import calmstep.service.rehearsals.Outcome.PlayedUnit;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunView.StepView;
import calmstep.service.runs.RunView.UnitInRun;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Planned against played. */
final class PlayedTimes {
    private final Times times;
    private final Function<String, Device> devices;
    private final Map<String, UnitPlan> plans;

    /** A night of the plan. */
    record Act(String words, List<Planned> parts) {}

    /**
     * A part of a unit's path, as planned.
     *
     * @param ends with its margin
     */
    record Planned(String unit, Turn turn, Instant begins, Instant ends) {}

    PlayedTimes(List<UnitPlan> units, Times times, Function<String, Device> devices) {
        this.times = times;
        this.devices = devices;
        this.plans =
                units.stream().collect(Collectors.toMap(UnitPlan::device, Function.identity()));
    }

    Outcome outcome(String run, List<NotPlayed> notPlayed, List<Act> acts, RunView played) {
        Map<String, UnitInRun> units =
                played.units().stream()
                        .collect(Collectors.toMap(UnitInRun::device, Function.identity()));
        List<PlayedNight> nights = acts.stream().map(act -> night(act, units)).toList();
        return new Outcome(
                run, "", notPlayed, nights, played.units().stream().map(this::unit).toList());
    }

    private PlayedNight night(Act act, Map<String, UnitInRun> units) {
        List<PlayedPart> parts = partsOf(act, units);
        return new PlayedNight(
                act.words(),
                act.parts().stream().map(Planned::begins).min(Instant::compareTo).orElseThrow(),
                act.parts().stream().map(Planned::ends).max(Instant::compareTo).orElseThrow(),
                parts.stream()
                        .flatMap(part -> Optional.ofNullable(part.playedEnd()).stream())
                        .max(Instant::compareTo)
                        .orElse(null),
                act.parts().stream()
                        .map(planned -> planned.turn().closes())
                        .max(Instant::compareTo)
                        .orElseThrow(),
                parts);
    }

    private List<PlayedPart> partsOf(Act act, Map<String, UnitInRun> units) {
        List<PlayedPart> parts =
                act.parts().stream()
                        .map(
                                planned ->
                                        part(
                                                planned,
                                                Optional.ofNullable(units.get(planned.unit()))
                                                        .orElseThrow()))
                        .toList();
        return parts;
    }

    private PlayedPart part(Planned planned, UnitInRun unit) {
        Turn turn = planned.turn();
        UnitPlan plan = Optional.ofNullable(plans.get(unit.device())).orElseThrow();
        List<StepView> steps =
                unit.steps().stream()
                        .filter(step -> turn.holds(step.hop(), StepName.parse(step.name())))
                        .toList();
        Optional<Instant> begin =
                steps.stream().findFirst().flatMap(first -> Optional.ofNullable(first.startedAt()));
        Optional<Instant> end =
                Optional.of(steps)
                        .filter(all -> all.stream().allMatch(step -> step.finishedAt() != null))
                        .map(all -> all.getLast().finishedAt());
        int part =
                (int)
                                plan.parts().stream()
                                        .takeWhile(
                                                hops -> hops.getFirst().ordinal() < turn.firstHop())
                                        .count()
                        + 1;
        return new PlayedPart(
                unit.device(),
                unit.site(),
                unit.siteTitle(),
                unit.zone(),
                part,
                plan.hop(turn.firstHop()).hop().from(),
                plan.hop(turn.lastHop()).hop().to(),
                planned.begins(),
                planned.ends(),
                turn.closes(),
                begin.orElse(null),
                end.orElse(null),
                how(planned, begin, end, unit));
    }

    private static String how(
            Planned planned, Optional<Instant> begin, Optional<Instant> end, UnitInRun unit) {
        if (end.isPresent()) {
            return end.get().isAfter(planned.turn().closes())
                    ? "over"
                    : end.get().isAfter(planned.ends()) ? "late" : "in-time";
        }
        return unit.state().equals("held") && begin.isEmpty()
                ? "held"
                : unit.state().equals("stuck") ? "stuck" : "not-begun";
    }

    private static Optional<Duration> taken(StepView step) {
        return step.startedAt() == null || step.finishedAt() == null
                ? Optional.empty()
                : Optional.of(Duration.between(step.startedAt(), step.finishedAt()));
    }

    private PlayedUnit unit(UnitInRun unit) {
        return new PlayedUnit(
                unit.device(),
                unit.from(),
                unit.to(),
                unit.state(),
                unit.turn() == null ? "" : unit.turn().waitsFor(),
                unit.trouble(),
                unit.steps().stream().map(step -> step(unit.device(), step)).toList());
    }

    private PlayedStep step(String unit, StepView step) {
        Device device = devices.apply(unit);
        UnitPlan plan = Optional.ofNullable(plans.get(unit)).orElseThrow();
        UnitPlan.HopPlan planned = plan.hop(step.hop());
        boolean taken = step.state().equals("done");
        double expected = expectedSeconds(device, planned, step, plan);
        return new PlayedStep(
                step.hop(),
                step.name(),
                step.state(),
                taken(step).map(t -> t.toMillis() / 1e3).orElse(null),
                taken ? Math.round(10 * expected) / 10.0 : null);
    }

    private double expectedSeconds(
            Device device, UnitPlan.HopPlan planned, StepView step, UnitPlan plan) {
        StepName timed = planned.timedAs(StepName.parse(step.name()));
        double expected =
                times.of(
                                device.family(),
                                device.hardware().model(),
                                planned.hop(),
                                timed,
                                planned.restartsIn(timed),
                                plan.bytesPerSecond())
                        .medianSeconds();
        return expected;
    }
}
