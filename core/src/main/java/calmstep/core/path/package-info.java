/**
 * From what runs to what is wanted: cheapest paths over the states of a device.
 *
 * <p>A node is a state (component → release); an edge installs one release of the catalogue. {@link
 * calmstep.core.path.Moves} says what bars an edge and explains it; {@link
 * calmstep.core.path.Graph} is the same compiled to numbers, for a search that asks millions of
 * times. Stepping stones lie between what runs and what is wanted and other components only move
 * up, so the graph has no cycle: {@link calmstep.core.path.CostToGo} works each state's cheapest
 * way on out once, when it is asked for, and all devices of one {@link calmstep.core.path.Kind}
 * share what it knows. Alternatives come by best-first search with that exact cost as its estimate,
 * so it goes straight to the next best path (Hart, Nilsson, Raphael 1968). Where there is no path,
 * the same recursion runs with each violated guard at a cost of one instead of being forbidden;
 * what bars that path is then thinned until nothing of it can be left out.
 *
 * <p>Costs are vectors, compared field by field in the order of the {@link
 * calmstep.core.path.Preference}, packed into two numbers while the search runs; equal costs go to
 * the newer stepping stone, so that one question has one answer.
 */
@NullMarked
package calmstep.core.path;

import org.jspecify.annotations.NullMarked;
