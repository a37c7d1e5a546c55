package calmstep.core.step;

import java.time.Duration;
import java.time.Instant;

/**
 * When a part of a unit's path is to be begun: what the nights of a plan come to for its run.
 *
 * @param firstHop ordinal of the part's first hop
 * @param lastHop ordinal of its last one
 * @param begins not earlier
 * @param closes end of its window
 * @param needs uninterrupted time up to its last proof, with its margin
 */
public record Turn(int firstHop, int lastHop, Instant begins, Instant closes, Duration needs) {
    /** A moment for people: to the minute, with its zone. */
    public static String words(Instant moment) {
        return moment.toString().substring(0, 16).replace('T', ' ') + " UTC";
    }

    /** Whether a step of a hop is done inside its window. */
    public boolean holds(int hop, StepName step) {
        return hop >= firstHop && hop <= lastHop && step.isInWindow(hop == firstHop);
    }

    /** Whether it would still end inside its window. */
    public boolean fitsFrom(Instant now) {
        return !now.plus(needs).isAfter(closes);
    }
}
