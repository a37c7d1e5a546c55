package calmstep.core.path;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class PathSearchTest {
    private static final VersionScheme SCHEME = VersionScheme.dotted(2);
    private static final Hardware BOARD_C = new Hardware("R6-4", "C", "", "");

    /**
     * A catalogue of releases 1.0, 2.0 … with rules; each release has an image for boards B and C.
     */
    private static Catalogue catalogue(int releases, String rules) {
        StringBuilder text =
                new StringBuilder(
                        """
                        catalogue: 1
                        family: f
                        issued: 2026-01-01
                        components: { system: { fields: 2 }, board: { fields: 2 } }
                        releases:
                        """);
        for (int i = 1; i <= releases; i++) {
            text.append(
                    "  - { version: %s.0, date: %s, may-rest: true, images: [{ file: f-%s.img, size-bytes: %s, sha256: %s, for: { revisions: [B, C] } }] }\n"
                            .formatted(i, LocalDate.of(2025, 1, i), i, 1000 + i, "a".repeat(64)));
        }
        text.append(
                "  - { component: board, version: 1.5, date: 2025-01-01, images: [{ file: board.img, size-bytes: 10, sha256: %s }] }\n"
                        .formatted("b".repeat(64)));
        text.append("  - { component: board, version: 1.2, date: 2025-01-01 }\n");
        return CatalogueText.read("test", text + "rules:\n" + rules);
    }

    private static String rule(int number, String rest) {
        return "  - { id: r/%s, source: note %s, says: sentence %s, %s }\n"
                .formatted(number, number, number, rest);
    }

    private static PathAnswer ask(
            Catalogue catalogue,
            Map<String, String> runs,
            String wanted,
            Hardware hardware,
            boolean entitled) {
        TreeMap<String, Version> state = new TreeMap<>();
        runs.forEach((component, version) -> state.put(component, SCHEME.parse(version)));
        return PathSearch.answer(
                new Kind(
                        catalogue,
                        hardware,
                        entitled,
                        Preference.FEWEST_RESTARTS,
                        LocalDate.of(2026, 11, 1),
                        0),
                state,
                "system",
                SCHEME.parse(wanted));
    }

    private static List<String> hops(Path path) {
        return path.hops().stream()
                .map(h -> h.component().equals("system") ? h.to() : h.component() + " " + h.to())
                .toList();
    }

    @Test
    void stepsOnWhatTheRulesDemandAndSaysWhy() {
        Catalogue catalogue = catalogue(5, rule(1, "to: '>= 5.0', from: '>= 3.0'"));
        assertThat(ask(catalogue, Map.of("system", "1.0"), "5.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found -> {
                            assertThat(hops(found.best())).containsExactly("3.0", "5.0");
                            assertThat(found.best().hops().getFirst().why())
                                    .extracting(Reason::rule)
                                    .containsExactly("r/1");
                            assertThat(found.best().hops().getLast().why()).isEmpty();
                            assertThat(found.alternatives())
                                    .extracting(PathSearchTest::hops)
                                    .as("a path that only adds hops is none")
                                    .containsExactly(List.of("4.0", "5.0"));
                        });
    }

    @Test
    void movesAnotherComponentFirstWhereARuleNeedsIt() {
        Catalogue catalogue = catalogue(3, rule(1, "to: 3.0, needs: { board: '>= 1.5' }"));
        assertThat(ask(catalogue, Map.of("system", "1.0", "board", "1.2"), "3.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found ->
                                assertThat(hops(found.best())).containsExactly("board 1.5", "3.0"));
    }

    @Test
    void saysPlainlyThatThereIsNothingToDo() {
        assertThat(
                        ask(
                                catalogue(2, rule(1, "to: 2.0, entitled: true")),
                                Map.of("system", "2.0"),
                                "2.0",
                                BOARD_C,
                                false))
                .isEqualTo(new PathAnswer.AlreadyThere("2.0"));
    }

    @Test
    void namesTheSmallestSetOfRulesInTheWayAndTheHighestReachable() {
        Catalogue catalogue =
                catalogue(
                        4,
                        rule(1, "to: 4.0, never-on: { revisions: [B] }")
                                + rule(2, "to: '>= 3.0', entitled: true")
                                + rule(3, "to: 4.0, from: '>= 2.0'"));
        assertThat(
                        ask(
                                catalogue,
                                Map.of("system", "1.0"),
                                "4.0",
                                new Hardware("R6-4", "B", "", ""),
                                false))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused -> {
                            assertThat(refused.obstacles())
                                    .extracting(o -> o.reason().rule())
                                    .containsExactlyInAnyOrder("r/1", "r/2");
                            assertThat(refused.obstacles())
                                    .extracting(Obstacle::sentence)
                                    .anyMatch(s -> s.contains("no support entitlement"))
                                    .anyMatch(s -> s.contains("revision B"));
                            assertThat(refused.highestReachable()).contains("2.0");
                        });
    }

    @Test
    void namesOneThingWhereOneWouldDo() {
        Catalogue catalogue =
                catalogue(
                        4,
                        rule(1, "to: 4.0, from: 3.0")
                                + rule(2, "to: 3.0, entitled: true")
                                + rule(3, "to: 2.0, entitled: true"));
        assertThat(ask(catalogue, Map.of("system", "1.0"), "4.0", BOARD_C, false))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles())
                                        .extracting(o -> o.reason().rule())
                                        .hasSize(1)
                                        .isSubsetOf("r/1", "r/2"));
    }

    @Test
    void takesBothPartsAndTheDeltaWhereThereIsOneForWhatRuns() {
        Catalogue catalogue =
                CatalogueText.read(
                        "test",
                        """
                        catalogue: 1
                        family: f
                        issued: 2026-01-01
                        components: { system: { fields: 2 }, manager: { fields: 2, outside: true } }
                        releases:
                          - { version: 1.0, date: 2025-01-01 }
                          - { version: 2.0, date: 2025-02-01, images: [
                              { file: u-2, part: upper, size-bytes: 50, sha256: %1$s }, { file: l-2, part: lower, size-bytes: 60, sha256: %1$s },
                              { file: u-2-from-1, part: upper, delta-from: 1.0, size-bytes: 5, sha256: %1$s }, { file: l-2-from-1, part: lower, delta-from: 1.0, size-bytes: 6, sha256: %1$s } ] }
                          - { version: 3.0, date: 2025-03-01, images: [ { file: only-from-2, delta-from: 2.0, size-bytes: 7, sha256: %1$s } ] }
                        rules:
                          - { id: r/manager, to: 3.0, needs: { manager: '>= 5.2' }, source: note, says: the management software must know it }
                        """
                                .formatted("a".repeat(64)));
        assertThat(ask(catalogue, Map.of("system", "1.0", "manager", "5.2"), "3.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found -> {
                            assertThat(found.best().hops())
                                    .extracting(
                                            hop ->
                                                    hop.images().stream()
                                                            .map(i -> i.fileName())
                                                            .toList())
                                    .containsExactly(
                                            List.of("l-2-from-1", "u-2-from-1"),
                                            List.of("only-from-2"));
                            assertThat(found.best().cost().bytes()).isEqualTo(18);
                        });
        assertThat(ask(catalogue, Map.of("system", "1.5"), "2.0", BOARD_C, true))
                .as("a build that the catalogue does not have")
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found ->
                                assertThat(found.best().hops().getFirst().images())
                                        .extracting(i -> i.fileName())
                                        .containsExactly("l-2", "u-2"));
        assertThat(ask(catalogue, Map.of("system", "1.0", "manager", "5.1"), "3.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles())
                                        .extracting(Obstacle::sentence)
                                        .containsExactly(
                                                "the management software must know it (r/manager,"
                                                        + " from note); seen: manager 5.1"));
    }

    @Test
    void changesTheSoftwareLineOnlyWhereARuleOpensIt() {
        String text =
                """
                catalogue: 1
                family: f
                issued: 2026-01-01
                components: { system: { fields: 2 } }
                releases:
                  - { version: 1.0, line: quay, date: 2025-01-01, may-rest: true, images: [ { file: a, size-bytes: 5, sha256: %1$s } ] }
                  - { version: 2.0, line: quay, date: 2025-02-01, may-rest: true, images: [ { file: b, size-bytes: 5, sha256: %1$s } ] }
                  - { version: 9.0, line: mole, date: 2025-03-01, may-rest: true, images: [ { file: c, size-bytes: 5, sha256: %1$s } ] }
                rules:
                """
                        .formatted("a".repeat(64));
        Catalogue shut =
                CatalogueText.read(
                        "test",
                        text + "  - { id: r/1, to: 2.0, from: 1.0, source: note, says: x }\n");
        assertThat(ask(shut, Map.of("system", "2.0"), "9.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles())
                                        .containsExactly(new Obstacle.OtherLine("quay", "mole")));
        Catalogue opened =
                CatalogueText.read(
                        "test",
                        text
                                + "  - { id: r/1, to: 9.0, from: '>= 2.0', opens-line: true,"
                                + " source: note, says: the settings are carried over from 2.0 on"
                                + " }\n"
                                + "effects:\n"
                                + "  - { to: 9.0, restarts: 2, dark: 9 min, configuration:"
                                + " rewritten, loses: [the counters] }\n");
        assertThat(ask(opened, Map.of("system", "1.0"), "9.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found -> {
                            assertThat(hops(found.best())).containsExactly("2.0", "9.0");
                            assertThat(found.best().hops().getLast().toKnow())
                                    .containsExactly(
                                            "the configuration is rewritten by this move",
                                            "the counters");
                            assertThat(found.best().hops().getFirst().why())
                                    .extracting(Reason::rule)
                                    .containsExactly("r/1");
                        });
    }

    @Test
    void refusesAnImageThatLacksAnInstalledFeature() {
        Catalogue catalogue =
                CatalogueText.read(
                        "test",
                        """
                        catalogue: 1
                        family: f
                        issued: 2026-01-01
                        components: { system: { fields: 2 } }
                        releases:
                          - { version: 1.0, date: 2025-01-01 }
                          - { version: 2.0, date: 2025-02-01, images: [ { file: plain, size-bytes: 5, sha256: %1$s, for: { features: [base] } } ] }
                        """
                                .formatted("a".repeat(64)));
        assertThat(
                        ask(
                                catalogue,
                                Map.of("system", "1.0"),
                                "2.0",
                                new Hardware("m", "C", "", "", java.util.Set.of("base", "mesh")),
                                true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles().getFirst().sentence())
                                        .contains(
                                                "the feature mesh is installed here and would be"
                                                        + " lost"));
        assertThat(
                        ask(
                                catalogue,
                                Map.of("system", "1.0"),
                                "2.0",
                                new Hardware("m", "C", "", "", java.util.Set.of("base")),
                                true))
                .isInstanceOf(PathAnswer.Found.class);
    }

    @Test
    void refusesLookAlikesWithTheReason() {
        assertThat(
                        ask(
                                catalogue(2, rule(1, "to: 2.0, from: 1.0")),
                                Map.of("system", "1.0"),
                                "2.0",
                                new Hardware("R6-4", "A", "", ""),
                                true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles())
                                        .extracting(Obstacle::sentence)
                                        .containsExactly(
                                                "No image of 2.0 is for this device: f-2.img: it is"
                                                        + " for revision B or C, this one is"
                                                        + " revision A"));
    }

    /** By the demo's catalogue: 2.8.2 has an image for each of two revisions. */
    @Test
    void aHopSaysWhichLookAlikeItDoesNotTake() throws Exception {
        Catalogue osmer =
                CatalogueText.read(
                        "c",
                        java.nio.file.Files.readString(
                                java.nio.file.Path.of("../demo/catalogue/osmer-r6.yaml")));
        TreeMap<String, Version> state =
                new TreeMap<>(Map.of("system", osmer.systemScheme().parse("2.6.3")));
        PathAnswer answer =
                PathSearch.answer(
                        new Kind(
                                osmer,
                                new Hardware("R6-4", "C", "", ""),
                                true,
                                Preference.FEWEST_RESTARTS,
                                LocalDate.of(2026, 11, 1),
                                0),
                        state,
                        "system",
                        osmer.systemScheme().parse("2.8.2"));
        assertThat(answer)
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(
                        found -> {
                            assertThat(found.best().hops())
                                    .singleElement()
                                    .satisfies(
                                            hop -> {
                                                assertThat(hop.image().fileName())
                                                        .isEqualTo("osmer-r6c-2.8.2.img");
                                                assertThat(hop.lookAlikes())
                                                        .containsExactly(
                                                                "osmer-r6b-2.8.2.img: it is for"
                                                                        + " revision B, this one is"
                                                                        + " revision C");
                                            });
                        });
    }

    @Test
    void refusesABrandedUnit() {
        assertThat(
                        ask(
                                catalogue(2, rule(1, "to: 2.0, from: 1.0")),
                                Map.of("system", "1.0"),
                                "2.0",
                                new Hardware("R6-4", "C", "", "harbour-mobile"),
                                true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles().getFirst().sentence())
                                        .contains("published for unbranded units only"));
    }

    @Test
    void goesDownOnlyWhereTheCatalogueDescribesIt() {
        Catalogue catalogue = catalogue(4, rule(1, "to: 2.0, from: '<= 4.0', opens-down: true"));
        assertThat(ask(catalogue, Map.of("system", "4.0"), "2.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Found.class))
                .satisfies(found -> assertThat(hops(found.best())).containsExactly("2.0"));
        assertThat(ask(catalogue, Map.of("system", "4.0"), "1.0", BOARD_C, true))
                .asInstanceOf(type(PathAnswer.Refused.class))
                .satisfies(
                        refused ->
                                assertThat(refused.obstacles())
                                        .anyMatch(o -> o instanceof Obstacle.WayDownNotDescribed));
    }
}
