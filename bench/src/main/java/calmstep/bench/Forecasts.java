package calmstep.bench;

import calmstep.core.forecast.Leg;
import calmstep.core.forecast.NightPlay;
import calmstep.core.forecast.StepTime;
import calmstep.core.step.StepName;
import calmstep.core.window.Limits;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * The likelihood of one wave of 500 units, each with four steps in its window, over real limits,
 * played 2,000 times.
 */
final class Forecasts {
    private static final int UNITS = 500;
    private static final int DRAWS = 2_000;

    private Forecasts() {}

    static List<Figure> take() {
        List<Leg.Timed> steps =
                List.of(
                        new Leg.Timed(StepName.CHOOSE_BOOT, "1 > 2", StepTime.of(6, 0.4)),
                        new Leg.Timed(StepName.RESTART, "1 > 2", StepTime.of(6, 0.4)),
                        new Leg.Timed(StepName.COME_BACK, "1 > 2", StepTime.of(240, 0.25)),
                        new Leg.Timed(StepName.PROVE, "1 > 2", StepTime.of(20, 0.4)));
        List<Leg> legs =
                IntStream.range(0, UNITS)
                        .mapToObj(
                                i ->
                                        new Leg(
                                                String.format(Locale.ROOT, "u%03d", i),
                                                1,
                                                "s" + i % 50,
                                                "f" + i % 8,
                                                60.0 * Math.floorDiv(i, 25),
                                                3 * 3600.0,
                                                steps,
                                                i % 10 == 9
                                                        ? Set.of(
                                                                String.format(
                                                                        Locale.ROOT,
                                                                        "u%03d",
                                                                        i - 1),
                                                                String.format(
                                                                        Locale.ROOT,
                                                                        "u%03d",
                                                                        i - 2))
                                                        : Set.of()))
                        .toList();
        long begun = System.nanoTime();
        double chance =
                NightPlay.of(
                                legs,
                                new Limits(60, 3, 20, Map.of(), 1, Duration.ofHours(12)),
                                DRAWS,
                                1)
                        .chance();
        double seconds = (System.nanoTime() - begun) / 1e9;
        if (chance <= 0 || chance > 1) {
            throw new IllegalStateException("A chance lies between 0 and 1, saw " + chance);
        }
        return List.of(new Figure("forecast", seconds, "s", 1));
    }
}
