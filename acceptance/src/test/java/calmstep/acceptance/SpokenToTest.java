package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.check.Await;
import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.dialect.Dialect;
import calmstep.dialect.DialectText;
import calmstep.dialect.Door;
import calmstep.dialect.Doors;
import calmstep.dialect.SignIns;
import calmstep.dialect.SshSecret;
import calmstep.dialect.StopKeys;
import calmstep.dialect.Talk;
import calmstep.practice.Fault;
import calmstep.practice.PracticeFleet;
import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The dialect and the stand-in over SSH, without a service between them. */
class SpokenToTest {
    @TempDir private Path folder;

    private PracticeFleet fleet;
    private Doors doors;
    private Dialect dialect;
    private final List<String> talk = new ArrayList<>();

    @BeforeEach
    void play() throws Exception {
        Path images = House.TOP.resolve("build/test-images");
        Path text = House.TOP.resolve("demo/practice-fleet.yaml");
        PracticeFleet.writeImages(text, images);
        Path own =
                Files.writeString(
                        folder.resolve("fleet.yaml"),
                        Files.readString(text)
                                .replace("127.40.", "127.77.")
                                .replace("2022", "18722")
                                .replace("2023", "18723"));
        fleet = PracticeFleet.play(own, images, folder.resolve("state"), Optional.of(600));
        doors = new Doors(Clock.systemUTC(), StopKeys.NONE);
        dialect =
                DialectText.read(
                        "osmer",
                        Files.readString(House.TOP.resolve("demo/dialects/osmer-r6.yaml")));
    }

    @AfterEach
    void end() {
        doors.close();
        fleet.close();
    }

    private Door door(String password, String hostKey) {
        Talk taken =
                new Talk() {
                    @Override
                    public void typed(String text) {
                        talk.add("typed " + text);
                    }

                    @Override
                    public void answered(String text) {
                        talk.add(text);
                    }
                };
        return doors.to(address(List.of(login("steward", password)), hostKey), dialect, taken);
    }

    private static Doors.Address address(List<Doors.Login> logins, String hostKey) {
        return new Doors.Address("rt-dunmere-1", "127.77.3.1", 18722, 18723, logins, hostKey);
    }

    private static Doors.Login login(String name, String password) {
        return new Doors.Login(name, "steward", new SshSecret.Password(password));
    }

    private Door door() {
        return door(House.DEVICE_PASSWORD, "");
    }

