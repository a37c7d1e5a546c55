package calmstep.core.plan;

import calmstep.core.wave.Wishes;
import java.util.List;

/**
 * What a person asks of a plan: everything else about it is worked out.
 *
 * @param target a policy or a release
 * @param way which of the paths to it
 * @param devices names; at least one
 * @param where how the devices were selected, empty where they were named; kept for people, the
 *     names count
 */
public record PlanOrder(
        String name,
        Target target,
        WayWanted way,
        Start begins,
        List<String> devices,
        String where,
        Wishes wishes) {
    public PlanOrder {
        devices = List.copyOf(devices);
    }

    /** The same for some of its devices alone. */
    public PlanOrder of(List<String> some) {
        return new PlanOrder(name, target, way, begins, some, where, wishes);
    }
}
