package calmstep.service.rehearsals;

import calmstep.service.runs.RunView.TroubleView;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What came out of a rehearsal.
 *
 * @param run name of the run that holds everything said and done
 * @param broken why it could not be played to its end; empty otherwise
 * @param notPlayed units that no stand-in could be made for
 */
public record Outcome(
        String run,
        String broken,
        List<NotPlayed> notPlayed,
        List<PlayedNight> nights,
        List<PlayedUnit> units) {
    /** Of one that could not be played to its end. */
    static Outcome broken(String run, String why, List<NotPlayed> notPlayed) {
        return new Outcome(run, why, notPlayed, List.of(), List.of());
    }

    public record NotPlayed(String device, String why) {}

    /**
     * @param words what the night is called
     * @param plannedEnd of its last unit, with its margin
     * @param playedEnd of the last unit that ended; null where none did
     * @param closes the last of its windows
     */
    public record PlayedNight(
            String words,
            Instant begins,
            Instant plannedEnd,
            @Nullable Instant playedEnd,
            Instant closes,
            List<PlayedPart> parts) {}

    /**
     * A part of a unit's path, planned against played, in the plan's time.
     *
     * @param plannedEnd with its margin
     * @param how {@code in-time}, {@code late} (inside its window, beyond its margin), {@code over}
     *     (beyond its window), {@code stuck}, {@code held} (its window had closed before it could
     *     begin), {@code not-begun}
     */
    public record PlayedPart(
            String device,
            String site,
            String siteTitle,
            String zone,
            int part,
            String from,
            String to,
            Instant plannedBegin,
            Instant plannedEnd,
            Instant closes,
            @Nullable Instant playedBegin,
            @Nullable Instant playedEnd,
            String how) {}

    /**
     * @param waitsFor why it did not go on; empty where nothing kept it
     */
    public record PlayedUnit(
            String device,
            String from,
            String to,
            String state,
            String waitsFor,
            @Nullable TroubleView trouble,
            List<PlayedStep> steps) {}

    /**
     * @param seconds that it took by the stand-in's clock; null for a step that did not end
     * @param expected seconds that half of such steps stay below; null for one that was not needed
     */
    public record PlayedStep(
            int hop,
            String step,
            String state,
            @Nullable Double seconds,
            @Nullable Double expected) {}
}
