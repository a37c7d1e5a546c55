package calmstep.service.events;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * Something that happened.
 *
 * @param id grows with time
 * @param runId the run that it belongs to; null for what belongs to none
 * @param subject what it is about: a device, a plan, a run
 * @param kind {@code fleet}, {@code releases}, {@code shelf}, {@code plan}, {@code run}, {@code
 *     unit}, {@code step}, {@code gate}
 * @param who the person, or {@code calm-step}
 * @param hash SHA-256 over the previous event's hash and this event; chains the events of a run,
 *     and those that belong to none
 */
public record Event(
        long id,
        @Nullable Long runId,
        String subject,
        String kind,
        Instant at,
        String who,
        String text,
        String hash) {
    static Event of(EventRow row) {
        return new Event(
                row.id == null ? 0 : row.id,
                row.runId,
                row.subject,
                row.kind,
                row.at,
                row.who,
                row.text,
                row.hash);
    }
}
