package calmstep.core.window;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Optional;

/**
 * Windows of some sites.
 *
 * @param from local time at which they open
 * @param until local time at which they close; on the next day where it is not after {@code from}
 */
public record WindowRule(String name, Places places, Days days, LocalTime from, LocalTime until) {

    /**
     * The window that opens on a day; empty in the one night of a year in which the clocks jump
     * over it.
     */
    Optional<Window> on(LocalDate day, ZoneId zone) {
        Instant opens = day.atTime(from).atZone(zone).toInstant();
        Instant closes =
                (until.isAfter(from) ? day : day.plusDays(1))
                        .atTime(until)
                        .atZone(zone)
                        .toInstant();
        return opens.isBefore(closes)
                ? Optional.of(Window.of(opens, closes, zone))
                : Optional.empty();
    }
}
