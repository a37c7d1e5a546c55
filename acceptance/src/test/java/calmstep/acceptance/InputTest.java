package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * What is handed in wrong is refused whole, with the place and the remedy; what must stay closed
 * stays closed.
 */
class InputTest {
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(3, one -> one.set("CALMSTEP_SHELF_BY", "tftp"));
        house.prepared(house.demoFile("inventory.yaml"));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    @Test
    void anInventoryIsRefusedAsAWholeWithEveryPlace() throws Exception {
        String wrong =
                house.demoFile("inventory.yaml")
                        .replaceFirst("family: osmer-r6", "family: osmer-r7")
                        .replace("127.63.4.1", "127.63.3.1")
                        .replace("system: 2.6.3", "system: two.6")
                        .replace("name: rt-", "name: new-");
        House.Answer answer = house.call("POST", "/api/inventory?file=fleet.yaml", wrong);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.detail()).contains("nothing of it was taken over: 3 things are wrong");
        assertThat(answer.json().path("details").valueStream().map(JsonNode::asString).toList())
                .satisfiesExactly(
                        first ->
                                assertThat(first)
                                        .matches(
                                                "fleet.yaml:7:13: The family \"osmer-r7\" is not"
                                                        + " known; did you mean \"osmer-r6\"\\?.*"),
                        second ->
                                assertThat(second)
                                        .startsWith(
                                                "fleet.yaml:27:14: The address 127.63.3.1 belongs"
                                                        + " to new-dunmere-1 already"),
                        third ->
                                assertThat(third)
                                        .startsWith(
                                                "fleet.yaml:33:21: Expected a version such as"
                                                        + " \"2.4.0\", saw \"two.6\""));
        assertThat(
                        house.get("/api/devices")
                                .valueStream()
                                .map(d -> d.path("name").asString())
                                .toList())
                .containsExactly("rt-dunmere-1", "rt-eskholm-1");
    }

    @Test
    void aCatalogueWhoseRuleNamesAnUnknownReleaseIsRefusedWithTheNearest() throws Exception {
        String wrong =
                house.demoFile("catalogue/osmer-r6.yaml")
                        .replace("from: '>= 2.6.3'", "from: '>= 2.6.4'")
                        .replace("says: 2.8 does", "tells: 2.8 does");
        House.Answer answer = house.call("POST", "/api/catalogues?file=osmer.yaml", wrong);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.details())
                .contains(
                        "The release 2.6.4 of system is not in this catalogue; did you mean"
                                + " \\\"2.6.0\\\"?")
                .contains("The key \\\"tells\\\" is not known here")
                .contains("The key \\\"says\\\" is missing here")
                .containsPattern("osmer.yaml:\\d+:\\d+: ");
    }

    @Test
    void onlyThePublishedImageGetsOntoTheShelf() throws Exception {
        byte[] image = Files.readAllBytes(house.image("osmer-r6c-2.4.0.img"));
        byte[] flipped = image.clone();
        flipped[4_000_000] ^= 1;
        String path = "/api/shelf/images/osmer-r6c-2.4.0.img";

        House.Answer checksum =
                house.call("PUT", path, Files.write(house.home().resolve("flipped.img"), flipped));
        assertThat(checksum.status()).isEqualTo(422);
        assertThat(checksum.detail())
                .contains("Expected: SHA-256 9a1c3531")
                .contains("Seen: SHA-256 ")
                .contains("in quarantine");
        House.Answer shorter =
                house.call(
                        "PUT",
                        path,
                        Files.write(house.home().resolve("short.img"), Arrays.copyOf(image, 1000)));
        assertThat(shorter.detail()).contains("Expected: 8,912,896 bytes. Seen: 1,000 bytes.");
        House.Answer longer =
                house.call(
                        "PUT",
                        path,
                        Files.write(
                                house.home().resolve("long.img"),
                                Arrays.copyOf(image, image.length + 70_000)));
        assertThat(longer.detail()).contains("Seen: more than 8,912,896 bytes.");
        House.Answer unknown =
                house.call(
                        "PUT",
                        "/api/shelf/images/notes.img",
                        Files.write(house.home().resolve("notes.img"), image));
        assertThat(unknown.detail()).contains("No catalogue publishes a file named \"notes.img\"");

        assertThat(
                        house.get("/api/shelf/quarantine")
                                .valueStream()
                                .map(q -> q.path("fileName").asString())
                                .toList())
                .containsOnly("osmer-r6c-2.4.0.img")
                .hasSize(3);
        assertThat(house.get("/api/shelf/images").toString()).doesNotContain("osmer-r6c-2.4.0.img");
    }

    @Test
    void theShelfGivesNothingButOpenTransfersByPlainNames() throws Exception {
        Path shelf = house.home().resolve("data/shelf");
        Files.writeString(shelf.resolve("stray.img"), "not verified");
        for (String name :
                List.of(
                        "/../../x",
                        "/%2e%2e/%2e%2e/device-secrets.key",
                        "/stray.img",
                        "//etc/passwd",
                        "/osmer-r6c-2.6.3.img",
                        "/")) {
            assertThat(http(name)).as(name).startsWith("HTTP/1.1 404");
        }
        assertThat(http("/osmer-r6c-2.6.3.img", "DELETE")).startsWith("HTTP/1.1 405");
        for (String name :
                List.of(
                        "../../x",
                        "../device-secrets.key",
                        "stray.img",
                        "/etc/passwd",
                        "osmer-r6c-2.6.3.img")) {
            assertThat(tftp((byte) 1, name)).as(name).contains("no such file for this device");
        }
        assertThat(tftp((byte) 2, "osmer-r6c-2.6.3.img")).contains("read requests only");
    }

    private static String http(String path) throws Exception {
        return http(path, "GET");
    }

    /** The first line of the answer; written by hand because a library would tidy the path. */
    private static String http(String path, String method) throws Exception {
        try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), house.shelfHttpPort())) {
            socket.getOutputStream()
                    .write(
                            "%s %s HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"
                                    .formatted(method, path)
                                    .getBytes(StandardCharsets.US_ASCII));
            return new String(socket.getInputStream().readAllBytes(), StandardCharsets.US_ASCII);
        }
    }

    private static String tftp(byte kind, String name) throws Exception {
        ByteArrayOutputStream request = new ByteArrayOutputStream();
        request.write(new byte[] {0, kind});
        request.write((name + "\0octet\0").getBytes(StandardCharsets.US_ASCII));
        try (DatagramSocket socket = new DatagramSocket()) {
            socket.setSoTimeout(3000);
            socket.send(
                    new DatagramPacket(
                            request.toByteArray(),
                            request.size(),
                            InetAddress.getLoopbackAddress(),
                            house.shelfTftpPort()));
            DatagramPacket answer = new DatagramPacket(new byte[600], 600);
            socket.receive(answer);
            return new String(answer.getData(), 0, answer.getLength(), StandardCharsets.US_ASCII);
        }
    }

    @Test
    void nothingIsOpenWithoutASignInAndARoleIsABound() {
        assertThat(house.call("", "GET", "/api/devices", null).status()).isEqualTo(401);
        assertThat(house.call("not-a-token", "GET", "/api/runs", null).detail())
                .contains("Sign in first");
        House.must(
                house.call(
                        "POST",
                        "/api/people",
                        Map.of(
                                "name",
                                "vera",
                                "role",
                                "viewer",
                                "password",
                                "a-viewers-password")));
        House.must(
                house.call(
                        "POST",
                        "/api/people",
                        Map.of(
                                "name",
                                "otto",
                                "role",
                                "operator",
                                "password",
                                "operators-password")));

        String viewer = tokenOf("vera", "a-viewers-password");
        assertThat(house.call(viewer, "GET", "/api/devices", null).status()).isEqualTo(200);
        assertThat(
                        house.call(viewer, "POST", "/api/readings", Map.of("devices", List.of()))
                                .status())
                .isEqualTo(403);
        String operator = tokenOf("otto", "operators-password");
        House.must(
                house.call(
                        operator,
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                "ottos",
                                "devices",
                                List.of("rt-dunmere-1"),
                                "target",
                                "2.8.2")));
        assertThat(house.call(operator, "POST", "/api/plans/ottos/approval", Map.of()).status())
                .isEqualTo(403);
        assertThat(house.call(operator, "GET", "/api/people", null).status()).isEqualTo(403);
        assertThat(
                        house.call("POST", "/api/plans/ottos/approval", Map.of())
                                .json()
                                .path("approvedBy")
                                .asString())
                .isEqualTo("admin");
    }

    private static String tokenOf(String name, String password) {
        return house.session(name, password);
    }

    @Test
    void guessingAPasswordIsSlowedDown() {
        for (int i = 0; i < 10; i++) {
            assertThat(
                            house.call(
                                            "",
                                            "POST",
                                            "/api/sessions",
                                            Map.of("name", "mallory", "password", "guess-" + i))
                                    .status())
                    .isEqualTo(401);
        }
        assertThat(
                        house.call(
                                        "",
                                        "POST",
                                        "/api/sessions",
                                        Map.of("name", "mallory", "password", "guess"))
                                .status())
                .isEqualTo(429);
    }

    @Test
    void whatIsOnlyEverAddedCannotBeChanged() throws Exception {
        try (var database = house.database();
                var statement = database.createStatement()) {
            for (String sql :
                    List.of(
                            "update reading set body = '{}'",
                            "delete from event",
                            "update catalogue set text = ''")) {
                assertThat(
                                org.assertj.core.api.Assertions.catchThrowable(
                                        () -> statement.execute(sql)))
                        .as(sql)
                        .hasMessageContaining("only ever added");
            }
        }
    }

    @Test
    void theConsolesTypesAreMadeFromThisInterface() throws Exception {
        JsonNode committed =
                tools.jackson.databind.json.JsonMapper.shared()
                        .readTree(Files.readString(House.TOP.resolve("console/openapi.json")));
        JsonNode served = house.get("/openapi.json");
        assertThat(served.path("paths")).isEqualTo(committed.path("paths"));
        assertThat(served.path("components")).isEqualTo(committed.path("components"));
    }

    @Test
    void aPlanOverTftpServesTheSameBytes() throws Exception {
        house.approvedPlan("over-tftp", "2.8.2", "rt-eskholm-1");
        house.start("over-tftp");
        house.awaitGate("over-tftp", "rt-eskholm-1");
        assertThat(house.call("GET", "/api/runs/over-tftp/units/rt-eskholm-1/talk", null).body())
                .contains("do bring tftp://127.0.0.1:")
                .contains("brought 11206656 bytes");
    }
}
