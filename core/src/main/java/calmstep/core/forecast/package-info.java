/**
 * How long things take, and how likely a night is to end in time.
 *
 * <p>A step's time is log-normal ({@link calmstep.core.forecast.StepTime}): it is never negative,
 * and its long tail is to the right, as that of restarts is. {@link calmstep.core.forecast.Times}
 * knows the median and spread that the catalogue gives at first; what this fleet's own runs took
 * moves them, by family, then model, then hop, each level drawn towards the one above while it has
 * seen little (a weighted mean of logarithms, as in empirical Bayes shrinkage). Sums of steps are
 * matched by their first two moments (Fenton 1960). {@link calmstep.core.forecast.NightForecast}
 * plays a night many times over its real order and limits, with a seed, and tells median, 90th
 * percentile, the chance of ending inside the windows, and the step that most often decides: of all
 * that the end waited for, the one that lost most against a good night.
 */
@NullMarked
package calmstep.core.forecast;

import org.jspecify.annotations.NullMarked;
