package calmstep.core.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import calmstep.core.catalogue.CatalogueText;
import calmstep.core.fleet.InventoryText;
import calmstep.core.version.VersionScheme;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion.VersionFlag;
import com.networknt.schema.ValidationMessage;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

/** The JSON Schemas that editors check our files by, against the readers that the service checks them by. */
class SchemasTest {
    private static final Path DEMO = Path.of("../demo");

    private static Set<ValidationMessage> validate(String schema, String text) {
        try {
            JsonSchema read = JsonSchemaFactory.getInstance(VersionFlag.V202012).getSchema(Files.readString(Path.of("../docs/formats/%s.schema.json".formatted(schema))));
            return read.validate(new ObjectMapper().valueToTree(new Load(LoadSettings.builder().build()).loadFromString(text)));
        } catch (IOException gone) {
            throw new UncheckedIOException(gone);
        }
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
            assertThat(InventoryText.read(inventory, text, InventoryText.Format.YAML, families()).devices()).isNotEmpty();
        }
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
        inCatalogue.forEach((from, to) -> bothRefuse("catalogue", catalogue, from, to, text -> CatalogueText.read("c", text)));

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
        inInventory.forEach((from, to) -> bothRefuse("inventory", inventory, from, to, text -> InventoryText.read("i", text, InventoryText.Format.YAML, families)));
    }

    private static void bothRefuse(String schema, String whole, String from, String to, Consumer<String> reader) {
        String text = whole.replaceFirst(Pattern.quote(from), Matcher.quoteReplacement(to));
        assertThat(text).as("\"%s\" is in the file", from).isNotEqualTo(whole);
        assertThat(catchThrowable(() -> reader.accept(text))).as("the reader, of \"%s\" instead of \"%s\"", to, from).isInstanceOf(RejectedText.class);
        assertThat(validate(schema, text)).as("the schema, of \"%s\" instead of \"%s\"", to, from).isNotEmpty();
    }
}
