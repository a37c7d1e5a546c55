package calmstep.core.path;

import java.util.Comparator;
import java.util.Locale;

/** What a path is to be good at; later fields decide between equals. */
public enum Preference {
    FEWEST_RESTARTS(
            "fewest restarts",
            Comparator.comparingInt(Cost::restarts)
                    .thenComparingLong(Cost::darkSeconds)
                    .thenComparingInt(Cost::unproven)),
    SHORTEST_DARK(
            "shortest dark",
            Comparator.comparingLong(Cost::darkSeconds)
                    .thenComparingInt(Cost::restarts)
                    .thenComparingInt(Cost::unproven)),
    PROVEN(
            "only well-proven releases",
            Comparator.comparingInt(Cost::unproven)
                    .thenComparingInt(Cost::restarts)
                    .thenComparingLong(Cost::darkSeconds));

    private final String words;

    // Comparators of the JDK over fields of a record hold nothing that changes.
    @SuppressWarnings("ImmutableEnumChecker")
    private final Comparator<Cost> order;

    Preference(String words, Comparator<Cost> order) {
        this.words = words;
        this.order =
                Comparator.comparingInt(Cost::barred)
                        .thenComparing(order)
                        .thenComparingLong(Cost::bytes);
    }

    /**
     * @throws IllegalArgumentException with what was expected and seen
     */
    public static Preference parse(String text) {
        return switch (text) {
            case "fewest-restarts" -> FEWEST_RESTARTS;
            case "shortest-dark" -> SHORTEST_DARK;
            case "proven" -> PROVEN;
            default ->
                    throw new IllegalArgumentException(
                            "Expected fewest-restarts, shortest-dark or proven, saw \"%s\"."
                                    .formatted(text));
        };
    }

    /** As {@link #parse} reads it. */
    public String key() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    Comparator<Cost> order() {
        return order;
    }

    @Override
    public String toString() {
        return words;
    }
}
