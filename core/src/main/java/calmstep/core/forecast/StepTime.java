package calmstep.core.forecast;

import java.time.Duration;
import java.util.Collection;
import java.util.Locale;
import java.util.random.RandomGenerator;

/**
 * How long something takes: log-normal.
 *
 * @param logSeconds logarithm of the median in seconds
 * @param spread standard deviation of the logarithm; 0 for what always takes the same time
 */
public record StepTime(double logSeconds, double spread) {
    /** The point of the normal distribution below which nine of ten lie. */
    private static final double NINE_OF_TEN = 1.2815515655446004;

    public StepTime {
        if (spread < 0 || Double.isNaN(logSeconds)) {
            throw new IllegalArgumentException(
                    String.format(
                            Locale.ROOT,
                            "Expected a median and a spread of at least 0, saw %f and %f",
                            logSeconds,
                            spread));
        }
    }

    public static StepTime of(double medianSeconds, double spread) {
        return new StepTime(Math.log(medianSeconds), spread);
    }

    /** What takes the one after the other, by the first two moments of the sum (Fenton 1960). */
    public static StepTime sum(Collection<StepTime> times) {
        double mean = times.stream().mapToDouble(StepTime::meanSeconds).sum();
        double variance =
                times.stream()
                        .mapToDouble(
                                t ->
                                        Math.expm1(t.spread * t.spread)
                                                * t.meanSeconds()
                                                * t.meanSeconds())
                        .sum();
        double squaredSpread = Math.log1p(variance / (mean * mean));
        return new StepTime(Math.log(mean) - squaredSpread / 2, Math.sqrt(squaredSpread));
    }

    public double medianSeconds() {
        return Math.exp(logSeconds);
    }

    private double meanSeconds() {
        return Math.exp(logSeconds + spread * spread / 2);
    }

    /** The time that nine of ten stay below. */
    public Duration p90() {
        return Duration.ofMillis(Math.round(1000 * Math.exp(logSeconds + NINE_OF_TEN * spread)));
    }

    /** The seconds that one of ten stays below. */
    double p10Seconds() {
        return Math.exp(logSeconds - NINE_OF_TEN * spread);
    }

    /**
     * How likely it ends in time.
     *
     * @param elapsed how long it has taken already
     * @param available how much longer it may take
     * @return from 0 to 1, given that it has not ended yet
     */
    public double chanceWithin(Duration elapsed, Duration available) {
        if (available.isNegative() || available.isZero()) {
            return 0;
        }
        double until = below(elapsed.toMillis() / 1e3);
        return until > 1 - 1e-9
                ? 0
                : (below(elapsed.plus(available).toMillis() / 1e3) - until) / (1 - until);
    }

    private double below(double seconds) {
        if (seconds <= 0) {
            return 0;
        }
        double distance = Math.log(seconds) - logSeconds;
        return spread == 0 ? distance >= 0 ? 1 : 0 : standardNormal(distance / spread);
    }

    /**
     * Its distribution, by Abramowitz and Stegun 7.1.26 for the error function; off by 1.5e-7 at
     * most.
     */
    private static double standardNormal(double z) {
        double x = Math.abs(z) / Math.sqrt(2);
        double t = 1 / (1 + 0.3275911 * x);
        double erf =
                1
                        - t
                                * (0.254829592
                                        + t
                                                * (-0.284496736
                                                        + t
                                                                * (1.421413741
                                                                        + t
                                                                                * (-1.453152027
                                                                                        + t
                                                                                                * 1.061405429))))
                                * Math.exp(-x * x);
        return z < 0 ? (1 - erf) / 2 : (1 + erf) / 2;
    }

    double draw(RandomGenerator random) {
        return Math.exp(logSeconds + spread * random.nextGaussian());
    }
}
