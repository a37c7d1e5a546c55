package calmstep.core.step;

import java.util.Locale;

/** State of a unit in a run. */
public enum UnitState {
    WAITING,
    PREPARING,
    STAGED,
    CHANGING,
    PROVING,
    SETTLED,
    HELD,
    STUCK,
    SET_ASIDE;

    public boolean isOver() {
        return this == SETTLED || this == SET_ASIDE;
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
