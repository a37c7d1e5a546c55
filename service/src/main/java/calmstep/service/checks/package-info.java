/**
 * Checks of one's own, by device: kept as lines, tried from this machine, or asked of the device.
 * See {@link calmstep.core.check.OwnCheck}.
 */
@NullMarked
package calmstep.service.checks;

import org.jspecify.annotations.NullMarked;
