package calmstep.core.reach;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.SequencedSet;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class NetworkOracleTest {
    /** What has a way to a root, by spreading until nothing more is reached. */
    private static Set<String> reached(
            Set<String> devices, List<Link> links, Set<String> roots, Set<String> down) {
        Set<String> reached = new HashSet<>(roots);
        reached.retainAll(devices);
        reached.removeAll(down);
        boolean grew = true;
        while (grew) {
            grew = false;
            for (Link link : links) {
                boolean up =
                        devices.contains(link.one())
                                && devices.contains(link.other())
                                && !down.contains(link.one())
                                && !down.contains(link.other());
                if (up && (reached.contains(link.one()) || reached.contains(link.other()))) {
                    grew |= reached.add(link.one());
                    grew |= reached.add(link.other());
                }
            }
        }
        return reached;
    }

    @Test
    void cutsOffWhatBruteForceSays() {
        SplittableRandom random = new SplittableRandom(23);
        int found = 0;
        for (int i = 0; i < 3_000; i++) {
            int size = random.nextInt(1, 14);
            List<String> names =
                    IntStream.range(0, size).mapToObj(n -> "d%s".formatted(10 + n)).toList();
            List<Link> links = new ArrayList<>();
            for (int l = random.nextInt(0, size * 2); l > 0; l--) {
                String one = names.get(random.nextInt(size));
                String other = random.nextInt(20) == 0 ? "gone" : names.get(random.nextInt(size));
                if (!one.equals(other)) {
                    links.add(new Link(one, other));
                }
            }
            Set<String> devices = new TreeSet<>(names);
            Set<String> roots =
                    new TreeSet<>(
                            IntStream.range(0, random.nextInt(0, 4))
                                    .mapToObj(_ -> names.get(random.nextInt(size)))
                                    .toList());
            Network network = Network.of(devices, links, roots);
            Set<String> before = reached(devices, links, roots, Set.of());
            assertThat(network.unreached())
                    .containsExactlyInAnyOrderElementsOf(minus(devices, before));
            for (String device : names) {
                Set<String> cut =
                        minus(
                                minus(before, reached(devices, links, roots, Set.of(device))),
                                Set.of(device));
                assertThat(network.cutOffBy(device))
                        .as("%s of %s with roots %s", device, links, roots)
                        .containsExactlyElementsOf(new TreeSet<>(cut));
                assertThat(network.cutOffCount(device)).isEqualTo(cut.size());
            }
            Set<SequencedSet<String>> pairs = new HashSet<>(network.cuttingPairs(devices));
            for (String one : names) {
                for (String other : names.subList(names.indexOf(one) + 1, size)) {
                    Set<String> both = new TreeSet<>(Set.of(one, other));
                    Set<String> third =
                            minus(minus(before, reached(devices, links, roots, both)), both);
                    third.removeAll(network.cutOffBy(one));
                    third.removeAll(network.cutOffBy(other));
                    assertThat(network.cutOffTogether(both))
                            .containsExactlyElementsOf(new TreeSet<>(third));
                    assertThat(pairs.contains(new LinkedHashSet<>(both)))
                            .as("%s of %s with roots %s", both, links, roots)
                            .isEqualTo(!third.isEmpty());
                    found += third.isEmpty() ? 0 : 1;
                }
            }
            Set<String> down = new HashSet<>(names.subList(0, random.nextInt(size)));
            assertThat(network.cutOffBy(down))
                    .containsExactlyElementsOf(
                            new TreeSet<>(
                                    minus(
                                            minus(before, reached(devices, links, roots, down)),
                                            down)));
            Set<String> alone = new HashSet<>();
            down.forEach(device -> alone.addAll(network.cutOffBy(device)));
            assertThat(network.cutOffTogether(down))
                    .containsExactlyElementsOf(new TreeSet<>(minus(network.cutOffBy(down), alone)));
        }
        assertThat(found).as("pairs that cut off a third").isGreaterThan(1_000);
    }

    private static Set<String> minus(Set<String> all, Set<String> less) {
        Set<String> rest = new HashSet<>(all);
        rest.removeAll(less);
        return rest;
    }

    /** head office - core - quay - shed, and a ring core - hill - quay. */
    private final Network ferries =
            Network.of(
                    List.of("head", "core", "quay", "shed", "hill", "lost"),
                    List.of(
                            new Link("head", "core"),
                            new Link("core", "quay"),
                            new Link("quay", "shed"),
                            new Link("core", "hill"),
                            new Link("hill", "quay")),
                    Set.of("head"));

    @Test
    void namesSinglePointsAndWhatStandsBehindThem() {
        assertThat(ferries.cutOffBy("core")).containsExactly("hill", "quay", "shed");
        assertThat(ferries.cutOffBy("hill")).as("the ring holds").isEmpty();
        assertThat(ferries.cutOffBy("quay")).containsExactly("shed");
        assertThat(ferries.cutOffBy(Set.of("hill", "quay"))).containsExactly("shed");
        assertThat(ferries.unreached()).containsExactly("lost");
        assertThat(ferries.layer("shed")).hasValue(3);
        assertThat(ferries.farEdgeFirst(List.of("core", "shed", "quay", "hill")))
                .containsExactly("shed", "hill", "quay", "core");
    }

    @Test
    void bearsALongChain() {
        List<String> chain =
                IntStream.range(0, 20_000).mapToObj(n -> "d%s".formatted(100_000 + n)).toList();
        List<Link> links =
                IntStream.range(1, chain.size())
                        .mapToObj(i -> new Link(chain.get(i - 1), chain.get(i)))
                        .toList();
        assertThat(Network.of(chain, links, Set.of(chain.getFirst())).cutOffCount(chain.get(9_999)))
                .isEqualTo(10_000);
    }
}
