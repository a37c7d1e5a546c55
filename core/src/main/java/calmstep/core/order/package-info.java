/**
 * The order inside a unit: which member restarts when, so that the unit serves as long as it can.
 *
 * <p>A unit is described by its {@link calmstep.core.order.UnitShape}: how many members, whether
 * one of them is active, how many may be out of service at once, how long a restart, a hand-over
 * and the settling after it take. Its members go the same path of releases, hop by hop. The states
 * of the search are the release of each member and which one is active; equal members are
 * interchangeable, so a state is how many stand on each release, and on which the active one
 * stands. The moves: some members that are not active restart into their next release; the active
 * one hands over; all restart together. After every move the releases that serve side by side must
 * be ones that the catalogue lets work together. Uniform-cost search finds the order with, in this
 * order, the fewest seconds in which the unit serves nobody, the fewest hand-overs, the shortest
 * time. Where no rolling order exists for a hop, the whole unit restarts together, and the pair of
 * releases that bars rolling is named.
 */
@NullMarked
package calmstep.core.order;

import org.jspecify.annotations.NullMarked;
