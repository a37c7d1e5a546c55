/**
 * What the steps of a run need from a device and its surroundings, as ports. The dialect implements
 * the device, the service the rest; tests implement all of them in memory. Trouble is a value with
 * three parts (expected, seen, what to do) and the device's last lines, since a person has to act
 * on it.
 */
@NullMarked
package calmstep.core.device;

import org.jspecify.annotations.NullMarked;
