package calmstep.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import calmstep.core.version.VersionScheme;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class InventoryTextTest {
    private static final Map<String, Map<String, VersionScheme>> FAMILIES =
            Map.of(
                    "osmer-r6",
                    Map.of("system", VersionScheme.dotted(3), "board", VersionScheme.dotted(2)));

    private static String demo() throws Exception {
        return Files.readString(Path.of("../demo/inventory.yaml"));
    }

    private static List<String> complaints(String from, String to) throws Exception {
        assertThat(demo()).contains(from);
        return catchThrowableOfType(
                        RejectedText.class,
                        () ->
                                InventoryText.read(
                                        "i.yaml",
                                        demo().replace(from, to),
                                        InventoryText.Format.YAML,
                                        FAMILIES))
                .complaints()
                .stream()
                .map(Complaint::toString)
                .toList();
    }

    @Test
    void readsTheDemosInventoryAndTheSameAsJson() throws Exception {
        Inventory inventory =
                InventoryText.read("i.yaml", demo(), InventoryText.Format.YAML, FAMILIES);
        assertThat(inventory.find("rt-dunmere-1"))
                .hasValueSatisfying(
                        device -> {
                            assertThat(device.consolePort()).isEqualTo(2023);
                            assertThat(device.runs()).containsEntry("system", "2.4.0");
                            assertThat(device.serves())
                                    .isEqualTo("Dunmere ticket hall and quay office");
                        });
        String json =
                "{\"inventory\": 1, \"sites\": [{\"name\": \"s\", \"zone\": \"Atlantic/Azores\"}],"
                    + " \"devices\": [{\"name\": \"a\", \"family\": \"osmer-r6\", \"site\": \"s\","
                    + " \"address\": \"2001:db8::7\", \"login\": \"l\"}]}";
        assertThat(
                        InventoryText.read("i.json", json, InventoryText.Format.YAML, FAMILIES)
                                .devices())
                .singleElement()
                .satisfies(
                        device -> {
                            assertThat(device.port()).isEqualTo(22);
                            assertThat(device.entitled()).isTrue();
                        });
    }

    @Test
    void namesEachMistakeAtItsPlace() throws Exception {
        assertThat(
                        complaint(
                                "zone: Europe/Lisbon }\n  - { name: eskholm",
                                "zone: Europe/Lisboa }\n  - { name: eskholm"))
                .contains("i.yaml:3:44: Expected a time zone such as Europe/Lisbon");
        assertThat(complaint("site: eskholm", "site: eskolm"))
                .contains("The site \"eskolm\" is not under \"sites\"; did you mean \"eskholm\"?");
        assertThat(complaint("name: rt-eskholm-1", "name: rt-dunmere-1"))
                .contains("The device rt-dunmere-1 is given twice");
        assertThat(complaint("name: rt-eskholm-1", "name: RT Eskholm"))
                .contains("Expected a name of small letters, digits, dots and dashes");
        assertThat(complaint("address: 127.40.4.1", "address: next door"))
                .contains("Expected an address such as 192.0.2.17");
        assertThat(
                        complaint(
                                """
                                port: 2022
                                    console-port: 2023
                                    login: steward
                                    entitled: true
                                    serves: Eskholm\
                                """,
                                """
                                port: 99999
                                    console-port: 2023
                                    login: steward
                                    entitled: true
                                    serves: Eskholm\
                                """))
                .contains("Expected a port from 1 to 65535, saw 99999");
        assertThat(complaints("inventory: 1", "inventry: 1"))
                .anyMatch(
                        c ->
                                c.contains(
                                        "\"inventry\" is not known here; did you mean"
                                                + " \"inventory\"?"));
        assertThat(
                        complaint(
                                "    login: steward\n    entitled: true\n    serves: Eskholm",
                                "    entitled: true\n    serves: Eskholm"))
                .contains("The key \"login\" is missing here");
    }

    @Test
    void saysOfEachLineWhatItExpects() throws Exception {
        String eskholm = "    login: steward\n    entitled: true\n    serves: Eskholm";
        assertThat(complaint(eskholm, eskholm.replace("steward", "[steward, steward]")))
                .contains("A login is named twice");
        assertThat(complaint(eskholm, "    via: [jump@192.0.2.9, far at 192.0.2.10]\n" + eskholm))
                .contains("Expected a host on the way as LOGIN@HOST:PORT")
                .contains("far at 192.0.2.10");
        assertThat(complaints(eskholm, "    console: lines@192.0.2.9:70010\n" + eskholm))
                .anyMatch(c -> c.contains("saw \"lines@192.0.2.9:70010\""));
        assertThat(complaint(eskholm, "    console: lines@192.0.2.9:7001\n" + eskholm))
                .contains("leave one of \"console\" and \"console-port\" out");
        assertThat(
                        complaint(
                                "role: branch router\n    address: 127.40.4.1",
                                "role: [branch, router]\n    address: 127.40.4.1"))
                .contains("Expected one value for role, saw a list");
        assertThat(complaints("sites:\n", "sites: none\nplaces:\n"))
                .anyMatch(
                        c ->
                                c.contains(
                                        "Expected a list (lines that begin with \"- \") for sites,"
                                                + " saw the value \"none\""));
    }

    /** The only one. */
    private static String complaint(String right, String wrong) throws Exception {
        assertThat(complaints(right, wrong)).hasSize(1);
        return complaints(right, wrong).getFirst();
    }
}
