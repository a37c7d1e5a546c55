package calmstep.core.wave;

import java.time.Duration;

/**
 * A part of a path that is done in one go: the hops from one release where the unit may rest to the
 * next.
 *
 * @param from release before
 * @param to release after, where the unit may rest
 * @param needs uninterrupted time in the window, with its margin
 * @param savedByAhead how much of that is bringing images in the middle of it, which could be done
 *     ahead if the device had room for them
 * @param bytes to bring to the device before the part begins
 */
public record Chunk(String from, String to, Duration needs, Duration savedByAhead, long bytes) {
    public Chunk {
        if (needs.isNegative() || needs.isZero() || savedByAhead.compareTo(needs) > 0) {
            throw new IllegalArgumentException(
                    "A part needs time, and more than bringing images would save; saw %s and %s"
                            .formatted(needs, savedByAhead));
        }
    }
}
