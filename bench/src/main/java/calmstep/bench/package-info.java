/**
 * Measurements behind {@code bin/bench}: one figure a name, against a stated aim. Nothing here is
 * asserted in a test.
 */
@NullMarked
package calmstep.bench;

import org.jspecify.annotations.NullMarked;
