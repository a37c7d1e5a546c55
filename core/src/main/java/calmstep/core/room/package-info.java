/** Room on a volume: what may go so that an image fits, and what may never go. */
@NullMarked
package calmstep.core.room;

import org.jspecify.annotations.NullMarked;
