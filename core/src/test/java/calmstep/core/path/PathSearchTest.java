package calmstep.core.path;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.TreeMap;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;

class PathSearchTest {
    private static final VersionScheme SCHEME = VersionScheme.dotted(2);
    private static final Hardware BOARD_C = new Hardware("R6-4", "C", "", "");

    /** A catalogue of releases 1.0, 2.0 … with rules; each release has an image for boards B and C. */
    private static Catalogue catalogue(int releases, String rules) {
        StringBuilder text = new StringBuilder("catalogue: 1\nfamily: f\nissued: 2026-01-01\ncomponents: { system: { fields: 2 }, board: { fields: 2 } }\nreleases:\n");
        for (int i = 1; i <= releases; i++) {
            text.append("  - { version: %d.0, date: 2025-01-%02d, may-rest: true, images: [{ file: f-%d.img, size-bytes: %d, sha256: %s, for: { revisions: [B, C] } }] }\n"
                    .formatted(i, i, i, 1000 + i, "a".repeat(64)));
        }
        text.append("  - { component: board, version: 1.5, date: 2025-01-01, images: [{ file: board.img, size-bytes: 10, sha256: %s }] }\n".formatted("b".repeat(64)));
        text.append("  - { component: board, version: 1.2, date: 2025-01-01 }\n");
        return CatalogueText.read("test", text + "rules:\n" + rules);
    }

    private static String rule(int number, String rest) {
        return "  - { id: r/%d, source: note %d, says: sentence %d, %s }\n".formatted(number, number, number, rest);
    }

    private static PathAnswer ask(Catalogue catalogue, Map<String, String> runs, String wanted, Hardware hardware, boolean entitled) {
        TreeMap<String, Version> state = new TreeMap<>();
        runs.forEach((component, version) -> state.put(component, SCHEME.parse(version)));
        return PathSearch.answer(new Question(catalogue, hardware, entitled, state, "system", SCHEME.parse(wanted), Preference.FEWEST_RESTARTS, LocalDate.of(2026, 11, 1), 0));
    }

    private static List<String> hops(Path path) {
        return path.hops().stream().map(h -> h.component().equals("system") ? h.to() : h.component() + " " + h.to()).toList();
    }

    @Test
    void stepsOnWhatTheRulesDemandAndSaysWhy() {
        Catalogue catalogue = catalogue(5, rule(1, "to: '>= 5.0', from: '>= 3.0'"));
        assertThat(ask(catalogue, Map.of("system", "1.0"), "5.0", BOARD_C, true)).asInstanceOf(type(PathAnswer.Found.class)).satisfies(found -> {
            assertThat(hops(found.best())).containsExactly("3.0", "5.0");
            assertThat(found.best().hops().getFirst().why()).extracting(Reason::rule).containsExactly("r/1");
            assertThat(found.best().hops().getLast().why()).isEmpty();
            assertThat(found.alternatives()).extracting(PathSearchTest::hops).containsExactly(List.of("4.0", "5.0"), List.of("2.0", "3.0", "5.0"));
        });
    }

    @Test
    void movesAnotherComponentFirstWhereARuleNeedsIt() {
        Catalogue catalogue = catalogue(3, rule(1, "to: 3.0, needs: { board: '>= 1.5' }"));
        assertThat(ask(catalogue, Map.of("system", "1.0", "board", "1.2"), "3.0", BOARD_C, true)).asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(found -> assertThat(hops(found.best())).containsExactly("board 1.5", "3.0"));
    }

    @Test
    void saysPlainlyThatThereIsNothingToDo() {
        assertThat(ask(catalogue(2, rule(1, "to: 2.0, entitled: true")), Map.of("system", "2.0"), "2.0", BOARD_C, false)).isEqualTo(new PathAnswer.AlreadyThere("2.0"));
    }

    @Test
    void namesTheSmallestSetOfRulesInTheWayAndTheHighestReachable() {
        Catalogue catalogue = catalogue(4, rule(1, "to: 4.0, never-on: { revisions: [B] }") + rule(2, "to: '>= 3.0', entitled: true") + rule(3, "to: 4.0, from: '>= 2.0'"));
        assertThat(ask(catalogue, Map.of("system", "1.0"), "4.0", new Hardware("R6-4", "B", "", ""), false)).asInstanceOf(type(PathAnswer.Refused.class)).satisfies(refused -> {
            assertThat(refused.obstacles()).extracting(o -> o.reason().rule()).containsExactlyInAnyOrder("r/1", "r/2");
            assertThat(refused.obstacles()).extracting(Obstacle::sentence).anyMatch(s -> s.contains("no support entitlement")).anyMatch(s -> s.contains("revision B"));
            assertThat(refused.highestReachable()).contains("2.0");
        });
    }

