package calmstep.core.forecast;

import calmstep.core.step.StepName;
import java.util.List;
import java.util.Set;

/**
 * A part of a unit's path in one night, for the forecast.
 *
 * @param begins planned, in seconds from the beginning of the night
 * @param closes end of its window, likewise
 * @param steps what it does in the window, in order
 * @param notWith units that it is never in work together with: what it cuts off, what cuts it off,
 *     its mates
 */
public record Leg(
        String unit,
        int part,
        String site,
        String family,
        double begins,
        double closes,
        List<Timed> steps,
        Set<String> notWith) {
    public Leg {
        steps = List.copyOf(steps);
        notWith = Set.copyOf(notWith);
    }

    public record Timed(StepName step, String hop, StepTime time) {}
}
