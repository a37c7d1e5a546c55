package calmstep.core.step;

import java.time.Duration;
import java.time.Instant;
import java.util.Objects;

/**
 * When a part of a unit's path is to be begun: what the nights of a plan come to for its run.
 *
 * @param firstHop ordinal of the part's first hop
 * @param lastHop ordinal of its last one
 * @param begins not earlier
 * @param closes end of its window
 * @param needs uninterrupted time up to its last proof, with its margin
 * @param outside why its site may not be disturbed then, where a person decided to do so all the
 *     same; empty where it may be. Where it is not empty, {@code closes} is no window's end but the
 *     end of that decision
 */
public record Turn(
        int firstHop, int lastHop, Instant begins, Instant closes, Duration needs, String outside) {
    public Turn {
        // A turn that was kept when nobody asked for windows.
        outside = Objects.requireNonNullElse(outside, "");
    }

    /** Inside a window. */
    public Turn(int firstHop, int lastHop, Instant begins, Instant closes, Duration needs) {
        this(firstHop, lastHop, begins, closes, needs, "");
    }

    /** The same, begun although its site may not be disturbed. */
    public Turn although(String why) {
        return new Turn(firstHop, lastHop, begins, closes, needs, why);
    }

    /** The same at another time, as inside a window. */
    public Turn between(Instant moment, Instant end) {
        return new Turn(firstHop, lastHop, moment, end, needs);
    }

    /** The same with another end of its window. */
    public Turn closingAt(Instant moment) {
        return new Turn(firstHop, lastHop, begins, moment, needs, outside);
    }

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
