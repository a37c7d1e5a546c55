package calmstep.core.window;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;

/**
 * A stretch in which a site may be disturbed.
 *
 * @param closes the first instant that is outside
 * @param night the evening that it belongs to: a window that opens before six in the morning
 *     belongs to the day before
 */
public record Window(Instant opens, Instant closes, LocalDate night) {
    private static final Duration MORNING = Duration.ofHours(6);

    public Window {
        if (!opens.isBefore(closes)) {
            throw new IllegalArgumentException(
                    "A window must close after it opens; saw %s to %s".formatted(opens, closes));
        }
    }

    public static Window of(Instant opens, Instant closes, ZoneId zone) {
        return new Window(opens, closes, nightOf(opens, zone));
    }

    /** The evening that an instant belongs to, by the clocks of a zone. */
    public static LocalDate nightOf(Instant at, ZoneId zone) {
        return at.atZone(zone).toLocalDateTime().minus(MORNING).toLocalDate();
    }

    public Duration length() {
        return Duration.between(opens, closes);
    }
}
