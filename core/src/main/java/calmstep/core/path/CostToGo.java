package calmstep.core.path;

import calmstep.core.path.Graph.Move;
import java.util.Arrays;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What it costs to get from a state to the target, and by which move first: the textbook recursion
 * over an acyclic graph, with each state worked out once and only when it is asked for. Kept in a
 * hash table with open addressing, since states are asked for by the million.
 */
// One object stands for "unreachable", and it is asked for at every move of every search.
@SuppressWarnings("ReferenceEquality")
final class CostToGo {
    private static final PathKey UNREACHABLE = new PathKey(Long.MAX_VALUE, Long.MAX_VALUE);
    private static final long FREE = -1;

    private final Graph graph;
    private final boolean throughBars;
    private final PathKey leastLast;

    private long[] states = new long[1 << 10];
    private PathKey[] costs = new PathKey[1 << 10];
    private Move[] firsts = new Move[1 << 10];
    private int size;

    /**
     * @param throughBars whether a violated guard costs one instead of being forbidden
     */
    CostToGo(Graph graph, boolean throughBars) {
        this.graph = graph;
        this.throughBars = throughBars;
        Arrays.fill(states, FREE);
        leastLast =
                graph.moves().stream()
                        .filter(graph::reaches)
                        .map(CostToGo::atLeast)
                        .findFirst()
                        .orElse(PathKey.NONE);
    }

    private static PathKey atLeast(Move move) {
        return move.varies() ? PathKey.NONE : move.cost();
    }

    /** The cost from a state to the target; empty when no path leads there. */
    Optional<PathKey> of(long state) {
        PathKey cost = cost(state);
        return cost == UNREACHABLE ? Optional.empty() : Optional.of(cost);
    }

    /** The first move of a cheapest path from a state from which the target can be reached. */
    Move first(long state) {
        cost(state);
        return firsts[slot(state)];
    }

    private PathKey cost(long state) {
        int slot = slot(state);
        if (states[slot] == state) {
            return costs[slot];
        }
        int[] digits = graph.digits(state);
        if (graph.isTarget(digits)) {
            return PathKey.NONE;
        }
        put(state, UNREACHABLE, null);
        work(state, digits);
        return costs[slot(state)];
    }

    /**
     * Newer releases are tried first, so that of equal paths the one over the newest releases is
     * taken.
     */
    private void work(long state, int[] digits) {
        Best best = new Best(state, digits);
        graph.forEachNext(digits, throughBars, best::consider);
        put(state, best.cost, best.first);
    }

    /** The best way on from one state so far. */
    private final class Best {
        private final long state;
        private final int[] digits;
        private PathKey cost = UNREACHABLE;
        private @Nullable Move first;

        Best(long state, int[] digits) {
            this.state = state;
            this.digits = digits;
        }

        /**
         * Whatever comes before the last move costs at least something, so most moves cannot be
         * better than what is known.
         */
        void consider(Move move) {
            boolean last = graph.reaches(move);
            PathKey own = graph.cost(move, digits);
            if ((!last && !own.isLessThan(cost, leastLast)) || (last && !own.isLessThan(cost))) {
                return;
            }
            if (!throughBars && !move.isOpen(digits)) {
                return;
            }
            int bars = throughBars ? move.bars(digits) : 0;
            PathKey rest = last ? PathKey.NONE : cost(graph.after(move, state, digits));
            takeIfLess(rest, own, bars, move);
        }

        private void takeIfLess(PathKey rest, PathKey own, int bars, Move move) {
            if (rest != UNREACHABLE) {
                PathKey whole = own.plus(rest).withBars(bars);
                if (whole.isLessThan(cost)) {
                    cost = whole;
                    first = move;
                }
            }
        }
    }

    private int slot(long state) {
        int slot = (int) ((state * 0x9E3779B97F4A7C15L) >>> 32) & states.length - 1;
        while (states[slot] != FREE && states[slot] != state) {
            slot = slot + 1 & states.length - 1;
        }
        return slot;
    }

    private void put(long state, PathKey cost, @Nullable Move first) {
        int slot = slot(state);
        size += states[slot] == FREE ? 1 : 0;
        states[slot] = state;
        costs[slot] = cost;
        firsts[slot] = first;
        if (size * 2 > states.length) {
            grow();
        }
    }

    private void grow() {
        long[] oldStates = states;
        PathKey[] oldCosts = costs;
        Move[] oldFirsts = firsts;
        states = new long[oldStates.length * 2];
        costs = new PathKey[states.length];
        firsts = new Move[states.length];
        Arrays.fill(states, FREE);
        for (int i = 0; i < oldStates.length; i++) {
            if (oldStates[i] != FREE) {
                int slot = slot(oldStates[i]);
                states[slot] = oldStates[i];
                costs[slot] = oldCosts[i];
                firsts[slot] = oldFirsts[i];
            }
        }
    }
}
