package calmstep.core.plan;

import calmstep.core.fleet.Device;
import calmstep.core.forecast.Leg.Timed;
import calmstep.core.forecast.StepTime;
import calmstep.core.forecast.Times;
import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Chunk;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;

/**
 * What is done of a unit's path in one go: from one release where it may rest to the next.
 *
 * @param steps what is done inside the window, in order: everything up to the image's proof is done
 *     ahead for the first hop only
 */
record PartOfPath(List<Hop> hops, List<Timed> steps) {
    private static final Set<StepName> BRINGING =
            EnumSet.of(StepName.STAGE, StepName.CONFIRM_IMAGE, StepName.PRE_LOAD);

    /** The parts of a unit's path, in order. */
    static List<PartOfPath> of(UnitPlan unit, Device device, Times times) {
        List<PartOfPath> parts = new ArrayList<>();
        for (List<UnitPlan.HopPlan> together : unit.parts()) {
            List<Timed> steps = new ArrayList<>();
            for (UnitPlan.HopPlan planned : together) {
                boolean first = planned.equals(together.getFirst());
                Hop hop = planned.hop();
                planned.steps().stream()
                        .filter(step -> step.isInWindow(first) && !planned.isAhead(step))
                        .forEach(
                                step ->
                                        steps.add(
                                                new Timed(
                                                        step,
                                                        Times.nameOf(hop),
                                                        times.of(
                                                                device.family(),
                                                                device.hardware().model(),
                                                                hop,
                                                                step,
                                                                planned.restartsIn(step),
                                                                unit.bytesPerSecond()))));
            }
            parts.add(new PartOfPath(together.stream().map(UnitPlan.HopPlan::hop).toList(), steps));
        }
        return parts;
    }

    Chunk chunk() {
        Duration needs = takes(steps);
        Duration without =
                takes(steps.stream().filter(timed -> !BRINGING.contains(timed.step())).toList());
        return new Chunk(
                hops.getFirst().from(),
                hops.getLast().to(),
                needs,
                needs.minus(without),
                hops.getFirst().bytes());
    }

    private static Duration takes(List<Timed> some) {
        return StepTime.sum(some.stream().map(Timed::time).toList()).p90();
    }
}
