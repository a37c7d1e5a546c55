package calmstep.core.plan;

import calmstep.core.path.Preference;

/**
 * Which of a device's paths a plan takes.
 *
 * @param prefer what the path is to be good at
 * @param alternative 0 for the best one, else which of the other ones that the path's answer names,
 *     from 1; a device that has no such one takes its best
 */
public record WayWanted(Preference prefer, int alternative) {
    public static final WayWanted BEST = new WayWanted(Preference.FEWEST_RESTARTS, 0);

    /** As many as an answer names. */
    private static final int MOST = 2;

    /**
     * @throws IllegalArgumentException with what was expected and seen
     */
    public WayWanted {
        if (alternative < 0 || alternative > MOST) {
            throw none(alternative);
        }
    }

    /**
     * @throws IllegalArgumentException with what was expected and seen
     */
    static int alternativeOf(String text) {
        try {
            return new WayWanted(BEST.prefer, Integer.parseInt(text)).alternative;
        } catch (NumberFormatException noNumber) {
            throw none(text);
        }
    }

    private static IllegalArgumentException none(Object seen) {
        return new IllegalArgumentException(
                "Expected an alternative from 1 to %d, or 0 for the best path; saw %s."
                        .formatted(MOST, seen));
    }
}
