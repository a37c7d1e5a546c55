/** Device secrets at rest: AES-256-GCM under a key that stands in a file, never in the database. */
@NullMarked
package calmstep.service.secrets;

import org.jspecify.annotations.NullMarked;
