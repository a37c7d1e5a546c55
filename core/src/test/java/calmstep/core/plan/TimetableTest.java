package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.fleet.Way;
import calmstep.core.forecast.Times;
import calmstep.core.path.Hop;
import calmstep.core.reach.Network;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.core.wave.Placement;
import calmstep.core.wave.Wishes;
import calmstep.core.window.NightRules;
import calmstep.core.window.WindowsText;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** What a plan's nights come to for its run. */
class TimetableTest {
    private static final Instant EVENING = Instant.parse("2026-11-23T18:00:20Z");
    private static final Site QUAY = new Site("quay", "Quay", ZoneOffset.UTC);

    private static Device device(String name, String... links) {
        return new Device(
                name,
                "f",
                new Hardware("M", "", "", "", Set.of()),
                "",
                "quay",
                "router",
                Set.of(),
                "192.0.2.1",
                22,
                0,
                List.of("l"),
                true,
                Map.of("system", "0"),
                List.of(),
                "",
                new Device.Wiring(Set.of(links), name.equals("root"), Set.of()),
                Way.PLAIN);
    }

    private static UnitPlan unit(String name, int hops) {
        List<HopPlan> planned = new ArrayList<>();
        for (int ordinal = 1; ordinal <= hops; ordinal++) {
            FirmwareImage image =
                    new FirmwareImage(
                            "v%s.img".formatted(ordinal),
                            1_000,
                            "c".repeat(64),
                            Purpose.UPGRADE,
                            Variant.ANY);
            Hop hop =
                    new Hop(
                            "system",
                            String.valueOf(ordinal - 1),
                            String.valueOf(ordinal),
                            List.of(image),
                            List.of(),
                            List.of(),
                            1,
                            Duration.ofMinutes(5),
                            Effect.Configuration.KEPT,
                            true,
                            List.of(),
                            List.of());
            planned.add(new HopPlan(ordinal, hop, UnitPlan.stepsOf(hop, ordinal == hops)));
        }
        return new UnitPlan(
                name,
                "quay",
                "192.0.2.1",
                Optional.of(EVENING),
                "S",
                Hardware.UNKNOWN,
                "",
                false,
                "",
                Duration.ofMinutes(20),
                1_000_000,
                UnitPlan.Supply.SHELF,
                Set.of(),
                Set.of(),
                Set.of(),
                planned);
    }

    private static NightPlanning.Known known(String window, String limits) {
        return known(window, limits, device("root"), device("near", "root"), device("far", "near"));
    }

    private static NightPlanning.Known known(String window, String limits, Device... devices) {
        NightRules rules =
                WindowsText.read(
                        "w",
                        "windows: 1\nopen: [{ name: n, rule: FREQ=DAILY, %s }]\nlimits: { %s }\n"
                                .formatted(window, limits),
                        Set.of("quay"));
        return new NightPlanning.Known(
                Arrays.stream(devices).collect(Collectors.toMap(Device::name, one -> one)),
                Map.of(),
                Map.of("quay", QUAY),
                rules,
                Network.of(List.of(devices)),
                Times.byCatalogue(),
                Map.of());
    }

    /** In the ring root - a - b - c - d - root neither a nor d cuts off anybody, and both do. */
    @Test
    void twoThatTogetherCutOffAThirdAreKeptApart() {
        NightPlanning.Known known =
                known(
                        "from: \"01:00\", until: \"03:00\"",
                        "pilots: 0, at-once-a-site: 5",
                        device("root"),
                        device("a", "root"),
                        device("b", "a"),
                        device("c", "b"),
                        device("d", "c", "root"));
        List<UnitPlan> units = List.of(unit("a", 1), unit("d", 1));
        Nights nights =
                NightPlanning.of(units, known, Wishes.NONE, new Start.NextWindow(), EVENING);
        List<Placement> placed = nights.schedule().placements();
        assertThat(placed.get(1).begins()).isAfterOrEqualTo(placed.get(0).ends());
        assertThat(
                        NightPlanning.timetable(
                                        nights, units, known, new Start.NextWindow(), EVENING, 1)
                                .units()
                                .get("a")
                                .beside()
                                .notWith())
                .containsExactly("d");
        assertThat(nights.findings(new Start.NextWindow())).isEmpty();
    }

