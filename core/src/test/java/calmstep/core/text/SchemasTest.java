package calmstep.core.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import calmstep.core.catalogue.CatalogueText;
import calmstep.core.fleet.InventoryText;
import calmstep.core.version.VersionScheme;
import calmstep.core.window.WindowsText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.nodes.MappingNode;

/**
 * The JSON Schemas that editors check our files by, against the readers that the service checks
 * them by.
 */
class SchemasTest {
    private static final Path DEMO = Path.of("../demo");

    private static List<Complaint> validate(String schema, String text) {
        return FormatSchema.of(schema)
                .complaints(
                        "f",
                        (MappingNode)
                                new Compose(LoadSettings.builder().build())
                                        .composeString(text)
                                        .orElseThrow());
    }

    private static List<Path> catalogues() throws IOException {
        try (Stream<Path> files = Files.list(DEMO.resolve("catalogue"))) {
            return files.sorted().toList();
        }
    }

    private static Map<String, Map<String, VersionScheme>> families() throws IOException {
        Map<String, Map<String, VersionScheme>> families = new HashMap<>();
        for (Path file : catalogues()) {
            var catalogue = CatalogueText.read(file.toString(), Files.readString(file));
            families.put(catalogue.family(), catalogue.schemes());
        }
        return families;
    }

    @Test
    void holdForEveryFileOfTheDemo() throws IOException {
        for (Path file : catalogues()) {
            assertThat(validate("catalogue", Files.readString(file))).as(file.toString()).isEmpty();
        }
        for (String inventory : List.of("inventory.yaml", "northmere.yaml")) {
            String text = Files.readString(DEMO.resolve(inventory));
            assertThat(validate("inventory", text)).as(inventory).isEmpty();
            assertThat(
                            InventoryText.read(
                                            inventory, text, InventoryText.Format.YAML, families())
                                    .devices())
                    .isNotEmpty();
        }
    }

    @Test
    void holdForTheOtherFormatsToo() throws IOException {
        assertThat(validate("windows", Files.readString(DEMO.resolve("windows.yaml")))).isEmpty();
        assertThat(validate("dialect", Files.readString(DEMO.resolve("dialects/osmer-r6.yaml"))))
                .isEmpty();
        for (String fleet : List.of("practice-fleet.yaml", "practice-images.yaml")) {
            assertThat(validate("practice-fleet", Files.readString(DEMO.resolve(fleet))))
                    .as(fleet)
                    .isEmpty();
        }
    }

    /**
     * What only the schema knows is told all the same, at its place; where the reader has better
     * words, the reader's are told, once.
     */
    @Test
    void areWhatAFileIsCheckedBy() throws IOException {
        String catalogue = Files.readString(DEMO.resolve("catalogue/tarnel-t2.yaml"));
        RejectedText rejected =
                (RejectedText)
                        catchThrowable(
                                () ->
                                        CatalogueText.read(
                                                "c",
                                                catalogue.replaceFirst(
                                                        "may-rest: true", "may-rist: true")));
        assertThat(rejected.complaints())
                .hasSize(1)
                .first()
                .asString()
                .contains("may-rist")
                .contains("did you mean");
        Complaints complaints = new Complaints();
        Section top =
                Section.ofText(
                        "practice-fleet",
                        "f",
                        "practice-fleet: 1\nimages: []\nmachines:\n  - { name: rt }\n",
                        complaints);
        top.sections("machines");
        assertThat(catchThrowable(complaints::throwIfAny))
                .isInstanceOf(RejectedText.class)
                .hasMessageContaining("f:4:5: The key \"address\" is missing here; add it.");
    }

    @Test
    void refuseTheMistakesOfFormThatTheReadersRefuse() throws IOException {
        Map<String, String> inCatalogue = new LinkedHashMap<>();
        inCatalogue.put("catalogue: 1", "catalogue: 2");
        inCatalogue.put("channel: early", "channel: nightly");
        inCatalogue.put("may-rest: true", "may-rist: true");
        inCatalogue.put("recommended: true", "recommended: perhaps");
        inCatalogue.put("size-bytes: 1500000", "size-bytes: -5");
        inCatalogue.put("sha256: ", "sha256: x");
        inCatalogue.put("severity: high", "severity: terrible");
        inCatalogue.put("    source: 'release note 6.0.2, section 3'\n", "");
        inCatalogue.put("dark: 7 min", "dark: soon");
        inCatalogue.put("    needs: { loader: '>= 1.9' }\n", "");
        String catalogue = Files.readString(DEMO.resolve("catalogue/tarnel-t2.yaml"));
        inCatalogue.forEach(
                (from, to) ->
                        bothRefuse(
                                "catalogue",
                                catalogue,
                                from,
                                to,
                                text -> CatalogueText.read("c", text)));

        Map<String, String> inInventory = new LinkedHashMap<>();
        inInventory.put("name: rt-dunmere-1", "name: RT Dunmere");
        inInventory.put("    login: steward\n", "");
        inInventory.put("role: firewall pair", "rolle: firewall pair");
        inInventory.put("kind: partner", "kind: mate");
        inInventory.put("port: 2022", "port: 99999");
        inInventory.put("entitled: false", "entitled: no");
        inInventory.put("zone: Europe/Lisbon", "zonne: Europe/Lisbon");
        String inventory = Files.readString(DEMO.resolve("northmere.yaml"));
        Map<String, Map<String, VersionScheme>> families = families();
        inInventory.forEach(
                (from, to) ->
                        bothRefuse(
                                "inventory",
                                inventory,
                                from,
                                to,
                                text ->
                                        InventoryText.read(
                                                "i", text, InventoryText.Format.YAML, families)));
    }

    @Test
    void refuseTheMistakesOfWindowsFilesToo() throws IOException {
        String windows = Files.readString(DEMO.resolve("windows.yaml"));
        Set<String> sites = new HashSet<>();
        Pattern.compile("name: ([a-z-]+), title")
                .matcher(Files.readString(DEMO.resolve("northmere.yaml")))
                .results()
                .forEach(m -> sites.add(m.group(1)));
        Map<String, String> wrong = new LinkedHashMap<>();
        wrong.put("windows: 1", "windows: 3");
        wrong.put("until: \"04:30\"", "until: half past four");
        wrong.put("at-once: 8", "at-once: 0");
        wrong.put("soak: 20 h", "soak: overnight");
        wrong.put("from: 2026-12-04", "from: 4 December");
        wrong.put("bytes-per-second: 400000", "bytes-per-second: -1");
        wrong.put("name: no ferry sails", "nam: no ferry sails");
        wrong.forEach(
                (from, to) ->
                        bothRefuse(
                                "windows",
                                windows,
                                from,
                                to,
                                text -> WindowsText.read("w", text, sites)));
    }

    private static void bothRefuse(
            String schema, String whole, String from, String to, Consumer<String> reader) {
        String text = whole.replaceFirst(Pattern.quote(from), Matcher.quoteReplacement(to));
        assertThat(text).as("\"%s\" is in the file", from).isNotEqualTo(whole);
        assertThat(catchThrowable(() -> reader.accept(text)))
                .as("the reader, of \"%s\" instead of \"%s\"", to, from)
                .isInstanceOf(RejectedText.class);
        assertThat(validate(schema, text))
                .as("the schema, of \"%s\" instead of \"%s\"", to, from)
                .isNotEmpty();
    }
}
