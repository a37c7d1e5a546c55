/** What the steps of this fleet's runs took, for forecasts. */
@NullMarked
package calmstep.service.durations;

import org.jspecify.annotations.NullMarked;
