/**
 * Who is behind, and how a device gets from what it runs to what is wanted. Nothing is kept here:
 * it is worked out from readings and catalogues.
 */
@NullMarked
package calmstep.service.paths;

import org.jspecify.annotations.NullMarked;
