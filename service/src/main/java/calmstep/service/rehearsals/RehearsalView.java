package calmstep.service.rehearsals;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A rehearsal of a plan.
 *
 * @param number counted from 1, by plan
 * @param state {@code under-way}, {@literal finished}, {@code cancelled}, {@code broken}, or {@code
 *     lost} when its process ended in the middle
 * @param job to follow or end it by
 * @param planChanged whether the plan is another one since
 * @param outcome null as long as it is under way
 */
public record RehearsalView(
        int number,
        String plan,
        String state,
        long job,
        int pace,
        List<AskedFault> asked,
        String startedBy,
        Instant startedAt,
        @Nullable Instant finishedAt,
        boolean planChanged,
        @Nullable Outcome outcome) {}
