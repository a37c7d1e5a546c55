/** Problems as RFC 9457 answers: what was expected, what was seen, what to do. */
@NullMarked
package calmstep.service.problems;

import org.jspecify.annotations.NullMarked;