    @Test
    void refusesLookAlikesWithTheReason() {
        assertThat(ask(catalogue(2, rule(1, "to: 2.0, from: 1.0")), Map.of("system", "1.0"), "2.0", new Hardware("R6-4", "A", "", ""), true)).asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(refused -> assertThat(refused.obstacles()).extracting(Obstacle::sentence).containsExactly(
                        "No image of 2.0 is for this device: f-2.img: it is for revision B or C, this one is revision A"));
    }

    @Test
    void refusesABrandedUnit() {
        assertThat(ask(catalogue(2, rule(1, "to: 2.0, from: 1.0")), Map.of("system", "1.0"), "2.0", new Hardware("R6-4", "C", "", "harbour-mobile"), true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(refused -> assertThat(refused.obstacles().getFirst().sentence()).contains("published for unbranded units only"));
    }

    @Test
    void goesDownOnlyWhereTheCatalogueDescribesIt() {
        Catalogue catalogue = catalogue(4, rule(1, "to: 2.0, from: '<= 4.0', opens-down: true"));
        assertThat(ask(catalogue, Map.of("system", "4.0"), "2.0", BOARD_C, true)).asInstanceOf(type(PathAnswer.Found.class)).satisfies(found -> assertThat(hops(found.best())).containsExactly("2.0"));
        assertThat(ask(catalogue, Map.of("system", "4.0"), "1.0", BOARD_C, true)).asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(refused -> assertThat(refused.obstacles()).anyMatch(o -> o instanceof Obstacle.WayDownNotDescribed));
    }

    /** Oracle: every simple path, tried one by one; the fewest hops win since each hop of these catalogues restarts once. */
    @Property(tries = 300)
    void findsAPathExactlyWhenOneExistsAndNeverALongerOne(@ForAll @LongRange(min = 1, max = 1_000_000) long seed) {
        SplittableRandom random = new SplittableRandom(seed);
        int releases = 3 + random.nextInt(5);
        StringBuilder rules = new StringBuilder();
        boolean[][] barred = new boolean[releases + 1][releases + 1];
        for (int number = 1; number <= 1 + random.nextInt(6); number++) {
            int to = 2 + random.nextInt(releases - 1);
            int from = 1 + random.nextInt(to);
            rules.append(rule(number, "to: %d.0, from: '>= %d.0'".formatted(to, from)));
            for (int earlier = 1; earlier < from; earlier++) {
                barred[earlier][to] = true;
            }
        }
        Optional<Integer> shortest = shortest(barred, 1, releases);
        PathAnswer answer = ask(catalogue(releases, rules.toString()), Map.of("system", "1.0"), releases + ".0", BOARD_C, true);
        assertThat(answer instanceof PathAnswer.Found found ? Optional.of(found.best().hops().size()) : Optional.<Integer>empty()).isEqualTo(shortest);
        if (answer instanceof PathAnswer.Found found) {
            List<List<String>> all = new ArrayList<>(found.alternatives().stream().map(PathSearchTest::hops).toList());
            all.add(hops(found.best()));
            assertThat(all).doesNotHaveDuplicates().allSatisfy(path -> {
                int at = 1;
                for (String hop : path) {
                    int next = Integer.parseInt(hop.substring(0, hop.indexOf('.')));
                    assertThat(barred[at][next]).as("%d to %d", at, next).isFalse();
                    at = next;
                }
            });
        }
    }

    private static Optional<Integer> shortest(boolean[][] barred, int from, int to) {
        if (from == to) {
            return Optional.of(0);
        }
        Optional<Integer> best = Optional.empty();
        for (int next = from + 1; next <= to; next++) {
            Optional<Integer> rest = barred[from][next] ? Optional.empty() : shortest(barred, next, to);
            if (rest.isPresent() && (best.isEmpty() || rest.get() + 1 < best.get())) {
                best = Optional.of(rest.get() + 1);
            }
        }
        return best;
    }
}
