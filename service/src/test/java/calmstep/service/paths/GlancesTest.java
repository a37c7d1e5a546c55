package calmstep.service.paths;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.fleet.InventoryText;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import calmstep.service.releases.Catalogues;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * The whole fleet of Northmere, as the demo describes it: every kind of standing that its scenario
 * demands.
 */
class GlancesTest {
    private static final Path DEMO = Path.of("../demo");

    private final Glances glances = RunningService.bean(Glances.class);

    @BeforeAll
    static void importNorthmere() throws Exception {
        try (Stream<Path> files = Files.list(DEMO.resolve("catalogue"))) {
            for (Path file : files.sorted().toList()) {
                RunningService.bean(Catalogues.class)
                        .take(file.getFileName().toString(), Files.readString(file), "test");
            }
        }
        RunningService.bean(Fleet.class)
                .take(
                        "northmere.yaml",
                        Files.readString(DEMO.resolve("northmere.yaml")),
                        InventoryText.Format.YAML,
                        false,
                        "test");
    }

    private Glances.Glance glance(String name) {
        return glances.one(name, "recommended");
    }

    @Test
    void everyFamilyHasItsPeculiarityOnItsWay() {
        Map<String, List<String>> ways =
                Stream.of(
                                "fw-ostrand",
                                "vg-millhaven",
                                "sw-millhaven-2",
                                "gw-sandpiper-1",
                                "dc-kelling-2",
                                "rl-brave-dunlin")
                        .collect(
                                Collectors.toMap(
                                        n -> n,
                                        n ->
                                                glance(n)
                                                        .path()
                                                        .orElseThrow()
                                                        .best()
                                                        .hops()
                                                        .stream()
                                                        .map(h -> h.component() + " " + h.to())
                                                        .toList()));
        assertThat(ways.get("fw-ostrand"))
                .as("two stepping stones, the build tells drops apart")
                .containsExactly(
                        "system 10.8 build 305", "system 11.0 build 377", "system 11.2 build 418");
        assertThat(ways.get("vg-millhaven"))
                .as("boards and clock first")
                .containsExactlyInAnyOrder(
                        "board-a 4.2", "board-b 3.1", "clock 1.3", "system 2026.06")
                .endsWith("system 2026.06");
        assertThat(ways.get("sw-millhaven-2"))
                .as("the loader first")
                .startsWith("loader 1.9")
                .endsWith("system 6.1.2");
        assertThat(ways.get("gw-sandpiper-1")).containsExactly("system 3.4.1", "system 3.6.0");
        assertThat(glance("dc-kelling-2").path().orElseThrow().best().hops().getFirst().images())
                .as("both halves")
                .extracting(HopView.ImageView::fileName)
                .containsExactly("q4-9.08-lower.img", "q4-9.08-upper.img");
        assertThat(glance("gw-sandpiper-1").path().orElseThrow().best().hops().getFirst().toKnow())
                .anyMatch(t -> t.contains("wiped"));
        assertThat(glance("vg-millhaven").path().orElseThrow().best().hops())
                .filteredOn(h -> h.component().equals("board-a"))
                .singleElement()
                .satisfies(
                        h ->
                                assertThat(h.why())
                                        .extracting(w -> w.rule())
                                        .containsExactly("corvane/board-a"));
    }

    @Test
    void refusalsNameTheReasonOfEachUnitThatMustStay() {
        Map<String, String> reasons =
                Map.of(
                        "gw-plover-1",
                        "brand harbour-mobile",
                        "gw-godwit-1",
                        "revision 3",
                        "gw-curlew-1",
                        "revision 1",
                        "fw-gullness-quay",
                        "management software",
                        "rl-slow-curlew",
                        "licence",
                        "rt-carrow-sound-1",
                        "entitlement",
                        "rt-gullness-quay-1",
                        "revision A",
                        "wc-aldwick-pier",
                        "access points of the first kind");
        reasons.forEach(
                (device, reason) -> {
                    assertThat(glance(device).standing()).as(device).isEqualTo("must-stay");
                    assertThat(String.join("; ", glance(device).path().orElseThrow().obstacles()))
                            .as(device)
                            .contains(reason);
                });
        assertThat(glance("gw-plover-1").path().orElseThrow().obstacles())
                .as("look-alikes for another region are not named")
                .singleElement()
                .asString()
                .doesNotContain("m2-3.6.0-r2-eu.bin");
    }

