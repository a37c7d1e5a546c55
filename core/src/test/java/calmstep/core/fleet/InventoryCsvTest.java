package calmstep.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assertions.tuple;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.InventoryText.Format;
import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import calmstep.core.version.VersionScheme;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class InventoryCsvTest {
    private static final List<String> ODD =
            List.of(
                    "",
                    "plain",
                    "a, b",
                    "say \"no\"",
                    "- dash",
                    "12: 30",
                    "true",
                    "0x1F",
                    "null",
                    "ünï ☂",
                    "#5",
                    "two words",
                    "1.10");
    private static final List<Part> MEMBER_WITH_BOARD =
            List.of(
                    new Part(
                            "1",
                            Part.Kind.MEMBER,
                            "m",
                            "s",
                            Map.of("system", "2.4.0"),
                            List.of(
                                    new Part(
                                            "slot 2",
                                            Part.Kind.LINE_BOARD,
                                            "",
                                            "",
                                            Map.of(),
                                            List.of()))));

    private static final Map<String, Map<String, VersionScheme>> FAMILIES =
            Map.of(
                    "osmer-r6",
                    Map.of("system", VersionScheme.dotted(3), "board", VersionScheme.dotted(2)));
    private static final String HEADER = "name,family,site,zone,address,login,tags,runs,serves\n";

    private static Inventory read(String text) {
        return InventoryText.read("fleet.csv", text, Format.CSV, FAMILIES);
    }

    private static List<String> complaints(String text) {
        return catchThrowableOfType(RejectedText.class, () -> read(text)).complaints().stream()
                .map(Complaint::toString)
                .toList();
    }

    @Test
    void readsATableWithListsReleasesAndQuotedCells() {
        Inventory inventory =
                read(
                        HEADER
                                + "rt-1,osmer-r6,dunmere,Europe/Lisbon,192.0.2.1,steward,pilot;"
                                + " quay,system=2.4.0; board=1.12,\"ticket hall, \"\"upper\"\""
                                + " level\"\r\n\n"
                                + "rt-2,osmer-r6,dunmere,,192.0.2.2,steward,,,\n");
        assertThat(inventory.sites())
                .singleElement()
                .satisfies(site -> assertThat(site.zone().getId()).isEqualTo("Europe/Lisbon"));
        assertThat(inventory.devices())
                .satisfiesExactly(
                        one -> {
                            assertThat(one.tags()).containsExactly("pilot", "quay");
                            assertThat(one.runs())
                                    .containsEntry("system", "2.4.0")
                                    .containsEntry("board", "1.12");
                            assertThat(one.serves()).isEqualTo("ticket hall, \"upper\" level");
                        },
                        two -> assertThat(two.entitled()).isTrue());
    }

    @Test
    void namesEachMistakeAtItsLineAndColumn() {
        String row = "rt-1,osmer-r6,dunmere,Europe/Lisbon,192.0.2.1,steward,,,\n";
        assertThat(complaints(HEADER.replace("login", "logon") + row))
                .hasSize(2)
                .anyMatch(
                        c ->
                                c.equals(
                                        "fleet.csv:1:31: The column \"logon\" is not known here;"
                                                + " did you mean \"login\"?"))
                .anyMatch(c -> c.contains("The column \"login\" is missing"));
        assertThat(complaints(HEADER + row.replace("osmer-r6", "osmer-r7")))
                .singleElement()
                .asString()
                .startsWith("fleet.csv:2:6: The family \"osmer-r7\" is not known");
        assertThat(complaints(HEADER + row + row.replace("rt-1", "rt-2")))
                .singleElement()
                .asString()
                .startsWith("fleet.csv:3:37: The address 192.0.2.1 belongs to rt-1 already");
        assertThat(
                        complaints(
                                HEADER
                                        + row
                                        + row.replace("rt-1", "rt-2")
                                                .replace("2.1,", "2.2,")
                                                .replace("Lisbon", "Paris")))
                .singleElement()
                .asString()
                .startsWith(
                        "fleet.csv:3:23: The site dunmere has the zone \"Europe/Lisbon\" in line 2"
                                + " and \"Europe/Paris\" here");
        assertThat(
                        complaints(
                                HEADER
                                        + "rt-1,osmer-r6,dunmere,Europe/Lisbon,192.0.2.1,steward,,2.4.0,\n"))
                .singleElement()
                .asString()
                .startsWith("fleet.csv:2:56: Expected releases as \"system=2.4.0; board=1.12\"");
        assertThat(
                        complaints(
                                HEADER
                                        + "rt-1,osmer-r6,dunmere,Europe/Lisbon,192.0.2.1,steward,,,hall,quay\n"))
                .singleElement()
                .asString()
                .contains("This line has 10 cells, its header 9");
        assertThat(complaints(HEADER + "rt-1,\"osmer-r6,dunmere\n"))
                .anyMatch(c -> c.startsWith("fleet.csv:2:6: This quote is not closed"));
        assertThat(complaints(HEADER + row.replace("rt-1,", ",")))
                .singleElement()
                .asString()
                .startsWith("fleet.csv:2:2: The key \"name\" is missing here");
    }

    private static Inventory random(long seed, boolean withParts) {
        SplittableRandom random = new SplittableRandom(seed);
        List<Site> sites =
                List.of(
                        new Site(
                                "quay",
                                "North, \"old\" quay",
                                ZoneId.of("Atlantic/Azores"),
                                List.of("quay@northmere.example", "crew+night@northmere.example")),
                        new Site("mole", "Mole: #2", ZoneId.of("Europe/Lisbon")));
        List<Device> devices = new ArrayList<>();
        for (int i = 0; i < 1 + random.nextInt(12); i++) {
            devices.add(device(random, i, withParts && random.nextBoolean()));
        }
        List<Site> used =
                sites.stream()
                        .filter(s -> devices.stream().anyMatch(d -> d.site().equals(s.name())))
                        .toList();
        return new Inventory(used, devices);
    }

    private static Device device(SplittableRandom random, int i, boolean withParts) {
        return new Device(
                "d-" + i,
                "osmer-r6",
                new Hardware(
                        odd(random),
                        "C",
                        odd(random),
                        "",
                        random.nextBoolean() ? Set.of("mesh", "base") : Set.of()),
                odd(random),
                i % 2 == 0 ? "quay" : "mole",
                odd(random),
                random.nextBoolean() ? Set.of("pilot", "quay side") : Set.of(),
                "192.0.2." + i,
                random.nextBoolean() ? 22 : 2022,
                0,
                random.nextBoolean() ? List.of("steward") : List.of("steward", "old-steward"),
                random.nextBoolean(),
                random.nextBoolean() ? Map.of("system", "2.4.0", "board", "1.10") : Map.of(),
                withParts ? MEMBER_WITH_BOARD : List.of(),
                odd(random),
                random.nextBoolean()
                        ? Device.Wiring.NONE
                        : new Device.Wiring(
                                Set.of("x-1", "x-2"),
                                random.nextBoolean(),
                                random.nextBoolean() ? Set.of() : Set.of("core", "a b")),
                way(random));
    }

    private static String odd(SplittableRandom random) {
        return ODD.get(random.nextInt(ODD.size()));
    }

    private static Way way(SplittableRandom random) {
        return random.nextBoolean()
                ? Way.PLAIN
                : new Way(
                        List.of(
                                Way.Stop.parse("jump@192.0.2.9"),
                                new Way.Stop("far-jump", "2001:db8::9", 2200)),
                        random.nextBoolean()
                                ? Optional.empty()
                                : Optional.of(Way.Stop.parse("lines@console.quay:7001")),
                        Set.of("ssh-rsa", "aes128-cbc"));
    }

    @Test
    void whatIsWrittenIsReadBackTheSameInEveryFormat() {
        for (long seed = 0; seed < 300; seed++) {
            Inventory table = random(seed, false);
            assertThat(read(InventoryText.write(table, Format.CSV)))
                    .as("seed %s", seed)
                    .isEqualTo(table);
            Inventory whole = random(seed, true);
            assertThat(
                            InventoryText.read(
                                    "fleet.yaml",
                                    InventoryText.write(whole, Format.YAML),
                                    Format.YAML,
                                    FAMILIES))
                    .as("seed %s", seed)
                    .isEqualTo(whole);
        }
    }

    /** A sheet with two columns wipes nothing that it does not name: parts, links, ports, zone. */
    @Test
    void aTableChangesWhatItsColumnsNameAndNothingElse() {
        for (long seed = 0; seed < 40; seed++) {
            Inventory known = random(seed, true);
            Device before = known.devices().getFirst();
            for (String table :
                    List.of(
                            "name,role\n%s,spare router\n".formatted(before.name()),
                            "\uFEFFname;role\r\n%s;spare router\r\n".formatted(before.name()))) {
                Inventory after =
                        InventoryText.read("fleet.csv", table, Format.CSV, FAMILIES, known);
                assertThat(FieldChange.between(before, after.devices().getFirst()))
                        .as("seed %s", seed)
                        .extracting(FieldChange::field, FieldChange::after)
                        .containsExactly(tuple("role", "spare router"));
                assertThat(known.sites()).containsAll(after.sites());
            }
            assertThat(emptied(known, before).serves()).as("an empty cell empties").isEmpty();
        }
    }

    private static Device emptied(Inventory known, Device device) {
        return InventoryText.read(
                        "fleet.csv",
                        "name,serves\n%s,\n".formatted(device.name()),
                        Format.CSV,
                        FAMILIES,
                        known)
                .devices()
                .getFirst();
    }

    @Test
    void anAddressThatNoMachineCanHaveIsRefused() {
        String row = "rt-1,osmer-r6,dunmere,Europe/Lisbon,192.0.2.999,steward,,,\n";
        assertThat(complaints(HEADER + row))
                .singleElement()
                .asString()
                .contains(
                        "Expected an address such as 192.0.2.17 or a host name, saw"
                                + " \"192.0.2.999\"");
        assertThat(complaints(HEADER + row.replace("192.0.2.999", "2001:db8::g")))
                .singleElement()
                .asString()
                .contains("saw \"2001:db8::g\"");
    }
}
