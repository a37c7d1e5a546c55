/**
 * Which addresses a search may touch. A {@link calmstep.core.discover.Prefix} is a block of
 * addresses, IPv4 or IPv6; an {@link calmstep.core.discover.AddressSpace} is several of them
 * without what is left out. Nothing outside of it is ever touched, and its addresses come in one
 * fixed order, so that a search can be told, counted and cut off.
 */
@NullMarked
package calmstep.core.discover;

import org.jspecify.annotations.NullMarked;