    @Test
    void selectionsReachFieldsVersionsStandingAndExposure() {
        assertThat(glances.names("family:brannoch-b2 runs:<11"))
                .containsExactly("fw-eskholm", "fw-gullness-quay", "fw-ostrand");
        assertThat(glances.names("site:dunmere not family:osmer-r6"))
                .containsExactlyInAnyOrder(
                        "sw-dunmere-1", "fw-dunmere", "wc-dunmere", "vg-dunmere");
        assertThat(glances.names("tag:base")).containsExactly("rl-brae-top", "rl-long-law");
        assertThat(glances.names("brand:*")).containsExactly("gw-dunlin-1", "gw-plover-1");
        assertThat(glances.names("exposed:NF-26-05")).allMatch(n -> n.startsWith("rl-")).hasSize(5);
        assertThat(glances.names("feature:mesh standing:there"))
                .containsExactly("wc-gullness-quay");
        assertThatThrownBy(() -> glances.names("famly:x"))
                .hasMessageContaining("Column 1")
                .hasMessageContaining("did you mean \"family\"?");
    }

    @Test
    void policiesChooseDifferentReleases() {
        assertThat(glances.one("sw-millhaven-1", "newest-general").path().orElseThrow().wanted())
                .isEqualTo("6.1.2");
        assertThat(glances.one("sw-millhaven-1", "one-behind").path().orElseThrow().wanted())
                .isEqualTo("6.1.0");
        assertThat(glances.one("sw-millhaven-1", "aged-120").path().orElseThrow().wanted())
                .isEqualTo("6.1.0");
        assertThat(glances.one("rl-patient-heron", "clears:NF-26-05").path().orElseThrow().wanted())
                .isEqualTo("r50");
        assertThat(glances.one("rt-ostrand-1", "clears:NF-26-04").path().orElseThrow().outcome())
                .as("a device without the fault stays")
                .isEqualTo("already-there");
        assertThat(glances.one("fw-millhaven", "clears:NF-26-04").path())
                .as("an advisory of another family")
                .isEmpty();
        assertThat(glance("rt-dunmere-1").behindBy()).isEqualTo(3);
    }

    @Test
    void exposureNamesTheSmallestWayOutOfEachFaultTheWorstFirst() {
        List<Exposures.AdvisoryView> advisories = RunningService.bean(Exposures.class).of("");
        assertThat(advisories)
                .extracting(Exposures.AdvisoryView::id)
                .startsWith("NF-26-03")
                .contains("NF-26-02", "NF-26-04", "NF-26-05");
        Exposures.AdvisoryView keys = advisories.getFirst();
        assertThat(keys.devices())
                .filteredOn(d -> d.device().equals("fw-ostrand"))
                .singleElement()
                .satisfies(
                        d -> {
                            assertThat(d.cure()).isEqualTo("11.2 build 418");
                            assertThat(d.restarts()).isEqualTo(3);
                        });
        assertThat(keys.devices())
                .filteredOn(d -> d.device().equals("fw-gullness-quay"))
                .singleElement()
                .satisfies(
                        d -> {
                            assertThat(d.cure()).isNull();
                            assertThat(d.obstacles()).isNotEmpty();
                        });
    }

    @Test
    void theInventoryOfASelectionComesBackAsItWentIn() throws Exception {
        Fleet fleet = RunningService.bean(Fleet.class);
        List<String> vessels = glances.names("role:*board");
        String yaml = InventoryText.write(fleet.inventory(vessels), InventoryText.Format.YAML);
        assertThat(fleet.take("i.yaml", yaml, InventoryText.Format.YAML, false, "test").unchanged())
                .containsExactlyInAnyOrderElementsOf(vessels);
        List<String> stacks = glances.names("tag:stack");
        String csv = InventoryText.write(fleet.inventory(stacks), InventoryText.Format.CSV);
        assertThat(fleet.take("i.csv", csv, InventoryText.Format.CSV, false, "test").unchanged())
                .as("a table has no room for members, and they stay")
                .containsExactlyInAnyOrderElementsOf(stacks);
        assertThat(fleet.require("sw-millhaven-1").device().parts()).hasSize(5);
    }
}
