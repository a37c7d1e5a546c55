package calmstep.service.runs;

import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.service.shelf.Copy;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A run as the interface shows it.
 *
 * @param rehearsal whether it was played against stand-ins; its times are the plan's then
 * @param heldWhy empty where it is not held
 * @param pace how much faster the devices' clocks run than the times here
 */
public record RunView(
        long id,
        String name,
        String plan,
        String state,
        String startedBy,
        Instant startedAt,
        @Nullable Instant finishedAt,
        boolean rehearsal,
        String heldWhy,
        int pace,
        List<UnitInRun> units) {

    /**
     * @param expectedSeconds how long the whole unit is expected to take, on the device's clock
     * @param copy the copy to it that is under way from the shelf; null when none is
     * @param held whether a person holds it; its run may go on
     * @param doubt what was odd about it when its watch was over; null when nothing was
     * @param trouble of the step that failed; null when none did
     */
    public record UnitInRun(
            long id,
            String device,
            String site,
            String siteTitle,
            String zone,
            String serves,
            String from,
            String to,
            String state,
            int restarts,
            long darkSeconds,
            long expectedSeconds,
            Copy.@Nullable View copy,
            @Nullable Gate gate,
            @Nullable TurnView turn,
            boolean held,
            @Nullable DoubtView doubt,
            @Nullable String setAsideWhy,
            @Nullable TroubleView trouble,
            List<StepView> steps) {}

    /**
     * @param stands what it runs, as it said itself, and how far it was proven or watched when this
     *     was seen
     * @param by who accepted it; null as long as it waits for a person
     */
    public record DoubtView(
            String stands,
            List<String> odd,
            @Nullable String by,
            @Nullable Instant at,
            @Nullable String why) {}

    /**
     * @param open whether somebody said go
     */
    public record Gate(
            String question,
            Instant askedAt,
            boolean open,
            @Nullable String by,
            @Nullable Instant at) {}

    /**
     * When a part of a unit's path is begun.
     *
     * @param part counted from 1
     * @param inWork whether it has begun and has not ended
     * @param waitsFor why it does not begin; empty where nothing keeps it
     * @param outside why its site may not be disturbed then, where a person decided to do so all
     *     the same; empty where it may be
     * @param chance how likely it ends inside its window, from 0 to 1, as it stands now; null where
     *     it is begun outside
     */
    public record TurnView(
            int part,
            int parts,
            Instant begins,
            Instant closes,
            long needsSeconds,
            boolean inWork,
            String waitsFor,
            String outside,
            @Nullable Double chance) {}

    /**
     * @param ways what a person may have done now, as the words of the interface: {@code retry},
     *     {@code rescue}, {@code set-aside}
     * @param back where {@code return} takes it, and what keeps it from going farther; empty where
     *     it is none of the ways
     */
    public record TroubleView(
            String step,
            String expected,
            String seen,
            String remedy,
            List<String> lastLines,
            List<String> ways,
            String back) {}

    /**
     * @param waiting what a step that is not finished waits for; empty when it waits for nothing
     */
    public record StepView(
            int ordinal,
            int hop,
            String name,
            String state,
            int attempts,
            String expected,
            String seen,
            String waiting,
            @Nullable Instant startedAt,
            @Nullable Instant finishedAt,
            List<Change> changes,
            @Nullable ConfigurationComparison configuration) {}
}
