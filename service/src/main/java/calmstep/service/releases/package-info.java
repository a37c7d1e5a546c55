/**
 * Catalogues of releases, dialects of families, and paths. A catalogue is kept as the text that was
 * imported; the newest of a family counts.
 */
@NullMarked
package calmstep.service.releases;

import org.jspecify.annotations.NullMarked;
