package calmstep.core.plan;

import java.util.Locale;

/** What a person can say to a caution. */
public enum Choice {
    SAVE_FIRST,
    MAY_GO,
    ACCEPT,
    LEAVE_OUT;

    /**
     * @throws IllegalArgumentException for a word that is not a choice
     */
    public static Choice parse(String text) {
        for (Choice choice : values()) {
            if (choice.toString().equals(text)) {
                return choice;
            }
        }
        throw new IllegalArgumentException(
                "Expected save-first, may-go, accept or leave-out, saw \"%s\".".formatted(text));
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
