package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.forecast.Leg.Timed;
import calmstep.core.forecast.StepTime;
import calmstep.core.forecast.Times;
import calmstep.core.order.RollingMove;
import calmstep.core.order.RollingOrder;
import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Chunk;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What is done of a unit's path in one go: from one release where it may rest to the next.
 *
 * @param steps what is done inside the window, in order: everything up to the image's proof is done ahead for the first hop only
 */
record PartOfPath(List<Hop> hops, List<Timed> steps) {
    private static final Set<StepName> AHEAD = EnumSet.of(StepName.CHECK, StepName.BACK_UP, StepName.MAKE_ROOM, StepName.STAGE, StepName.CONFIRM_IMAGE);
    private static final Set<StepName> BRINGING = EnumSet.of(StepName.STAGE, StepName.CONFIRM_IMAGE);

    /** The parts of a unit's path, in order. */
    static List<PartOfPath> of(UnitPlan unit, Device device, Optional<RollingOrder> order, Times times) {
        List<PartOfPath> parts = new ArrayList<>();
        for (List<UnitPlan.HopPlan> together : unit.parts()) {
            List<Timed> steps = new ArrayList<>();
            for (UnitPlan.HopPlan planned : together) {
                boolean first = planned == together.getFirst();
                Hop hop = planned.hop();
                planned.steps().stream().filter(step -> step != StepName.TIDY && !(first && AHEAD.contains(step))).forEach(step -> steps.add(new Timed(step, Times.nameOf(hop),
                        times.of(device.family(), device.hardware().model(), hop, step, dark(hop, order), unit.bytesPerSecond()))));
            }
            parts.add(new PartOfPath(together.stream().map(UnitPlan.HopPlan::hop).toList(), steps));
        }
        return parts;
    }

    /** How long the restart takes until the unit is whole again: of a unit with members, all moves into the release. */
    private static Duration dark(Hop hop, Optional<RollingOrder> order) {
        return order.filter(_ -> hop.component().equals(Catalogue.SYSTEM)).map(o -> o.moves().stream().filter(move -> into(move, hop.to())).map(RollingMove::takes).reduce(Duration.ZERO, Duration::plus))
                .filter(Duration::isPositive).orElse(hop.dark());
    }

    private static boolean into(RollingMove move, String release) {
        return switch (move) {
            case RollingMove.RestartMembers(var _, String _, String to, Duration _) -> to.equals(release);
            case RollingMove.RestartAll(String _, String to, Duration _) -> to.equals(release);
            case RollingMove.RestartController(String _, String _, String to, Duration _) -> to.equals(release);
            case RollingMove.DependentsFollow(int _, String to, boolean _, Duration _) -> to.equals(release);
            case RollingMove.BringImage _, RollingMove.PreLoadDependents _, RollingMove.HandOver _ -> false;
        };
    }

    Chunk chunk() {
        Duration needs = takes(steps);
        Duration without = takes(steps.stream().filter(timed -> !BRINGING.contains(timed.step())).toList());
        return new Chunk(hops.getFirst().from(), hops.getLast().to(), needs, needs.minus(without), hops.getFirst().bytes());
    }

    private static Duration takes(List<Timed> some) {
        return StepTime.sum(some.stream().map(Timed::time).toList()).p90();
    }
}