    /** Three ways to x of different lengths: any two may be down, all three cut it off. */
    @Test
    void threeThatTogetherCutOffAFourthAreACaution() {
        NightPlanning.Known known =
                known(
                        "from: \"01:00\", until: \"03:00\"",
                        "pilots: 0, at-once-a-site: 5, at-once: 5, at-once-a-family: 5",
                        device("root"),
                        device("p", "root"),
                        device("q1", "root"),
                        device("q", "q1"),
                        device("r1", "root"),
                        device("r2", "r1"),
                        device("r", "r2"),
                        device("x", "p", "q", "r"));
        Nights nights =
                NightPlanning.of(
                        List.of(unit("p", 1), unit("q", 1), unit("r", 1)),
                        known,
                        Wishes.NONE,
                        new Start.NextWindow(),
                        EVENING);
        assertThat(nights.nights().getFirst().cutsOff()).containsExactly("x");
        assertThat(nights.findings(new Start.NextWindow()))
                .singleElement()
                .satisfies(
                        finding -> {
                            assertThat(finding.severity()).isEqualTo(Severity.CAUTION);
                            assertThat(finding.fact())
                                    .isEqualTo(
                                            "p would be in work together with q, r, and all of"
                                                    + " them together cut off x.");
                        });
    }

    @Test
    void givesEachPartItsTurnInItsWindowAndSaysWhoIsKeptApart() {
        NightPlanning.Known known =
                known("from: \"01:00\", until: \"03:00\"", "pilots: 0, at-once-a-site: 5");
        List<UnitPlan> units = List.of(unit("near", 1), unit("far", 2));
        Nights nights =
                NightPlanning.of(units, known, Wishes.NONE, new Start.NextWindow(), EVENING);
        Timetable table =
                NightPlanning.timetable(nights, units, known, new Start.NextWindow(), EVENING, 1);
        assertThat(table.units()).containsOnlyKeys("far", "near");
        assertThat(table.units().get("near").beside().notWith())
                .as("near cuts far off")
                .containsExactly("far");
        assertThat(table.units().get("far").beside().notWith()).containsExactly("near");
        for (UnitPlan unit : units) {
            List<Placement> placed = nights.schedule().of(unit.device());
            List<Turn> turns = table.units().get(unit.device()).turns();
            assertThat(turns).hasSameSizeAs(placed);
            for (int part = 0; part < turns.size(); part++) {
                assertThat(turns.get(part).firstHop()).isEqualTo(part + 1);
                assertThat(turns.get(part).closes()).isEqualTo(placed.get(part).closes());
                assertThat(turns.get(part).begins())
                        .as("%s %s", unit.device(), part)
                        .isBeforeOrEqualTo(placed.get(part).begins());
                assertThat(turns.get(part).needs())
                        .isEqualTo(
                                Duration.between(
                                        placed.get(part).begins(), placed.get(part).ends()));
                assertThat(turns.get(part).fitsFrom(placed.get(part).begins())).isTrue();
            }
        }
        List<Turn> far = table.units().get("far").turns();
        assertThat(far.get(1).begins())
                .as("its second part waits for nothing but the first, so it may follow at once")
                .isEqualTo(far.get(0).begins());
    }

    @Test
    void aPlanThatBeginsNowGoesWithTheRunThatBeginsLaterAndWithTheDevicesPace() {
        NightPlanning.Known known =
                known("from: \"01:00\", until: \"03:00\"", "pilots: 0, at-once-a-site: 1");
        List<UnitPlan> units = List.of(unit("near", 1), unit("far", 1));
        Nights nights = NightPlanning.of(units, known, Wishes.NONE, new Start.Now(), EVENING);
        Instant later = EVENING.plus(Duration.ofHours(2));
        Instant planned = nights.schedule().of("near").getFirst().begins();
        Turn near =
                NightPlanning.timetable(nights, units, known, new Start.Now(), later, 1)
                        .units()
                        .get("near")
                        .turns()
                        .getFirst();
        assertThat(near.begins())
                .isEqualTo(later.plus(Duration.between(nights.schedule().from(), planned)));
        Turn fast =
                NightPlanning.timetable(nights, units, known, new Start.Now(), later, 60)
                        .units()
                        .get("near")
                        .turns()
                        .getFirst();
        assertThat(fast.begins())
                .isEqualTo(
                        later.plus(
                                Duration.between(nights.schedule().from(), planned).dividedBy(60)));
        assertThat(fast.needs()).isEqualTo(near.needs().dividedBy(60));
    }

    @Test
    void aUnitThatNoWindowHoldsIsBegunByAPerson() {
        NightPlanning.Known known = known("from: \"01:00\", until: \"01:03\"", "pilots: 0");
        List<UnitPlan> units = List.of(unit("near", 1));
        Nights nights =
                NightPlanning.of(units, known, Wishes.NONE, new Start.NextWindow(), EVENING);
        assertThat(nights.schedule().nowhere()).hasSize(1);
        Turn turn =
                NightPlanning.timetable(nights, units, known, new Start.NextWindow(), EVENING, 1)
                        .units()
                        .get("near")
                        .turns()
                        .getFirst();
        assertThat(turn.fitsFrom(EVENING)).isFalse();
        assertThat(turn.needs()).isGreaterThan(Duration.ofMinutes(4));
    }
}
