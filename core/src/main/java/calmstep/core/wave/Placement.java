package calmstep.core.wave;

import java.time.Instant;
import java.time.LocalDate;

/**
 * A part of a unit's path at its place.
 *
 * @param part counted from 1
 * @param opens beginning of the window that it lies in
 * @param closes end of that window
 * @param stagedBy when its images are on the device at the latest; the beginning of the task where
 *     nothing is to be brought
 * @param why why it does not begin earlier
 */
public record Placement(
        String unit,
        int part,
        Instant begins,
        Instant ends,
        Instant opens,
        Instant closes,
        LocalDate night,
        boolean pilot,
        Instant stagedBy,
        Held why) {}
