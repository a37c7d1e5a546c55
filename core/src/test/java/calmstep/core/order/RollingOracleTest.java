package calmstep.core.order;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.order.RollingMove.HandOver;
import calmstep.core.order.RollingMove.RestartAll;
import calmstep.core.order.RollingMove.RestartMembers;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * The order against an exhaustive one that knows each member by name, and against the rules that it
 * must keep.
 */
class RollingOracleTest {
    private record Cost(long dark, long handOvers, long takes) {
        boolean isLess(Cost other) {
            return dark != other.dark
                    ? dark < other.dark
                    : handOvers != other.handOvers
                            ? handOvers < other.handOvers
                            : takes < other.takes;
        }
    }

    private static final class Unit {
        final UnitShape shape;
        final List<Version> path;
        final boolean[][] together;

        Unit(SplittableRandom random) {
            int members = random.nextInt(1, 5);
            int hops = random.nextInt(0, 4);
            List<String> names = IntStream.range(0, members).mapToObj(i -> "m" + i).toList();
            shape =
                    new UnitShape(
                            names,
                            random.nextBoolean() ? names.get(random.nextInt(members)) : "",
                            members == 1 ? 0 : random.nextInt(0, members),
                            Duration.ofSeconds(random.nextInt(60, 300)),
                            Duration.ofSeconds(random.nextInt(60, 400)),
                            Duration.ofSeconds(random.nextInt(0, 90)),
                            Duration.ofSeconds(random.nextInt(0, 60)));
            path =
                    IntStream.rangeClosed(0, hops)
                            .mapToObj(i -> VersionScheme.ANY.parse("1." + i))
                            .toList();
            together = new boolean[hops + 1][hops + 1];
            for (int i = 0; i <= hops; i++) {
                for (int j = 0; j <= i; j++) {
                    together[i][j] = i == j || random.nextInt(3) > 0;
                    together[j][i] = together[i][j];
                }
            }
        }

        boolean sideBySide(Version a, Version b) {
            return together[path.indexOf(a)][path.indexOf(b)];
        }

        boolean mayServe(int[] positions) {
            return Arrays.stream(positions)
                    .allMatch(a -> Arrays.stream(positions).allMatch(b -> together[a][b]));
        }
    }

    /** Relaxes every edge between states of named members until nothing gets better. */
    private static Cost exhaustive(Unit unit) {
        int members = unit.shape.members().size();
        int last = unit.path.size() - 1;
        Map<String, Cost> best = new HashMap<>();
        Map<String, int[]> states = new HashMap<>();
        int[] start = new int[members + 1];
        start[members] = unit.shape.members().indexOf(unit.shape.active());
        best.put(Arrays.toString(start), new Cost(0, 0, 0));
        states.put(Arrays.toString(start), start);
        boolean better = true;
        while (better) {
            better = false;
            for (String key : List.copyOf(states.keySet())) {
                for (Edge edge : edges(unit, states.get(key))) {
                    Cost so = best.get(key);
                    Cost whole =
                            new Cost(
                                    so.dark + edge.cost().dark,
                                    so.handOvers + edge.cost().handOvers,
                                    so.takes + edge.cost().takes);
                    String to = Arrays.toString(edge.to());
                    if (!best.containsKey(to) || whole.isLess(best.get(to))) {
                        best.put(to, whole);
                        states.put(to, edge.to());
                        better = true;
                    }
                }
            }
        }
        return states.entrySet().stream()
                .filter(e -> Arrays.stream(e.getValue(), 0, members).allMatch(p -> p == last))
                .map(e -> best.get(e.getKey()))
                .reduce((a, b) -> b.isLess(a) ? b : a)
                .orElseThrow();
    }

    private record Edge(int[] to, Cost cost) {}

    private static List<Edge> edges(Unit unit, int[] state) {
        int members = unit.shape.members().size();
        int last = unit.path.size() - 1;
        List<Edge> edges = new ArrayList<>();
        for (int set = 1; set < 1 << members; set++) {
            int[] after = state.clone();
            Set<Integer> from = new HashSet<>();
            boolean possible = Integer.bitCount(set) <= unit.shape.mayBeOut();
            for (int m = 0; m < members; m++) {
                if ((set >> m & 1) == 1) {
                    possible &= m != state[members] && state[m] < last;
                    from.add(state[m]);
                    after[m]++;
                }
            }
            if (possible && from.size() == 1 && unit.mayServe(Arrays.copyOf(after, members))) {
                edges.add(
                        new Edge(
                                after,
                                new Cost(
                                        0,
                                        0,
                                        unit.shape
                                                .restart()
                                                .plus(unit.shape.settle())
                                                .toSeconds())));
            }
        }
        if (Arrays.stream(state, 0, members).distinct().count() == 1 && state[0] < last) {
            int[] after = state.clone();
            for (int m = 0; m < members; m++) {
                after[m]++;
            }
            edges.add(
                    new Edge(
                            after,
                            new Cost(
                                    unit.shape.restartAll().toSeconds(),
                                    0,
                                    unit.shape.restartAll().toSeconds())));
        }
        for (int m = 0; m < members && state[members] >= 0; m++) {
            int[] after = state.clone();
            after[members] = m;
            if (m != state[members]) {
                edges.add(
                        new Edge(
                                after,
                                new Cost(
                                        unit.shape.handOver().toSeconds(),
                                        1,
                                        unit.shape.handOver().toSeconds())));
            }
        }
        return edges;
    }

