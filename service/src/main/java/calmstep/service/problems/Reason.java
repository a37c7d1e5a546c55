package calmstep.service.problems;

import java.util.Locale;

/** Why a person decided something, as the record holds it. */
public final class Reason {
    /** More is a document, which belongs beside the record. */
    public static final int LONGEST = 1_000;

    private Reason() {}

    /**
     * @param what needs it, behind "Say why"
     * @throws Refusal when it is missing, too long, or not plain text
     */
    public static String of(String why, String what) {
        if (why.isBlank()) {
            throw Refusal.wrong("Say why %s; the record will hold it.".formatted(what));
        }
        return plain(why);
    }

    /**
     * As {@link #of}, where none is needed.
     *
     * @throws Refusal when it is too long, or not plain text
     */
    public static String plain(String why) {
        if (why.length() > LONGEST) {
            throw Refusal.wrong(
                    String.format(
                            Locale.ROOT,
                            "Expected a reason of at most %,d characters, saw %,d. Say it shorter,"
                                    + " and where the rest is to be found.",
                            LONGEST,
                            why.length()));
        }
        why.chars()
                .filter(Character::isISOControl)
                .findFirst()
                .ifPresent(
                        control -> {
                            throw Refusal.wrong(
                                    String.format(
                                            Locale.ROOT,
                                            "Expected a reason as plain text on one line, saw the"
                                                    + " control character U+%04X in it.",
                                            control));
                        });
        return why;
    }
}
