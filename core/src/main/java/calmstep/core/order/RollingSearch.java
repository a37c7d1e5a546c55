package calmstep.core.order;

import static calmstep.core.known.Known.known;

import calmstep.core.order.RollingMove.HandOver;
import calmstep.core.order.RollingMove.RestartAll;
import calmstep.core.order.RollingMove.RestartMembers;
import calmstep.core.version.Version;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.BiPredicate;

/**
 * Finds the order inside a unit by uniform-cost search. Pure: the same question gives the same
 * answer.
 */
public final class RollingSearch {
    private static final int NONE = -1;

    /**
     * How many members stand on each release of the path, and on which of them the active one
     * stands.
     *
     * @param counts by position on the path; the active one is counted
     * @param active position of the active one; {@value #NONE} where the unit has none
     */
    private record State(List<Integer> counts, int active) {}

    /**
     * Seconds in which the unit serves nobody, hand-overs, seconds in all; compared in this order.
     */
    private record Cost(long dark, int handOvers, long takes) implements Comparable<Cost> {
        static final Cost NOTHING = new Cost(0, 0, 0);

        Cost plus(Cost other) {
            return new Cost(dark + other.dark, handOvers + other.handOvers, takes + other.takes);
        }

        @Override
        public int compareTo(Cost other) {
            return dark != other.dark
                    ? Long.compare(dark, other.dark)
                    : handOvers != other.handOvers
                            ? Integer.compare(handOvers, other.handOvers)
                            : Long.compare(takes, other.takes);
        }
    }

    /** What happens between two states. */
    private sealed interface Step {
        /** So many that are not active restart from a position into the next. */
        record Roll(int from, int howMany) implements Step {}

        record Hand(int to) implements Step {}

        record All(int from) implements Step {}
    }

    private record Reached(State state, Cost cost, long order) implements Comparable<Reached> {
        @Override
        public int compareTo(Reached other) {
            int byCost = cost.compareTo(other.cost);
            return byCost != 0 ? byCost : Long.compare(order, other.order);
        }
    }

    private record Came(State from, Step by) {}

    private interface Next {
        void take(Step step, State after, Cost cost);
    }

    private final UnitShape shape;
    private final List<Version> path;
    private final boolean[][] together;

    private RollingSearch(
            UnitShape shape, List<Version> path, BiPredicate<Version, Version> sideBySide) {
        this.shape = shape;
        this.path = List.copyOf(path);
        together = new boolean[path.size()][path.size()];
        for (int i = 0; i < path.size(); i++) {
            for (int j = 0; j < path.size(); j++) {
                together[i][j] = i == j || sideBySide.test(path.get(i), path.get(j));
            }
        }
    }

    /**
     * @param path what all members run now, then each release that they go to
     * @param sideBySide whether two different releases may run in one unit at the same time
     */
    public static RollingOrder of(
            UnitShape shape, List<Version> path, BiPredicate<Version, Version> sideBySide) {
        if (path.isEmpty()) {
            throw new IllegalArgumentException(
                    "Expected what the unit runs, and where it goes; saw nothing");
        }
        return new RollingSearch(shape, path, sideBySide).search();
    }

    private RollingOrder search() {
        State start = at(0);
        State end = at(path.size() - 1);
        Map<State, Cost> best = new HashMap<>(Map.of(start, Cost.NOTHING));
        Map<State, Came> came = new HashMap<>();
        PriorityQueue<Reached> queue =
                new PriorityQueue<>(List.of(new Reached(start, Cost.NOTHING, 0)));
        long[] made = {0};
        while (!queue.isEmpty()) {
            Reached reached = queue.remove();
            if (reached.state().counts().equals(end.counts())) {
                return told(start, reached.state(), came);
            }
            if (reached.cost().compareTo(known(best, reached.state())) > 0) {
                continue;
            }
            forEachNext(
                    reached.state(),
                    (step, after, cost) -> {
                        Cost whole = reached.cost().plus(cost);
                        if (Optional.ofNullable(best.get(after))
                                .map(known -> whole.compareTo(known) < 0)
                                .orElse(true)) {
                            best.put(after, whole);
                            came.put(after, new Came(reached.state(), step));
                            queue.add(new Reached(after, whole, ++made[0]));
                        }
                    });
        }
        throw new IllegalStateException(
                "A unit can always restart as a whole; of %s along %s it was not found"
                        .formatted(shape, path));
    }