    @Test
    void costsWhatAnExhaustiveSearchCosts() {
        SplittableRandom random = new SplittableRandom(41);
        for (int i = 0; i < 1_500; i++) {
            Unit unit = new Unit(random);
            RollingOrder order = RollingSearch.of(unit.shape, unit.path, unit::sideBySide);
            assertThat(
                            new Cost(
                                    order.dark().toSeconds(),
                                    order.handOvers(),
                                    order.takes().toSeconds()))
                    .as("%s along %s", unit.shape, unit.path)
                    .isEqualTo(exhaustive(unit));
            check(unit, order);
        }
    }

    /**
     * Plays the order with the members' names: every rule holds after every move, and all arrive.
     */
    private static void check(Unit unit, RollingOrder order) {
        int[] stands = new int[unit.shape.members().size()];
        String active = unit.shape.active();
        for (RollingMove move : order.moves()) {
            switch (move) {
                case RestartMembers(List<String> members, String from, String to, Duration _) -> {
                    assertThat(members)
                            .doesNotContain(active)
                            .hasSizeLessThanOrEqualTo(unit.shape.mayBeOut());
                    for (String member : members) {
                        int at = unit.shape.members().indexOf(member);
                        assertThat(unit.path.get(stands[at]).text()).isEqualTo(from);
                        assertThat(unit.path.get(++stands[at]).text()).isEqualTo(to);
                    }
                }
                case HandOver(String fromMember, String toMember, Duration _, Duration _) -> {
                    assertThat(fromMember).isEqualTo(active).isNotEqualTo(toMember);
                    active = toMember;
                }
                case RestartAll(String from, String _, Duration _) -> {
                    assertThat(Arrays.stream(stands).mapToObj(s -> unit.path.get(s).text()))
                            .containsOnly(from);
                    Arrays.setAll(stands, m -> stands[m] + 1);
                }
                case RollingMove.BringImage _,
                        RollingMove.Drain _,
                        RollingMove.PreLoadDependents _,
                        RollingMove.RestartController _,
                        RollingMove.DependentsFollow _ ->
                        throw new AssertionError("no move of the search: " + move.sentence());
            }
            assertThat(unit.mayServe(stands))
                    .as("side by side after \"%s\"", move.sentence())
                    .isTrue();
        }
        assertThat(Arrays.stream(stands)).containsOnly(unit.path.size() - 1);
        order.barred().forEach(b -> assertThat(unit.sideBySide(b.one(), b.other())).isFalse());
    }

    private static RollingOrder pair(String... path) {
        List<Version> releases =
                new ArrayList<>(Arrays.stream(path).map(VersionScheme.ANY::parse).toList());
        Version first = VersionScheme.ANY.parse("11.0");
        return RollingSearch.of(
                new UnitShape(
                        List.of("a", "b"),
                        "a",
                        1,
                        Duration.ofMinutes(3),
                        Duration.ofMinutes(4),
                        Duration.ofSeconds(5),
                        Duration.ofSeconds(30)),
                releases,
                (one, other) -> one.compareTo(first) >= 0 && other.compareTo(first) >= 0);
    }

    @Test
    void standbyFirstThenHandOverThenTheOther() {
        assertThat(pair("11.0", "11.2").moves())
                .extracting(RollingMove::sentence)
                .containsExactly(
                        "b restarts from 11.0 into 11.2 while the unit goes on serving",
                        "a hands over to b",
                        "a restarts from 11.0 into 11.2 while the unit goes on serving");
        assertThat(pair("11.0", "11.2").dark()).isEqualTo(Duration.ofSeconds(5));
    }

    @Test
    void namesThePairThatBarsRolling() {
        RollingOrder order = pair("10.8", "11.0", "11.2");
        assertThat(order.moves().getFirst()).isInstanceOf(RestartAll.class);
        assertThat(order.barred())
                .singleElement()
                .satisfies(
                        b ->
                                assertThat(b.sentence())
                                        .isEqualTo(
                                                "10.8 and 11.0 do not work side by side in one"
                                                        + " unit"));
        assertThat(order.dark()).isEqualTo(Duration.ofSeconds(245));
        assertThat(pair("11.2").moves()).as("nothing to do").isEmpty();
    }
}
