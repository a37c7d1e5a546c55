package calmstep.core.plan;

import calmstep.core.path.Preference;
import java.util.Locale;

/**
 * Which of a device's paths a plan takes, and how it leaves the device.
 *
 * @param prefer what the path is to be good at
 * @param alternative 0 for the best one, else which of the other ones that the path's answer names,
 *     from 1; a device that has no such one takes its best
 * @param roles which member of a unit is active when all is done
 */
public record WayWanted(Preference prefer, int alternative, Roles roles) {
    public static final WayWanted BEST = new WayWanted(Preference.FEWEST_RESTARTS, 0);

    /** Of the members of a unit, one of which serves for all. */
    public enum Roles {
        /** Whoever came to be active by the change stays so: the fewest hand-overs. */
        AS_THEY_COME,
        /** Whoever was active before is so again, at the cost of one more hand-over. */
        AS_BEFORE;

        /**
         * @throws IllegalArgumentException with what was expected and seen
         */
        public static Roles parse(String text) {
            for (Roles roles : values()) {
                if (roles.toString().equals(text)) {
                    return roles;
                }
            }
            throw new IllegalArgumentException(
                    "Expected as-they-come or as-before, saw \"%s\".".formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** With the roles as they come. */
    public WayWanted(Preference prefer, int alternative) {
        this(prefer, alternative, Roles.AS_THEY_COME);
    }

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
                "Expected an alternative from 1 to %s, or 0 for the best path; saw %s."
                        .formatted(MOST, seen));
    }
}
