/**
 * The fleet as people describe it ({@link calmstep.core.fleet.Inventory}) and as the devices show
 * it ({@link calmstep.core.fleet.Reading}). The inventory says where a device is and how it is
 * reached; what it runs is believed only from a reading.
 */
@NullMarked
package calmstep.core.fleet;

import org.jspecify.annotations.NullMarked;
