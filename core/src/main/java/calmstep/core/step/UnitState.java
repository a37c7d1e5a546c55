package calmstep.core.step;

import java.util.Locale;

/** State of a unit in a run. */
public enum UnitState {
    WAITING,
    PREPARING,
    STAGED,
    CHANGING,
    PROVING,
    /**
     * Proven, and watched; or watched to the end, with something odd that a person has to judge.
     */
    SOAKING,
    SETTLED,
    HELD,
    STUCK,
    /** It went back to what it ran before. */
    RETURNED,
    SET_ASIDE;

    public boolean isOver() {
        return this == SETTLED || this == RETURNED || this == SET_ASIDE;
    }

    /**
     * @throws IllegalArgumentException for a word that is not a state
     */
    public static UnitState parse(String text) {
        return valueOf(text.replace('-', '_').toUpperCase(Locale.ROOT));
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
