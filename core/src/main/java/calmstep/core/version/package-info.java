/**
 * Version strings: parsed strictly by the scheme that a family names, compared exactly, printed as
 * they came in.
 *
 * <p>A scheme splits a string into numbers, an optional run of letters and an optional build
 * number; two versions of one scheme are compared number by number, then letters, then build. That
 * is a total order: equal means "the same release", whatever the spelling ({@code 5.02} and {@code
 * 5.2}).
 */
@NullMarked
package calmstep.core.version;

import org.jspecify.annotations.NullMarked;
