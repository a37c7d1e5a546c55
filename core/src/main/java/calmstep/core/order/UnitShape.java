package calmstep.core.order;

import java.time.Duration;
import java.util.List;

/**
 * How a unit hangs together.
 *
 * @param members their names, at least one
 * @param active the one that serves for all, where the unit has one: the active of a stack or a
 *     pair; empty where all serve side by side
 * @param mayBeOut how many may be out of service at once without the unit being so
 * @param restart of one member, until it serves again
 * @param restartAll of the whole unit, in which it serves nobody
 * @param handOver time without service while another member becomes active
 * @param settle time until members are in sync again after one came back; nothing is handed over
 *     before
 */
public record UnitShape(
        List<String> members,
        String active,
        int mayBeOut,
        Duration restart,
        Duration restartAll,
        Duration handOver,
        Duration settle) {
    public UnitShape {
        members = List.copyOf(members);
        if (members.isEmpty() || (!active.isEmpty() && !members.contains(active))) {
            throw new IllegalArgumentException(
                    "Expected members, and the active one to be one of them; saw %s and \"%s\""
                            .formatted(members, active));
        }
        if (mayBeOut < 0 || (mayBeOut >= members.size() && members.size() > 1)) {
            throw new IllegalArgumentException(
                    "Expected fewer members out of service than there are; saw %s of %s"
                            .formatted(mayBeOut, members.size()));
        }
    }

    public boolean hasActive() {
        return !active.isEmpty();
    }
}
