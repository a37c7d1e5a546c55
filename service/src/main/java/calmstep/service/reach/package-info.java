/**
 * Who loses the network when something restarts, asked of the inventory's links: single points,
 * what sets of devices cut off, and that in users' words.
 */
@NullMarked
package calmstep.service.reach;

import org.jspecify.annotations.NullMarked;
