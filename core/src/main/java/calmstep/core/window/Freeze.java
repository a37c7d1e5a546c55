package calmstep.core.window;

import java.time.LocalDateTime;

/**
 * Time in which sites may not be disturbed, whatever their windows say.
 *
 * @param from by the clocks of each site
 * @param until the first moment after it
 */
public record Freeze(String name, Places places, LocalDateTime from, LocalDateTime until) {
    public Freeze {
        if (!from.isBefore(until)) {
            throw new IllegalArgumentException(
                    "The freeze \"%s\" must end after it begins; saw %s to %s."
                            .formatted(name, from, until));
        }
    }
}
