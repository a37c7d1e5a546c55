package calmstep.core.forecast;

import calmstep.core.step.StepName;
import java.util.Locale;

/**
 * What a step of this fleet took.
 *
 * @param hop from and to, as "2.6.3 > 2.8.2"
 * @param expected seconds that the catalogue gave for it
 * @param took seconds that it took
 */
public record Seen(
        String family, String model, String hop, StepName step, double expected, double took) {
    public Seen {
        if (expected <= 0 || took <= 0) {
            throw new IllegalArgumentException(
                    String.format(
                            Locale.ROOT,
                            "Times are positive; saw %f expected and %f taken",
                            expected,
                            took));
        }
    }

    double logRatio() {
        return Math.log(took / expected);
    }
}
