package calmstep.core.reach;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntPredicate;

/**
 * Which two nodes of one block cut off a third when both are down, although neither alone does. A
 * block is a greatest part of the network that no single node of it cuts apart; two nodes of
 * different blocks never do more than each of them alone. In a block without one node, whoever cuts
 * it apart is found by depth-first search (Hopcroft and Tarjan 1973).
 */
final class PairCuts {
    private static final int UNSEEN = -1;

    private final int top;

    /** By node of the block, with the top: the others that it is joined with. */
    private final int[][] joined;

    private final int[] seenAt;
    private final int[] low;
    private final int[] from;
    private final int[] given;
    private final int[] stack;

    /**
     * @param joined by node: the others that it is joined with
     * @param top where the way to the roots leaves the block; it is never one of the two
     */
    PairCuts(int[][] joined, int top) {
        this.joined = joined;
        this.top = top;
        seenAt = new int[joined.length];
        low = new int[joined.length];
        from = new int[joined.length];
        given = new int[joined.length];
        stack = new int[joined.length];
    }

    /** Each pair once, the lower one first. */
    List<int[]> among(IntPredicate some) {
        List<int[]> pairs = new ArrayList<>();
        boolean[] replaced = replaced();
        for (int one = 0; one < joined.length; one++) {
            if (one != top && !replaced[one] && some.test(one)) {
                boolean[] cutting = cuttingWithout(one);
                for (int other = one + 1; other < joined.length; other++) {
                    if (cutting[other] && some.test(other)) {
                        pairs.add(new int[] {one, other});
                    }
                }
            }
        }
        return pairs;
    }

    /**
     * Nodes beside which two more join the same others: whichever of the two is up goes the way of
     * the one that is down, so it is in no pair. A fleet that hangs on two routers is of such
     * nodes.
     */
    private boolean[] replaced() {
        Map<List<Integer>, List<Integer>> alike = new HashMap<>();
        for (int node = 0; node < joined.length; node++) {
            if (node != top) {
                alike.computeIfAbsent(
                                Arrays.stream(joined[node]).sorted().boxed().toList(),
                                _ -> new ArrayList<>())
                        .add(node);
            }
        }
        boolean[] replaced = new boolean[joined.length];
        alike.values().stream()
                .filter(nodes -> nodes.size() > 2)
                .flatMap(List::stream)
                .forEach(node -> replaced[node] = true);
        return replaced;
    }

    /** The nodes that cut off another one while this one is down. */
    private boolean[] cuttingWithout(int down) {
        boolean[] cutting = new boolean[joined.length];
        Arrays.fill(seenAt, UNSEEN);
        Arrays.fill(given, 0);
        int seen = 0;
        int depth = 0;
        stack[0] = top;
        seenAt[top] = seen++;
        low[top] = 0;
        while (depth >= 0) {
            int node = stack[depth];
            if (given[node] < joined[node].length) {
                int next = joined[node][given[node]++];
                if (next != down && seenAt[next] == UNSEEN) {
                    seenAt[next] = seen;
                    low[next] = seen++;
                    from[next] = node;
                    stack[++depth] = next;
                } else if (next != down) {
                    low[node] = Math.min(low[node], seenAt[next]);
                }
            } else {
                depth--;
                if (node != top) {
                    int before = from[node];
                    low[before] = Math.min(low[before], low[node]);
                    cutting[before] |= before != top && low[node] >= seenAt[before];
                }
            }
        }
        return cutting;
    }
}
