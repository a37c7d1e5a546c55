/**
 * What happened, in order, once. Appending takes one lock for all, so that the order of identifiers
 * is the order of commits and a follower that asks for "everything after n" misses nothing. The
 * events of a run are chained by hashes.
 */
@NullMarked
package calmstep.service.events;

import org.jspecify.annotations.NullMarked;
