/**
 * Who loses the network when something restarts. The fleet is an undirected graph: devices are
 * nodes, links are edges, and some devices are roots, where our service or the users' services sit.
 * What a set of devices cuts off is what has no way to a root while they are down. For one device
 * at a time one depth-first pass over the whole fleet answers (low points, after Hopcroft and
 * Tarjan: a subtree hangs on a node alone when no edge leads out of it above that node); a node
 * that roots stand behind is no exception, since all roots hang on one node above them. For sets a
 * plain search does.
 */
@NullMarked
package calmstep.core.reach;

import org.jspecify.annotations.NullMarked;
