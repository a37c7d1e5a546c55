package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * A family that Calm Step has never heard of, added by text files alone: a Linux host behind a real
 * OpenSSH server, opened by a key.
 */
@Order(9)
class NinthFamilyTest {
    private static final int SSH_PORT = 18229;
    private static final Path TEXTS = Path.of("src/test/resources/ninth").toAbsolutePath();
    private static House house;
    private static Path host;
    private static Path keys;

    @BeforeAll
    static void build() throws Exception {
        house = House.of(11, "practice-fleet: 1\nmachines: []\n", NinthFamilyTest::furnish);
        new OpenSsh(house, host, SSH_PORT).start("");
    }

    private static void furnish(House house) throws Exception {
        house.shell("install_debian openssh-server /usr/sbin/sshd curl curl");
        host = Files.createDirectories(house.home().resolve("host"));
        keys = Files.createDirectories(house.home().resolve("keys"));
        Files.createDirectories(host.resolve("boot"));
        run(
                "ssh-keygen",
                "-q",
                "-t",
                "ed25519",
                "-N",
                "",
                "-f",
                host.resolve("key-" + SSH_PORT).toString());
        run(
                "ssh-keygen",
                "-q",
                "-t",
                "ed25519",
                "-N",
                "over the sea",
                "-f",
                keys.resolve("id").toString());
        Files.copy(keys.resolve("id.pub"), host.resolve("authorized_keys"));
        Files.copy(TEXTS.resolve("restart"), host.resolve("restart"));
        Map.of(
                        "serial",
                        "LH-1\n",
                        "running",
                        "host-7.1.img\n",
                        "choice",
                        "next host-7.1.img\nspare host-7.1.img\n",
                        "starts",
                        "3\n",
                        "settings.now",
                        "name host-1\nsecret hunter-9\n",
                        "settings.kept",
                        "name host-1\nsecret hunter-9\n")
                .forEach((name, text) -> write(host.resolve(name), text));
        write(host.resolve("boot/host-7.1.img"), image("7.1"));
        Path dialects = Files.createDirectories(house.home().resolve("dialects"));
        write(
                dialects.resolve("linux-host.yaml"),
                Files.readString(TEXTS.resolve("linux-host.yaml"))
                        .replace("HOST-FOLDER", host.toString()));
        house.set("CALMSTEP_DIALECTS", dialects.toString());
    }

    @AfterAll
    static void tearDown() throws Exception {
        new OpenSsh(house, host, SSH_PORT).stop();
        house.close();
    }

    private static void run(String... command) throws Exception {
        assertThat(new ProcessBuilder(command).inheritIO().start().waitFor()).isZero();
    }

    private static void write(Path file, String text) {
        try {
            Files.writeString(file, text);
        } catch (IOException failed) {
            throw new IllegalStateException(failed);
        }
    }

    private static String image(String release) {
        return "host image %s\n%s".formatted(release, "0123456789abcdef\n".repeat(50_000));
    }

    private static String catalogue() throws Exception {
        StringBuilder releases = new StringBuilder();
        for (String release : List.of("7.1", "7.2")) {
            byte[] bytes = image(release).getBytes(StandardCharsets.UTF_8);
            releases.append(
                    "  - { version: '%s', date: 2026-0%s-01, recommended: %s, images: [{ file: host-%1$s.img, size-bytes: %s, sha256: %s }] }\n"
                            .formatted(
                                    release,
                                    release.substring(2),
                                    release.equals("7.2"),
                                    bytes.length,
                                    HexFormat.of()
                                            .formatHex(
                                                    MessageDigest.getInstance("SHA-256")
                                                            .digest(bytes))));
        }
        return "catalogue: 1\n"
                + "family: linux-host\n"
                + "title: Linux host\n"
                + "issued: 2026-11-02\n"
                + "gives-up-after: 20 min\n"
                + "components: { system: { fields: 2 } }\n"
                + "releases:\n"
                + releases
                + "effects: [{ to: any, restarts: 1, dark: 4 min }]\n";
    }

    @Test
    void isReadBackedUpAndMovedByTextFilesAlone() throws Exception {
        House.must(house.call("POST", "/api/catalogues?file=linux-host.yaml", catalogue()));
        House.must(
                house.call(
                        "POST",
                        "/api/inventory",
                        """
                        inventory: 1
                        sites: [{ name: millhaven, title: Millhaven, zone: Europe/Lisbon }]
                        devices: [{ name: host-1, family: linux-host, model: x86_64, serial: LH-1, site: millhaven, address: 127.0.0.1, port: %s, login: hosts }]
                        """
                                .formatted(SSH_PORT)));
        String key = Files.readString(keys.resolve("id"));
        String user = System.getProperty("user.name");
        assertThat(
                        house.call(
                                        "PUT",
                                        "/api/logins/hosts",
                                        Map.of("user", user, "password", "wrong", "key", key))
                                .detail())
                .contains("The private key cannot be read");
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/hosts",
                        Map.of("user", user, "password", "over the sea", "key", key)));

        Path image = Files.writeString(house.home().resolve("host-7.2.img"), image("7.2"));
        House.must(house.call("PUT", "/api/shelf/images/host-7.2.img", image));
        house.readAll();
        JsonNode device = house.get("/api/devices/host-1");
        assertThat(device.path("silent").isNull()).as("%s", device.path("silent")).isTrue();
        assertThat(device.path("reading").path("components").path("system").asString())
                .isEqualTo("7.1");
        assertThat(device.path("reading").path("volumes").path(0).path("freeBytes").asLong())
                .isPositive();

        itsDialectPassesTheCheckOnIt();
        house.approvedPlan("hosts", "7.2", "host-1");
        house.start("hosts");
        house.awaitGate("hosts", "host-1");
        house.go("hosts", "host-1");
        assertThat(house.awaitEnd("hosts", "host-1", Duration.ofMinutes(2)))
                .as("%s", house.unit("hosts", "host-1"))
                .isEqualTo("settled");
        assertThat(Files.readString(host.resolve("running"))).isEqualTo("host-7.2.img\n");
        assertThat(Files.readString(host.resolve("starts"))).as("restarted once").isEqualTo("4\n");
        assertThat(house.get("/api/devices/host-1").path("runs").asString()).isEqualTo("7.2");
        assertThat(house.get("/api/devices/host-1/backups").size()).isEqualTo(2);
        assertThat(house.get("/api/runs/hosts/units/host-1/talk").toString())
                .contains("sha256sum boot/host-7.2.img")
                .doesNotContain("hunter-9");
    }

    private void itsDialectPassesTheCheckOnIt() throws IOException {
        JsonNode check =
                house.call(
                                "POST",
                                "/api/dialects/check",
                                Map.of(
                                        "file",
                                        "linux-host.yaml",
                                        "text",
                                        Files.readString(
                                                house.home().resolve("dialects/linux-host.yaml")),
                                        "device",
                                        "host-1"))
                        .json();
        assertThat(check.path("good").asBoolean()).as("%s", check).isTrue();
    }
}
