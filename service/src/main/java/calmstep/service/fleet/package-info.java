/**
 * The inventory, the logins that open devices, and what devices show when they are read. Readings
 * are only ever added. Who was let in or refused where is counted for all nodes.
 */
@NullMarked
package calmstep.service.fleet;

import org.jspecify.annotations.NullMarked;
