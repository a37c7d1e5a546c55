package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.check.Await;
import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceTrouble;
import calmstep.dialect.Dialect;
import calmstep.dialect.DialectText;
import calmstep.dialect.Door;
import calmstep.dialect.Doors;
import calmstep.dialect.SshSecret;
import calmstep.dialect.StopKeys;
import calmstep.dialect.Talk;
import calmstep.practice.Fault;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Devices that are not simply there: behind real OpenSSH servers as jump hosts and console server,
 * or with algorithms of long ago.
 */
class ReachedThroughTest {
    private static final int NEAR = 18251;
    private static final int FAR = 18252;
    private static final int LINES = 18253;
    private static final int OLD = 18254;
    private static final String ROUTER = "127.72.4.1";
    private static final String USER = System.getProperty("user.name");
    private static House house;
    private static Path folder;
    private static SshSecret.Key key;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(12);
        house.shell("install_debian openssh-server /usr/sbin/sshd");
        folder = Files.createDirectories(house.home().resolve("stops"));
        keygen("id");
        Files.copy(folder.resolve("id.pub"), folder.resolve("authorized_keys"));
        key = new SshSecret.Key(Files.readString(folder.resolve("id")), "");
        for (int port : List.of(NEAR, FAR)) {
            keygen("key-" + port);
            start(port, "PermitOpen %s:*".formatted(port == NEAR ? "127.0.0.1" : ROUTER));
        }
        keygen("key-" + LINES);
        start(
                LINES,
                "ForceCommand bash -c 'exec 3<>/dev/tcp/%s/%s; cat <&3 & cat >&3'"
                        .formatted("127.72.3.1", house.consolePort()));
        house.shell("ssh-keygen -q -t rsa -N '' -f %s/key-%s".formatted(folder, OLD));
        start(
                OLD,
                """
                KexAlgorithms diffie-hellman-group14-sha1
                HostKeyAlgorithms ssh-rsa
                Ciphers aes128-cbc
                MACs hmac-sha1\
                """);
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/jump",
                        Map.of("user", USER, "password", "", "key", key.text())));
    }

    @AfterAll
    static void tearDown() throws Exception {
        try {
            for (int port : List.of(NEAR, FAR, LINES, OLD)) {
                stop(port);
            }
        } finally {
            house.close();
        }
    }

    private static void keygen(String name) throws Exception {
        house.shell("ssh-keygen -q -t ed25519 -N '' -f %s/%s".formatted(folder, name));
    }

    private static void start(int port, String more) throws Exception {
        new OpenSsh(house, folder, port).start("PubkeyAcceptedAlgorithms +ssh-rsa\n" + more);
    }

    private static void stop(int port) throws Exception {
        new OpenSsh(house, folder, port).stop();
    }

    private static JsonNode router() throws Exception {
        house.readAll();
        return house.get("/api/devices/rt-eskholm-1");
    }

    @Test
    void areReadThroughTwoJumpHostsWhoseKeysAreBelievedOnce() throws Exception {
        String fleet = Files.readString(House.TOP.resolve("demo/catalogue/osmer-r6.yaml"));
        House.must(house.call("POST", "/api/catalogues?file=osmer-r6.yaml", fleet));
        house.setStewardLogin();
        String inventory =
                """
                inventory: 1
                sites: [{ name: dunmere, title: Dunmere, zone: Europe/Lisbon }]
                devices: [{ name: rt-eskholm-1, family: osmer-r6, model: R6-4, site: dunmere, address: %s, port: %s, login: steward, via: [jump@127.0.0.1:%s, jump@127.0.0.1:%s] }]
                """
                        .formatted(ROUTER, house.sshPort(), NEAR, FAR);
        House.must(house.call("POST", "/api/inventory", inventory));
        JsonNode first = router();
        assertThat(first.path("reading").path("components").path("system").asString())
                .as("%s", first.path("silent"))
                .isEqualTo("2.6.3");
        assertThat(router().path("via").toString()).contains("jump@127.0.0.1:" + FAR);

        stop(FAR);
        assertThat(router().path("silent").path("expected").asString())
                .contains("jump@127.0.0.1:%s".formatted(FAR));
        house.shell("rm %s/key-%s*".formatted(folder, FAR));
        keygen("key-" + FAR);
        start(FAR, "PermitOpen %s:*".formatted(ROUTER));
        assertThat(router().path("silent").path("expected").asString())
                .contains("jump@127.0.0.1:%s shows the host key SHA256:".formatted(FAR));
        assertThat(
                        house.call(
                                        "DELETE",
                                        "/api/stops/127.0.0.1:%s/host-key".formatted(FAR),
                                        null)
                                .status())
                .isEqualTo(204);
        assertThat(router().path("silent").isNull())
                .as("%s", house.get("/api/devices/rt-eskholm-1").path("silent"))
                .isTrue();
    }

    @Test
    void areFoundInTheirBootLoaderAtAConsoleServer() throws Exception {
        Dialect dialect =
                DialectText.read(
                        "osmer-r6.yaml",
                        Files.readString(House.TOP.resolve("demo/dialects/osmer-r6.yaml")));
        Doors.Route route = new Doors.Route(List.of(), Optional.of(stop(LINES, "lines")), Set.of());
        house.machine("rt-dunmere-1").add(Fault.STOPS_IN_BOOT_LOADER);
        try (Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE);
                Door door =
                        doors.to(
                                new Doors.Address(
                                        "rt-dunmere-1",
                                        "127.72.3.1",
                                        house.sshPort(),
                                        0,
                                        List.of(
                                                new Doors.Login(
                                                        "steward",
                                                        "steward",
                                                        new SshSecret.Password(
                                                                House.DEVICE_PASSWORD))),
                                        "",
                                        route),
                                dialect,
                                Talk.NONE)) {
            door.session().restart();
            Whereabouts found =
                    Await.until(
                            Duration.ofSeconds(30),
                            "it is found in its boot loader",
                            door::whereabouts,
                            Whereabouts.InBootLoader.class::isInstance);
            assertThat(((Whereabouts.InBootLoader) found).lastLines())
                    .last()
                    .asString()
                    .startsWith("loader>");
        }
    }

    @Test
    void areSpokenToWithOldAlgorithmsOnlyWhereTheirLineSaysSo() throws Exception {
        Dialect host =
                DialectText.read(
                        "linux-host.yaml",
                        Files.readString(Path.of("src/test/resources/ninth/linux-host.yaml"))
                                .replace("HOST-FOLDER", folder.toString()));
        try (Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE)) {
            try (Door door =
                    doors.to(
                            old(Set.of("diffie-hellman-group14-sha1", "ssh-rsa", "aes128-cbc")),
                            host,
                            Talk.NONE)) {
                DeviceTrouble trouble = catchThrowableOfType(DeviceTrouble.class, door::session);
                assertThat(trouble.trouble().expected())
                        .contains("offers an SSH algorithm that is thought safe");
                assertThat(trouble.trouble().remedy()).contains("old-algorithms");
            }
            try (Door door =
                    doors.to(
                            old(
                                    Set.of(
                                            "diffie-hellman-group14-sha1",
                                            "ssh-rsa",
                                            "aes128-cbc",
                                            "hmac-sha1")),
                            host,
                            Talk.NONE)) {
                assertThat(door.session()).isNotNull();
            }
        }
    }

    @Test
    void areNotGuiltyOfWhatAJumpHostRefuses() throws Exception {
        house.shell("ssh-keygen -q -t ed25519 -N '' -f %s/stranger".formatted(folder));
        Doors.Stop stranger =
                new Doors.Stop(
                        "127.0.0.1",
                        NEAR,
                        new Doors.Login(
                                "stranger",
                                USER,
                                new SshSecret.Key(
                                        Files.readString(folder.resolve("stranger")), "")));
        Dialect dialect =
                DialectText.read(
                        "osmer-r6.yaml",
                        Files.readString(House.TOP.resolve("demo/dialects/osmer-r6.yaml")));
        Doors.Address behind =
                new Doors.Address(
                        "rt-eskholm-1",
                        ROUTER,
                        house.sshPort(),
                        0,
                        List.of(
                                new Doors.Login(
                                        "steward",
                                        "steward",
                                        new SshSecret.Password(House.DEVICE_PASSWORD))),
                        "",
                        new Doors.Route(List.of(stranger), Optional.empty(), Set.of()));
        try (Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE);
                Door door = doors.to(behind, dialect, Talk.NONE)) {
            DeviceTrouble first = catchThrowableOfType(DeviceTrouble.class, door::session);
            assertThat(first.kind())
                    .as("no login of the device was tried")
                    .isEqualTo(DeviceTrouble.Kind.REFUSED_BY_DEVICE);
            assertThat(first.trouble().expected()).contains("stranger@127.0.0.1:" + NEAR);
            assertThat(catchThrowableOfType(DeviceTrouble.class, door::session))
                    .as("it is not tried again at once")
                    .isSameAs(first);
        }
    }

    @Test
    void areOpenedByTheKeysOfAnAgent() throws Exception {
        Dialect host =
                DialectText.read(
                        "linux-host.yaml",
                        Files.readString(Path.of("src/test/resources/ninth/linux-host.yaml"))
                                .replace("HOST-FOLDER", folder.toString()));
        // The path of a socket may not be long.
        Path socket = Files.createTempDirectory("agent").resolve("s");
        Doors.Address address =
                new Doors.Address(
                        "host-1",
                        "127.0.0.1",
                        FAR,
                        0,
                        List.of(
                                new Doors.Login(
                                        "hosts", USER, new SshSecret.Agent(socket.toString()))),
                        "");
        try (Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE)) {
            try (Door door = doors.to(address, host, Talk.NONE)) {
                assertThat(
                                catchThrowableOfType(DeviceTrouble.class, door::session)
                                        .trouble()
                                        .expected())
                        .contains("an SSH agent at " + socket);
            }
            house.shell(
                    "ssh-agent -a %s > %s/agent; SSH_AUTH_SOCK=%1$s ssh-add -q %2$s/id"
                            .formatted(socket, folder));
            try (Door door = doors.to(address, host, Talk.NONE)) {
                assertThat(door.session()).isNotNull();
            } finally {
                house.shell(
                        "eval $(cat %s/agent) > /dev/null; ssh-agent -k > /dev/null"
                                .formatted(folder));
            }
        }
    }

    private static Doors.Stop stop(int port, String login) {
        return new Doors.Stop("127.0.0.1", port, new Doors.Login(login, USER, key));
    }

    private static Doors.Address old(Set<String> allowed) {
        return new Doors.Address(
                "host-1",
                "127.0.0.1",
                OLD,
                0,
                List.of(new Doors.Login("hosts", USER, key)),
                "",
                new Doors.Route(List.of(), Optional.empty(), allowed));
    }
}
