/**
 * Checks of one's own: what people use through a device, tried before and after it is changed. Each
 * is a line of text; what it shows is a fact of the kind {@code check} of a reading, so that it is
 * compared as everything else is.
 */
@NullMarked
package calmstep.core.check;

import org.jspecify.annotations.NullMarked;
