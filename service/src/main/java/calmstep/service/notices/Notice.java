package calmstep.service.notices;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What other systems are told.
 *
 * @param id number of the event; the same one is the same notice
 * @param run name of the run that it belongs to; null where it belongs to none
 * @param hash the event's, which chains it to all events of its run before; whoever keeps it can
 *     tell a chain that was made anew. Empty for a trial
 */
record Notice(
        long id,
        Instant at,
        String kind,
        String subject,
        @Nullable String run,
        String who,
        String text,
        String hash) {
    /** Whether somebody should look at once. */
    boolean isUrgent() {
        return text.endsWith(" is stuck.")
                || (kind.equals("gate") && text.startsWith("At the gate"));
    }
}
