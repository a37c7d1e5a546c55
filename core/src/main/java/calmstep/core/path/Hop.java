package calmstep.core.path;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import java.time.Duration;
import java.util.List;

/**
 * One move of a path.
 *
 * @param component the component that moves
 * @param from      release before, as the device or the catalogue writes it
 * @param to        release after
 * @param image     what is installed
 * @param mayRest   whether the device may stay on {@code to} until a later window
 * @param why       the rules that bar the move that would skip this hop; empty for the last hop
 * @param toKnow    caveats and losses, to be read before
 */
public record Hop(
        String component,
        String from,
        String to,
        FirmwareImage image,
        int restarts,
        Duration dark,
        Effect.Configuration configuration,
        boolean mayRest,
        List<Reason> why,
        List<String> toKnow) {
    public Hop {
        why = List.copyOf(why);
        toKnow = List.copyOf(toKnow);
    }
}
