package calmstep.core.catalogue;

import java.time.Duration;

/**
 * How the members of one unit of a family hang together: of a stack, a pair, a cluster.
 *
 * @param oneIsActive whether one member serves for all, and another can take over
 * @param mayBeOut how many may be out of service at once without the unit being so; 0 where the
 *     family cannot restart member by member
 * @param restart of one member, until it serves again
 * @param restartAll of all together, in which the unit serves nobody
 * @param handOver time without service while another member becomes active
 * @param settle time until members are in sync again after one came back
 */
public record Grouping(
        boolean oneIsActive,
        int mayBeOut,
        Duration restart,
        Duration restartAll,
        Duration handOver,
        Duration settle) {}