    @Test
    void readsEverythingThatARunNeeds() {
        try (Door door = door()) {
            Reading reading = door.session().read();
            assertThat(reading.identity())
                    .isEqualTo(new Reading.Identity("rt-dunmere-1", "R6-4", "C", "OS6-10442"));
            assertThat(reading.system()).isEqualTo("2.4.0");
            assertThat(reading.boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "osmer-r6c-2.4.0.img",
                                    "osmer-r6c-2.4.0.img",
                                    "osmer-r6c-2.2.1.img",
                                    true));
            assertThat(reading.volumes())
                    .singleElement()
                    .satisfies(
                            flash -> {
                                assertThat(flash.sizeBytes()).isEqualTo(32_000_000);
                                assertThat(flash.files())
                                        .contains(
                                                new StoredFile("harbour-map.txt", 12_288),
                                                new StoredFile("osmer-r6c-2.1.4.img", 7_864_320))
                                        .hasSize(4);
                            });
            assertThat(reading.unsavedChanges()).isFalse();
            assertThat(reading.facts())
                    .contains(
                            new Fact("interface", "ge2", "down"),
                            new Fact("neighbour", "sw-dunmere-1", "up"),
                            new Fact("power", "b", "ok"),
                            new Fact("fan", "fan", "ok"));
            assertThat(reading.bootMark())
                    .endsWith("start 17")
                    .isEqualTo(door.session().bootMark());
            assertThat(door.session().read().configurationSha256())
                    .as("stable")
                    .isEqualTo(reading.configurationSha256());
        }
    }

    @Test
    void getsTheWholeConfigurationOverThePagerAndMasksItsSecretsInTheTalk() {
        try (Door door = door()) {
            String running = door.session().pullOff(BackupKind.RUNNING);
            assertThat(running)
                    .startsWith("name rt-dunmere-1\n")
                    .contains("    person steward secret 9c41d07be2\n".strip())
                    .contains("log to 198.51.100.9\n-- end of settings, ")
                    .doesNotContain("more (space");
            assertThat(talk)
                    .anyMatch(t -> t.contains("person steward secret ••••••"))
                    .noneMatch(t -> t.contains("9c41d07be2") || t.contains("dunmere-reads"));
            fleet.machine("rt-dunmere-1").changeSettings("way 198.51.100.0/24 by 192.0.2.25");
            assertThat(door.session().read().unsavedChanges()).isTrue();
            assertThat(dialect.compare(running, door.session().pullOff(BackupKind.RUNNING)).added())
                    .containsExactly("way 198.51.100.0/24 by 192.0.2.25");
            door.session().save();
            assertThat(door.session().read().unsavedChanges()).isFalse();
        }
    }

    @Test
    void pullsProvesChoosesRestartsAndComesBack() throws Exception {
        byte[] image =
                Files.readAllBytes(House.TOP.resolve("build/test-images/osmer-r6c-2.6.3.img"));
        HttpServer source =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        source.createContext(
                "/osmer-r6c-2.6.3.img",
                exchange -> {
                    boolean head = exchange.getRequestMethod().equals("HEAD");
                    exchange.sendResponseHeaders(200, head ? -1 : image.length);
                    if (!head) {
                        exchange.getResponseBody().write(image);
                    }
                    exchange.close();
                });
        source.start();
        URI uri =
                URI.create(
                        "http://127.0.0.1:%s/osmer-r6c-2.6.3.img"
                                .formatted(source.getAddress().getPort()));
        try (Door door = door()) {
            assertThat(door.session().whyNotReached(uri)).isEmpty();
            assertThat(door.session().whyNotReached(URI.create("http://127.0.0.1:1/x")))
                    .hasValueSatisfying(
                            why ->
                                    assertThat(why)
                                            .contains(
                                                    "not reached: no answer from 127.0.0.1 port"
                                                            + " 1"));
            assertThat(door.session().sha256Of("osmer-r6c-2.6.3.img")).isEmpty();
            assertThat(
                            catchThrowableOfType(
                                            DeviceTrouble.class,
                                            () -> door.session().delete("osmer-r6c-2.4.0.img"))
                                    .trouble()
                                    .seen())
                    .contains("refused: osmer-r6c-2.4.0.img runs");
            door.session().delete("osmer-r6c-2.1.4.img");
            door.session().fetch(uri, "osmer-r6c-2.6.3.img");
            assertThat(door.session().sha256Of("osmer-r6c-2.6.3.img"))
                    .contains("af8ccbe28d4ed16b37ec1b60c7517b6403ff5f717507e425c8a0510c22a2a189");
            door.session().choose("osmer-r6c-2.6.3.img", "osmer-r6c-2.4.0.img");
            String before = door.session().bootMark();
            door.session().restart();
            Await.until(
                    Duration.ofSeconds(5),
                    "it goes down",
                    () -> door.whereabouts() instanceof Whereabouts.Silent);
            Await.until(
                    Duration.ofSeconds(20),
                    "it comes back",
                    () -> door.whereabouts() instanceof Whereabouts.AtCommandLine);
            assertThat(door.session().read().system()).isEqualTo("2.6.3");
            assertThat(door.session().bootMark()).isNotEqualTo(before).endsWith("start 18");
        } finally {
            source.stop(0);
        }
    }

    @Test
    void tellsABootLoaderOnTheConsoleLineFromSilence() {
        fleet.machine("rt-dunmere-1").add(Fault.STOPS_IN_BOOT_LOADER);
        try (Door door = door()) {
            door.session().restart();
            Whereabouts found =
                    Await.until(
                            Duration.ofSeconds(20),
                            "it is found in its boot loader",
                            door::whereabouts,
                            Whereabouts.InBootLoader.class::isInstance);
            assertThat(((Whereabouts.InBootLoader) found).lastLines())
                    .contains("board check good, memory good")
                    .last()
                    .asString()
                    .startsWith("loader>");
            assertThat(catchThrowableOfType(DeviceTrouble.class, door::session).kind())
                    .isEqualTo(DeviceTrouble.Kind.NO_ANSWER);
        }
    }

    // Closed by hand and asked again: that it opens anew is what is tested.
    @SuppressWarnings("try")
    @Test
    void triesLoginsInTheirOrderAndStopsBeforeItsUserIsLocked() {
        List<Instant> refusals = new ArrayList<>();
        List<String> story = new ArrayList<>();
        SignIns counted = counted(refusals, story);
        Doors.Address both =
                address(List.of(login("old", "wrong"), login("new", House.DEVICE_PASSWORD)), "");
        try (Door door = doors.to(both, dialect, Talk.NONE, counted)) {
            assertThat(door.session().read().identity().serial()).isNotEmpty();
            assertThat(story).containsExactly("old refused", "new let in");
            door.close();
            assertThat(door.session().read().identity().serial()).isNotEmpty();
            assertThat(story)
                    .as("nobody is refused twice by one door")
                    .containsExactly("old refused", "new let in", "new let in");
        }
        try (Door door =
                doors.to(
                        address(
                                List.of(
                                        login("old", "wrong"),
                                        login("older", "wrong too"),
                                        login("oldest", "quite wrong"),
                                        login("last", "wrong for good")),
                                ""),
                        dialect,
                        Talk.NONE,
                        counted)) {
            assertThat(catchThrowableOfType(DeviceTrouble.class, door::session).trouble().seen())
                    .contains("refused us 4 times within 10 min");
            assertThat(story.subList(3, story.size()))
                    .as("the fourth could lock the user")
                    .containsExactly("old refused", "older refused", "oldest refused");
        }
        try (Door door = doors.to(both, dialect, Talk.NONE, counted)) {
            assertThat(catchThrowableOfType(DeviceTrouble.class, door::session).trouble())
                    .satisfies(
                            trouble -> {
                                assertThat(trouble.expected()).contains("old, new");
                                assertThat(trouble.remedy()).contains("Nothing is tried before");
                            });
            assertThat(story).as("nobody was tried").hasSize(6);
        }
        refusals.replaceAll(at -> at.minus(Duration.ofMinutes(11)));
        try (Door door = doors.to(both, dialect, Talk.NONE, counted)) {
            assertThat(door.session().read().identity().serial()).isNotEmpty();
        }
    }

    private static SignIns counted(List<Instant> refusals, List<String> story) {
        return new SignIns() {
            @Override
            public List<Instant> refusals() {
                return refusals;
            }

            @Override
            public void refused(String login) {
                refusals.add(Instant.now());
                story.add(login + " refused");
            }

            @Override
            public void letIn(String login) {
                story.add(login + " let in");
            }
        };
    }

    @Test
    void sendsNoPasswordToAKeyThatItDoesNotKnow() {
        assertThat(
                        catchThrowableOfType(
                                DeviceTrouble.class,
                                door(House.DEVICE_PASSWORD, "SHA256:somebodyelses")::session))
                .satisfies(
                        trouble -> {
                            assertThat(trouble.kind())
                                    .isEqualTo(DeviceTrouble.Kind.HOST_KEY_CHANGED);
                            assertThat(trouble.trouble().expected())
                                    .contains("SHA256:somebodyelses");
                        });
        assertThat(catchThrowableOfType(DeviceTrouble.class, door("wrong", "")::session).kind())
                .isEqualTo(DeviceTrouble.Kind.SIGN_IN_REFUSED);
    }
}
