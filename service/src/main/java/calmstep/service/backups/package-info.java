/**
 * Configurations pulled off devices, sealed at rest, only ever added. What comes out of the
 * interface is masked as the family's dialect says.
 */
@NullMarked
package calmstep.service.backups;

import org.jspecify.annotations.NullMarked;
