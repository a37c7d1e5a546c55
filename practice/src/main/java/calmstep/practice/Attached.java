package calmstep.practice;

import java.time.Duration;

/**
 * What hangs on a machine and carries firmware of its own: a line board, an access point.
 *
 * @param kind what its images name as their component; empty for one that takes its firmware from
 *     the machine's own image
 * @param runs release when it is first switched on
 * @param startsIn time from its restart until it serves again, on its own clock
 * @param fetchesIn time to bring it an image, on its own clock
 */
record Attached(
        String name,
        String kind,
        String model,
        String serial,
        String runs,
        Duration startsIn,
        Duration fetchesIn) {
    /** Whether it takes its firmware from the machine's own image. */
    boolean follows() {
        return kind.isEmpty();
    }
}
