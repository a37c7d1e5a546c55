package calmstep.service.runs;

import java.time.Instant;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A run in a list of runs.
 *
 * @param states how many of its units are in each state
 */
record RunSummary(
        long id,
        String name,
        String plan,
        String state,
        String heldWhy,
        String startedBy,
        Instant startedAt,
        @Nullable Instant finishedAt,
        long units,
        Map<String, Long> states) {}
