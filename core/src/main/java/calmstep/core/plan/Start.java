package calmstep.core.plan;

import java.time.Instant;
import java.time.format.DateTimeParseException;

/** When a plan may begin. */
public sealed interface Start {
    String NOW = "now";
    String NEXT_WINDOW = "next-window";

    /** Inside the windows of the sites, from the next one on. */
    record NextWindow() implements Start {}

    /** At once, windows or not: somebody decided so. */
    record Now() implements Start {}

    /** From a moment on, windows or not. */
    record At(Instant moment) implements Start {}

    /**
     * @throws IllegalArgumentException for anything else than the three
     */
    static Start parse(String text) {
        return switch (text) {
            case NEXT_WINDOW -> new NextWindow();
            case NOW -> new Now();
            default -> {
                try {
                    yield new At(Instant.parse(text));
                } catch (DateTimeParseException unreadable) {
                    throw new IllegalArgumentException(
                            "Expected now, next-window or a moment such as 2026-11-24T01:15:00Z, saw \"%s\"."
                                    .formatted(text),
                            unreadable);
                }
            }
        };
    }

    /** Whether it keeps to the windows of the sites. */
    default boolean waitsForWindows() {
        return this instanceof NextWindow;
    }

    /** Whether its moment has gone by. */
    default boolean isPast(Instant now) {
        return this instanceof At(Instant moment) && moment.isBefore(now);
    }

    default String words() {
        return switch (this) {
            case NextWindow() -> NEXT_WINDOW;
            case Now() -> NOW;
            case At(Instant moment) -> moment.toString();
        };
    }
}
