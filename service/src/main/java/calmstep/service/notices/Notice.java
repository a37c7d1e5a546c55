package calmstep.service.notices;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What other systems are told.
 *
 * @param id  number of the event; the same one is the same notice
 * @param run name of the run that it belongs to; null where it belongs to none
 */
record Notice(long id, Instant at, String kind, String subject, @Nullable String run, String who, String text) {
    /** Whether somebody should look at once. */
    boolean isUrgent() {
        return text.endsWith(" is stuck.") || kind.equals("gate") && text.startsWith("At the gate");
    }
}
