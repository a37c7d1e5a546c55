package calmstep.service.records;

import calmstep.core.fleet.Reading;
import calmstep.core.step.Turn;
import calmstep.service.backups.BackupStore.BackupView;
import calmstep.service.events.Event;
import calmstep.service.plans.PlanView;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunViews.TalkLine;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The account of a run.
 *
 * @param chainWhole whether the run's events follow from each other by their hashes
 */
public record RunRecord(
        String run,
        Instant madeAt,
        PlanView plan,
        RunView outcome,
        List<UnitRecord> units,
        List<Event> events,
        boolean chainWhole) {

    /**
     * One unit: what the device showed before and after, its backups, everything that was said to
     * it, and when its parts might be done.
     *
     * @param after the last proof's, or what was read when it left the run without one; null where
     *     it did not answer
     */
    public record UnitRecord(
            String device,
            String state,
            @Nullable Reading before,
            @Nullable Reading after,
            List<BackupView> backups,
            List<TalkLine> talk,
            List<Turn> turns) {
        public UnitRecord {
            // A record that was made when nobody asked for the windows.
            turns = List.copyOf(Objects.requireNonNullElse(turns, List.of()));
        }
    }
}
