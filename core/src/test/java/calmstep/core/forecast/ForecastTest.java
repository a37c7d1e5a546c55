package calmstep.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import calmstep.core.window.Limits;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class ForecastTest {
    private static final int DRAWS = 20_000;
    private static final Limits WIDE = new Limits(100, 100, 100, Map.of(), 0, Duration.ZERO);

    private static Leg leg(
            String unit, double begins, double closes, Set<String> notWith, StepTime... times) {
        return new Leg(
                unit,
                1,
                "dunmere",
                "osmer-r6",
                begins,
                closes,
                Arrays.stream(times)
                        .map(t -> new Leg.Timed(StepName.COME_BACK, "1 > 2", t))
                        .toList(),
                notWith);
    }

    @Test
    void isWhatTheFormulaSaysForOneStep() {
        NightForecast night =
                NightPlay.of(
                        List.of(leg("a", 600, 600 + 400, Set.of(), StepTime.of(300, 0.3))),
                        WIDE,
                        DRAWS,
                        1);
        assertThat(night.median()).isCloseTo(900, within(4.0));
        assertThat(night.p90()).isCloseTo(600 + 300 * Math.exp(0.3 * 1.28155), within(6.0));
        assertThat(night.chance())
                .as(
                        "the chance of a log-normal below 400: the normal one of ln(400/300)/0.3 ="
                                + " 0.959")
                .isCloseTo(0.831, within(0.012));
    }

    @Test
    void addsUpWhereThingsWaitForEachOtherAndOnlyThere() {
        StepTime sure = new StepTime(Math.log(100), 0);
        List<Leg> three =
                List.of(
                        leg("a", 0, 250, Set.of(), sure),
                        leg("b", 0, 250, Set.of(), sure),
                        leg("c", 0, 250, Set.of(), sure));
        assertThat(NightPlay.of(three, WIDE, 10, 1).median()).isCloseTo(100, within(0.001));
        assertThat(
                        NightPlay.of(three, new Limits(2, 9, 9, Map.of(), 0, Duration.ZERO), 10, 1)
                                .median())
                .isCloseTo(200, within(0.001));
        NightForecast oneByOne =
                NightPlay.of(three, new Limits(9, 1, 9, Map.of(), 0, Duration.ZERO), 10, 1);
        assertThat(oneByOne.median()).isCloseTo(300, within(0.001));
        assertThat(oneByOne.chance()).as("the third ends at 300, behind its window").isZero();
        assertThat(oneByOne.find("b", 1)).map(NightForecast.Part::chance).contains(1.0);
        List<Leg> behind =
                List.of(
                        leg("far", 0, 900, Set.of("near"), sure),
                        leg("near", 50, 900, Set.of("far"), sure));
        assertThat(NightPlay.of(behind, WIDE, 10, 1).median())
                .as("what is cut off is over before")
                .isCloseTo(200, within(0.001));
    }

    /**
     * The same night played another way: by hand, over a sorted list of ends, with Java's own
     * random numbers.
     */
    @Test
    void agreesWithANightPlayedByHand() {
        Random random = new Random(3);
        for (int round = 0; round < 5; round++) {
            int places = 1 + random.nextInt(4);
            List<Leg> legs =
                    IntStream.range(0, 12)
                            .mapToObj(
                                    i ->
                                            leg(
                                                    "u%s".formatted(10 + i),
                                                    60.0 * i,
                                                    5_000,
                                                    Set.of(),
                                                    StepTime.of(
                                                            60 + random.nextInt(300),
                                                            0.1 + random.nextDouble() / 2)))
                            .toList();
            double[] ends = new double[DRAWS];
            for (int draw = 0; draw < DRAWS; draw++) {
                List<Double> running = new ArrayList<>();
                for (Leg leg : legs) {
                    running.sort(null);
                    double begin =
                            running.size() < places
                                    ? leg.begins()
                                    : Math.max(leg.begins(), running.get(running.size() - places));
                    running.add(
                            begin
                                    + Math.exp(
                                            leg.steps().getFirst().time().logSeconds()
                                                    + leg.steps().getFirst().time().spread()
                                                            * random.nextGaussian()));
                }
                ends[draw] = running.stream().mapToDouble(d -> d).max().orElseThrow();
            }
            Arrays.sort(ends);
            NightForecast night =
                    NightPlay.of(
                            legs, new Limits(places, 99, 99, Map.of(), 0, Duration.ZERO), DRAWS, 1);
            assertThat(night.median()).isCloseTo(ends[DRAWS / 2], within(ends[DRAWS / 2] * 0.02));
            assertThat(night.p90())
                    .isCloseTo(ends[DRAWS * 9 / 10], within(ends[DRAWS * 9 / 10] * 0.02));
        }
    }

    @Test
    void namesTheStepThatDecides() {
        Leg wild =
                new Leg(
                        "b",
                        1,
                        "s",
                        "f",
                        0,
                        9_000,
                        List.of(
                                new Leg.Timed(StepName.CHOOSE_BOOT, "1 > 2", StepTime.of(10, 0.1)),
                                new Leg.Timed(StepName.COME_BACK, "1 > 2", StepTime.of(400, 0.6))),
                        Set.of());
        NightForecast night =
                NightPlay.of(
                        List.of(leg("a", 0, 9_000, Set.of(), StepTime.of(100, 0.2)), wild),
                        WIDE,
                        2_000,
                        5);
        assertThat(night.decides())
                .hasValueSatisfying(
                        d -> {
                            assertThat(d.unit()).isEqualTo("b");
                            assertThat(d.step()).isEqualTo(StepName.COME_BACK);
                            assertThat(d.share()).isBetween(0.7, 1.0);
                        });
        assertThat(NightPlay.of(List.of(wild), WIDE, 500, 5))
                .isEqualTo(NightPlay.of(List.of(wild), WIDE, 500, 5));
        assertThat(NightPlay.of(List.of(), WIDE, 500, 5).chance()).isEqualTo(1);
    }

    @Test
    void sumsStepsByTheirMoments() {
        List<StepTime> steps =
                List.of(
                        StepTime.of(240, 0.25),
                        StepTime.of(8, 0.5),
                        StepTime.of(90, 0.35),
                        StepTime.of(20, 0.4));
        Random random = new Random(1);
        double[] sums =
                IntStream.range(0, DRAWS)
                        .mapToDouble(
                                _ ->
                                        steps.stream()
                                                .mapToDouble(
                                                        s ->
                                                                Math.exp(
                                                                        s.logSeconds()
                                                                                + s.spread()
                                                                                        * random
                                                                                                .nextGaussian()))
                                                .sum())
                        .sorted()
                        .toArray();
        assertThat(StepTime.sum(steps).medianSeconds()).isCloseTo(sums[DRAWS / 2], within(6.0));
        assertThat(StepTime.sum(steps).p90().toSeconds())
                .isCloseTo((long) sums[DRAWS * 9 / 10], within(12L));
    }

    private static Hop hop(String from, String to) {
        return new Hop(
                "system",
                from,
                to,
                List.<FirmwareImage>of(),
                List.of(),
                List.of(),
                1,
                Duration.ofMinutes(4),
                Effect.Configuration.KEPT,
                true,
                List.of(),
                List.of());
    }

    private static Times afterSeeing(int count, double ratio, String model) {
        return Times.learnt(
                IntStream.range(0, count)
                        .mapToObj(
                                _ ->
                                        new Seen(
                                                "osmer-r6",
                                                model,
                                                "1 > 2",
                                                StepName.COME_BACK,
                                                240,
                                                240 * ratio))
                        .collect(Collectors.toList()));
    }

    private static StepTime restart(Times times, String model) {
        return times.of(
                "osmer-r6", model, hop("1", "2"), StepName.COME_BACK, Duration.ofMinutes(4), 1);
    }

    @Test
    void learnsFromWhatWasSeenTheMoreTheMoreItWasSeen() {
        assertThat(restart(Times.byCatalogue(), "R6-4").medianSeconds())
                .isCloseTo(240, within(0.01));
        double one = restart(afterSeeing(1, 2, "R6-4"), "R6-4").medianSeconds();
        double ten = restart(afterSeeing(10, 2, "R6-4"), "R6-4").medianSeconds();
        double many = restart(afterSeeing(500, 2, "R6-4"), "R6-4").medianSeconds();
        assertThat(one).isBetween(250.0, 400.0).isLessThan(ten);
        assertThat(many).isCloseTo(480, within(4.0));
        assertThat(restart(afterSeeing(10, 2, "R6-2"), "R6-4").medianSeconds())
                .as("another model of the family tells less")
                .isBetween(250.0, ten);
        assertThat(
                        Times.learnt(
                                        List.of(
                                                new Seen(
                                                        "tarnel-t2",
                                                        "T2-24",
                                                        "1 > 2",
                                                        StepName.COME_BACK,
                                                        240,
                                                        999)))
                                .of(
                                        "osmer-r6",
                                        "R6-4",
                                        hop("1", "2"),
                                        StepName.COME_BACK,
                                        Duration.ofMinutes(4),
                                        1)
                                .medianSeconds())
                .as("another family tells nothing")
                .isCloseTo(240, within(0.01));
        assertThat(restart(afterSeeing(500, 2, "R6-4"), "R6-4").spread())
                .as("what is always the same gets a small spread")
                .isLessThan(0.05);
    }

    /** Against the share of many draws; a time that has been taken already is conditioned upon. */
    @Test
    void theChanceToEndInTimeIsTheShareOfDrawsThatDo() {
        java.util.SplittableRandom random = new java.util.SplittableRandom(7);
        StepTime time = StepTime.of(200, 0.4);
        double[] drawn =
                java.util.stream.DoubleStream.generate(() -> time.draw(random))
                        .limit(200_000)
                        .toArray();
        for (int elapsed : new int[] {0, 100, 250}) {
            for (int available : new int[] {30, 100, 400}) {
                double still =
                        java.util.Arrays.stream(drawn).filter(seconds -> seconds > elapsed).count();
                double inTime =
                        java.util.Arrays.stream(drawn)
                                .filter(
                                        seconds ->
                                                seconds > elapsed && seconds <= elapsed + available)
                                .count();
                assertThat(
                                time.chanceWithin(
                                        Duration.ofSeconds(elapsed), Duration.ofSeconds(available)))
                        .as("%s s taken, %s s left", elapsed, available)
                        .isCloseTo(inTime / still, within(0.01));
            }
        }
        assertThat(time.chanceWithin(Duration.ZERO, Duration.ZERO)).isZero();
    }
}
