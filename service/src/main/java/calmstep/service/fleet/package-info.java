/** The inventory, the logins that open devices, and what devices show when they are read. Readings are only ever added. */
@NullMarked
package calmstep.service.fleet;

import org.jspecify.annotations.NullMarked;