    private State at(int position) {
        Integer[] counts = new Integer[path.size()];
        Arrays.fill(counts, 0);
        counts[position] = shape.members().size();
        return new State(List.of(counts), shape.hasActive() ? position : NONE);
    }

    private void forEachNext(State state, Next next) {
        for (int from = 0; from + 1 < path.size(); from++) {
            int here = state.counts().get(from);
            int idle = here - (state.active() == from ? 1 : 0);
            for (int howMany = 1; howMany <= Math.min(idle, shape.mayBeOut()); howMany++) {
                State after = moved(state, from, howMany, state.active());
                if (isAllowed(after)) {
                    next.take(
                            new Step.Roll(from, howMany),
                            after,
                            new Cost(0, 0, shape.restart().plus(shape.settle()).toSeconds()));
                }
            }
            if (here == shape.members().size()) {
                State after = moved(state, from, here, state.active() == NONE ? NONE : from + 1);
                next.take(
                        new Step.All(from),
                        after,
                        new Cost(
                                shape.restartAll().toSeconds(), 0, shape.restartAll().toSeconds()));
            }
        }
        if (state.active() != NONE) {
            for (int to = 0; to < path.size(); to++) {
                int others = state.counts().get(to) - (state.active() == to ? 1 : 0);
                if (others > 0 && to != state.active()) {
                    next.take(
                            new Step.Hand(to),
                            new State(state.counts(), to),
                            new Cost(
                                    shape.handOver().toSeconds(), 1, shape.handOver().toSeconds()));
                }
            }
        }
    }

    private State moved(State state, int from, int howMany, int active) {
        List<Integer> counts = new ArrayList<>(state.counts());
        counts.set(from, counts.get(from) - howMany);
        counts.set(from + 1, counts.get(from + 1) + howMany);
        return new State(List.copyOf(counts), active);
    }

    private boolean isAllowed(State state) {
        for (int i = 0; i < path.size(); i++) {
            for (int j = i + 1; j < path.size(); j++) {
                if (state.counts().get(i) > 0 && state.counts().get(j) > 0 && !together[i][j]) {
                    return false;
                }
            }
        }
        return true;
    }

    /**
     * The steps with the members' names: of those that may, the ones that stand first in the unit;
     * the member that was active at first stays so as long as it can.
     */
    private RollingOrder told(State start, State end, Map<State, Came> came) {
        Deque<Step> steps = new ArrayDeque<>();
        for (State state = end; !state.equals(start); state = known(came, state).from()) {
            steps.addFirst(known(came, state).by());
        }
        Map<String, Integer> stands = new HashMap<>();
        shape.members().forEach(member -> stands.put(member, 0));
        String active = shape.active();
        List<RollingMove> moves = new ArrayList<>();
        for (Step step : steps) {
            switch (step) {
                case Step.Roll(int from, int howMany) -> {
                    List<String> chosen = standing(stands, from, active).subList(0, howMany);
                    chosen.forEach(member -> stands.put(member, from + 1));
                    moves.add(
                            new RestartMembers(
                                    chosen,
                                    path.get(from).text(),
                                    path.get(from + 1).text(),
                                    shape.restart().plus(shape.settle())));
                }
                case Step.Hand(int to) -> {
                    String other = standing(stands, to, active).getFirst();
                    moves.add(new HandOver(active, other, shape.handOver(), shape.handOver()));
                    active = other;
                }
                case Step.All(int from) -> {
                    stands.replaceAll((_, _) -> from + 1);
                    moves.add(
                            new RestartAll(
                                    path.get(from).text(),
                                    path.get(from + 1).text(),
                                    shape.restartAll()));
                }
            }
        }
        return new RollingOrder(moves, barred(steps));
    }

    private List<String> standing(Map<String, Integer> stands, int position, String active) {
        return shape.members().stream()
                .filter(member -> known(stands, member) == position && !member.equals(active))
                .toList();
    }

    /**
     * For each hop that the whole unit does together though it has members enough: the two
     * releases.
     */
    private List<RollingOrder.Barred> barred(Deque<Step> steps) {
        return steps.stream()
                .flatMap(
                        step ->
                                step instanceof Step.All(int from)
                                                && shape.members().size() > 1
                                                && !together[from][from + 1]
                                        ? java.util.stream.Stream.of(
                                                new RollingOrder.Barred(
                                                        path.get(from), path.get(from + 1)))
                                        : java.util.stream.Stream.empty())
                .toList();
    }
}
