/** How records of the core are written to and read from text columns. */
@NullMarked
package calmstep.service.json;

import org.jspecify.annotations.NullMarked;
