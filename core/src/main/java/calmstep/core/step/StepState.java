package calmstep.core.step;

import java.util.Locale;

/** State of a step. */
public enum StepState {
    DUE,
    LOOKING,
    ACTING,
    PROVING,
    DONE,
    NOT_NEEDED,
    FAILED,
    SKIPPED;

    public boolean isFinished() {
        return this == DONE || this == NOT_NEEDED || this == SKIPPED;
    }

    /**
     * @throws IllegalArgumentException for a word that is not a state
     */
    public static StepState parse(String text) {
        return valueOf(text.replace('-', '_').toUpperCase(Locale.ROOT));
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
