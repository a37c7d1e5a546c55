/** What one part of a computation made and another one counts on. */
@NullMarked
package calmstep.core.known;

import org.jspecify.annotations.NullMarked;
