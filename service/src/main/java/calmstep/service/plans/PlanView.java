package calmstep.service.plans;

import calmstep.service.paths.HopView;
import calmstep.service.paths.OrderView;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A plan as the interface shows it.
 *
 * @param state {@code draft}, {@code ready}, {@literal approved}, {@code used}, {@code dropped}; or
 *     {@literal stale} when it would come out otherwise now
 * @param prefer what its paths are to be good at
 * @param alternative which of the other paths it takes, from 1; 0 for the best one
 * @param roles which member of a unit is active when all is done: {@code as-they-come}, {@code
 *     as-before}
 * @param changes what would come out otherwise, as sentences; empty unless it is stale
 */
public record PlanView(
        String name,
        String target,
        String prefer,
        int alternative,
        String roles,
        String state,
        String writtenBy,
        Instant writtenAt,
        @Nullable String approvedBy,
        @Nullable Instant approvedAt,
        int version,
        List<PlannedUnit> units,
        List<FindingView> findings,
        List<String> changes) {

    /**
     * @param leftOut whether a person left it out by acknowledging a caution so
     * @param order of the moves inside it; null for a device that is not several
     */
    public record PlannedUnit(
            String device,
            String site,
            String serves,
            List<String> cutsOff,
            String from,
            String to,
            int restarts,
            long darkSeconds,
            @Nullable Instant readAt,
            boolean saveFirst,
            boolean leftOut,
            List<PlannedHop> hops,
            @Nullable OrderView order) {}

    public record PlannedHop(HopView hop, List<String> steps) {}

    public record FindingView(
            String key,
            String severity,
            String device,
            String fact,
            String remedy,
            List<String> choices,
            @Nullable Answer answer) {}

    /** What a person said to a caution. */
    public record Answer(String choice, String reason, String by, Instant at) {}
}
