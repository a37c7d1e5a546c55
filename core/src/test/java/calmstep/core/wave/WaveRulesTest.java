package calmstep.core.wave;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class WaveRulesTest {

    @Test
    void areNeverBrokenOnAThousandLargeTasks() {
        IntStream.range(0, 1_000).parallel().forEach(seed -> {
            WaveTask task = RandomWaves.task(seed, 60 + seed % 240, 4 + seed % 20, 4 + seed % 14);
            Schedule schedule = WaveSearch.of(task, 2_000);
            assertThat(BrokenRules.of(task, schedule)).as("seed %d", seed).isEmpty();
            assertThat(schedule.nights().size()).as("seed %d", seed).isGreaterThanOrEqualTo(schedule.atLeast().nights());
            schedule.end().ifPresent(end -> assertThat(end).as("seed %d", seed).isAfterOrEqualTo(schedule.atLeast().end()));
        });
    }

    @Test
    void giveTheSameScheduleForTheSameTask() {
        WaveTask task = RandomWaves.task(11, 80, 6, 10);
        List<WaveUnit> turned = task.units().reversed();
        WaveTask same = new WaveTask(task.from(), task.until(), turned, Map.copyOf(task.windows()), task.kindOf(), task.bytesPerSecond(), task.limits(), task.wishes());
        assertThat(WaveSearch.of(same)).isEqualTo(WaveSearch.of(task));
    }

    /** The checker itself must see what is wrong: each schedule below is a good one with one thing changed. */
    @Test
    void areSeenToBeBrokenWhereTheyAre() {
        WaveTask task = RandomWaves.task(3, 40, 4, 12);
        Schedule good = WaveSearch.of(task);
        assertThat(BrokenRules.of(task, good)).isEmpty();
        Placement first = good.placements().getFirst();
        Instant noon = Instant.parse("2026-11-24T15:00:00Z");
        Placement moved = new Placement(first.unit(), first.part(), noon, noon.plus(java.time.Duration.between(first.begins(), first.ends())), first.closes(), first.night(), first.pilot(), first.stagedBy(), first.why());
        assertThat(BrokenRules.of(task, with(good, List.of(moved)))).isNotEmpty();
        assertThat(BrokenRules.of(task, with(good, List.of()))).isNotEmpty();
        Placement last = good.placements().getLast();
        Placement beside = new Placement(last.unit(), last.part(), first.begins(), first.ends(), first.closes(), first.night(), !last.pilot(), last.stagedBy(), last.why());
        assertThat(BrokenRules.of(task, new Schedule(good.from(), java.util.stream.Stream.concat(good.placements().stream().limit(good.placements().size() - 1L), java.util.stream.Stream.of(beside)).toList(), good.nowhere(), good.atLeast())))
                .isNotEmpty();
    }

    private static Schedule with(Schedule good, List<Placement> instead) {
        return new Schedule(good.from(), java.util.stream.Stream.concat(instead.stream(), good.placements().stream().skip(1)).toList(), good.nowhere(), good.atLeast());
    }
}
