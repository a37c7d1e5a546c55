/**
 * From what runs to what is wanted: uniform-cost search over the states of a device.
 *
 * <p>A node is a state (component → release); an edge installs one release of the catalogue. {@link calmstep.core.path.Moves} says
 * what bars an edge; {@link calmstep.core.path.PathSearch} finds the cheapest path, its alternatives (Yen 1971) and, where there is
 * none, the smallest set of things in the way: the same search in which a violated guard costs one instead of being forbidden.
 * Costs are vectors, compared field by field in the order of the {@link calmstep.core.path.Preference}; equal costs go to the newer
 * stepping stone, so that one question has one answer.
 */
@NullMarked
package calmstep.core.path;

import org.jspecify.annotations.NullMarked;
