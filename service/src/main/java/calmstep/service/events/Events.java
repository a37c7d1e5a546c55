package calmstep.service.events;

import calmstep.core.evidence.EventChain;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** Appends events and reads them. */
@Component
public class Events {
    /** Who does what the service does by itself. */
    public static final String SERVICE = "calm-step";

    private final EventRows rows;
    private final Clock clock;

    Events(EventRows rows, Clock clock) {
        this.rows = rows;
        this.clock = clock;
    }

    /**
     * Appends within the caller's transaction: the event is there when, and only when, what it
     * tells was committed.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public void append(Optional<Long> runId, String subject, String kind, String who, String text) {
        Instant at = clock.instant().truncatedTo(ChronoUnit.MICROS);
        rows.append(
                runId.orElse(null),
                subject,
                kind,
                at,
                who,
                text,
                EventChain.told(
                        runId.map(String::valueOf).orElse("null"), subject, kind, at, who, text));
    }

    private static String hashOf(EventRow row) {
        return EventChain.hash(
                row.previousHash,
                String.valueOf(row.runId),
                row.subject,
                row.kind,
                row.at,
                row.who,
                row.text);
    }

    @Transactional(readOnly = true)
    public List<Event> ofRun(long runId) {
        return rows.findByRunIdOrderById(runId).stream().map(Event::of).toList();
    }

    /** What people said about a device or another thing, in runs and outside of them. */
    @Transactional(readOnly = true)
    public List<Event> saidAbout(String subject) {
        return rows.saidAbout(subject, SERVICE).stream().map(Event::of).toList();
    }

    /**
     * Whether the chain of a run is whole: every hash follows from its event and the one before.
     */
    @Transactional(readOnly = true)
    public boolean isChainWhole(long runId) {
        String previous = "";
        for (EventRow row : rows.findByRunIdOrderById(runId)) {
            if (!row.previousHash.equals(previous) || !row.hash.equals(hashOf(row))) {
                return false;
            }
            previous = row.hash;
        }
        return true;
    }

    /**
     * What people did outside of runs, and what the service did there by itself: the oldest 2,000
     * behind an event.
     */
    @Transactional(readOnly = true)
    List<Event> trail(long after) {
        return rows.findTop2000ByRunIdIsNullAndIdGreaterThanOrderById(after).stream()
                .map(Event::of)
                .toList();
    }

    /**
     * Within a transaction that ended a run: its chain is tied into the trail, so that a run whose
     * events were all made anew is found out there.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public void tie(long runId, String run) {
        String last =
                rows.findFirstByRunIdOrderByIdDesc(runId).map(row -> row.hash).orElse("nothing");
        append(
                Optional.empty(),
                run,
                "run",
                SERVICE,
                "The run %s is over; the chain of its events came to %s.".formatted(run, last));
    }

    @Transactional(readOnly = true)
    List<Event> after(long id) {
        return rows.findTop500ByIdGreaterThanOrderById(id).stream().map(Event::of).toList();
    }

    /** Number of a run's newest event; 0 where it has none. */
    @Transactional(readOnly = true)
    public long newestOf(long runId) {
        return rows.newestOf(runId);
    }

    @Transactional(readOnly = true)
    long newest() {
        return rows.newest();
    }
}
