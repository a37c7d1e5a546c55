package calmstep.core.wave;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** The list schedule against proven optima. */
@Tag("sweep")
class WaveOracleTest {
    /**
     * Some of the first ones, two of them with units that find no place, and those that a weaker
     * search took a night or a day too many for.
     */
    private static final int[] SEEDS =
            IntStream.concat(
                            Sweep.numbers("exact waves", 3, 40).stream().mapToInt(seed -> seed),
                            IntStream.of(5, 16, 77, 163, 218, 226, 251, 329, 453, 461, 579, 587))
                    .distinct()
                    .toArray();

    /** How much the solver may do for a task, in its own measure of work. */
    private static final double WORK = Sweep.isThorough() ? 2 : 0.1;

    @Test
    void areAsGoodAsAnExactSolverFindsAtAll() {
        List<Double> later = new ArrayList<>();
        int sureOfNone = 0;
        for (int seed : SEEDS) {
            WaveTask task =
                    RandomWaves.task(1_000 + seed, 4 + seed % 22, 2 + seed % 4, 5 + seed % 5);
            Schedule ours = WaveSearch.of(task);
            assertThat(BrokenRules.of(task, ours)).as("seed %s: broken rules", seed).isEmpty();
            ExactWaves.Answer exact = ExactWaves.solve(task, WORK);
            if (exact.proven() && exact.best().isEmpty()) {
                assertThat(ours.nowhere()).as("seed %s: not all can be placed", seed).isNotEmpty();
                sureOfNone++;
            } else if (exact.proven()) {
                ExactWaves.Best best = exact.best().get();
                assertThat(ours.nowhere()).as("seed %s: all can be placed", seed).isEmpty();
                assertThat(ours.nights())
                        .as("seed %s: nights", seed)
                        .hasSizeLessThanOrEqualTo(best.nights());
                double ratio =
                        Duration.between(task.from(), ours.end().orElseThrow()).toMinutes()
                                / (double) best.end();
                assertThat(ratio).as("seed %s: end", seed).isBetween(1.0, 1.15);
                assertThat(ours.atLeast().nights())
                        .as("seed %s: bound", seed)
                        .isLessThanOrEqualTo(best.nights());
                assertThat(Duration.between(task.from(), ours.atLeast().end()).toMinutes())
                        .as("seed %s: bound", seed)
                        .isLessThanOrEqualTo(best.end());
                later.add(ratio);
            }
        }
        assertThat(sureOfNone).isPositive();
        assertThat(later).hasSizeGreaterThan(SEEDS.length / 2);
        assertThat(later.stream().mapToDouble(Double::doubleValue).average().orElseThrow())
                .isLessThan(1.05);
    }

    /** Among the nights of a quarter too, where a window opens daily, or once a month. */
    @Test
    void findsTheBestOfSmallPlansOverAQuarter() {
        int proven = 0;
        for (int seed : Sweep.numbers("plans over a quarter", 12, 1_000)) {
            WaveTask task = QuarterWaves.task(seed);
            Schedule ours = WaveSearch.of(task);
            assertThat(BrokenRules.of(task, ours)).as("seed %s: broken rules", seed).isEmpty();
            ExactWaves.Answer exact = ExactWaves.solve(task, 0.5);
            if (exact.proven() && exact.best().isPresent()) {
                ExactWaves.Best best = exact.best().get();
                assertThat(ours.nowhere()).as("seed %s: all can be placed", seed).isEmpty();
                assertThat(ours.nights()).as("seed %s: nights", seed).hasSize(best.nights());
                assertThat(Duration.between(task.from(), ours.end().orElseThrow()).toMinutes())
                        .as("seed %s: end", seed)
                        .isEqualTo(best.end());
                proven++;
            }
        }
        assertThat(proven).isPositive();
    }
}
