/**
 * Before and after: what became better, worse, is missing or new, and whether it matters.
 * Configurations are compared line by line in the context of the section that a line stands in, so
 * that a moved line is not a lost one.
 */
@NullMarked
package calmstep.core.compare;

import org.jspecify.annotations.NullMarked;
