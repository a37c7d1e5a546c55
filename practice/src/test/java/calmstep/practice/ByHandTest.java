package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What somebody at a practice fleet can do to its machines while they play. */
class ByHandTest {
    private static final int PORT = 18731;
    private static final String ROUTER = "rt-1";

    private final HttpClient http = HttpClient.newHttpClient();

    @TempDir private Path folder;

    private PracticeFleet fleet;
    private ByHand byHand;

    @BeforeEach
    void play() throws Exception {
        Path images = Files.createDirectories(folder.resolve("images"));
        for (String release : List.of("2.4.0", "2.6.3")) {
            PracticeFleet.makeImage(
                    images, release + ".img", "osmer-r6", release, List.of("C"), 4_000, "", "");
        }
        Path description =
                Files.writeString(
                        folder.resolve("fleet.yaml"),
                        """
                        practice-fleet: 1
                        pace: 600
                        ssh-port: 18732
                        console-port: 18733
                        machines:
                          - name: %s
                            family: osmer-r6
                            address: 127.0.0.1
                            model: R6-4
                            revision: C
                            serial: OS-1
                            user: steward
                            password: practice-only-5521
                            flash-bytes: 1000000
                            files: [2.4.0.img]
                            running: 2.4.0.img
                            starts-in: 60 s
                            copies-at-bytes-per-second: 120000
                            settings: |-
                              name rt-1
                              link ge0
                                address 192.0.2.1/30
                        """
                                .formatted(ROUTER));
        fleet = PracticeFleet.play(description, images, folder.resolve("state"));
        byHand = ByHand.open(fleet, Optional.empty(), PORT);
    }

    @AfterEach
    void end() {
        byHand.close();
        fleet.close();
    }

    private HttpResponse<String> say(String method, String path) throws Exception {
        return http.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:%s%s".formatted(PORT, path)))
                        .method(method, HttpRequest.BodyPublishers.noBody())
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    private static void until(BooleanSupplier reached) throws InterruptedException {
        Await.until(Duration.ofSeconds(10), "the machine is so far", reached::getAsBoolean);
    }

    @Test
    void tellsWhoPlaysAndWhichFaultsThereAre() throws Exception {
        assertThat(say("GET", "/").body())
                .contains("rt-1", "2.4.0", "RUNNING")
                .contains("faults: ")
                .contains("slow-link");
        assertThat(say("GET", "/mail").statusCode()).isEqualTo(200);
    }

    @Test
    void aFaultIsGivenAndTakenAwayAgain() throws Exception {
        Machine machine = fleet.machine(ROUTER);
        Duration usual = machine.copyTime(120_000);
        assertThat(say("POST", "/rt-1/slow-link").statusCode()).isEqualTo(200);
        assertThat(machine.copyTime(120_000)).isGreaterThan(usual);
        assertThat(say("POST", "/rt-1/cuts-next-copy/30").statusCode()).isEqualTo(200);
        assertThat(machine.troubleAt()).isEqualTo(30);
        assertThat(say("POST", "/rt-1/none").statusCode()).isEqualTo(200);
        assertThat(machine.copyTime(120_000)).isEqualTo(usual);
    }

    @Test
    void aColleagueLeavesAFileThatFitsAndNoOther() throws Exception {
        assertThat(say("POST", "/rt-1/leaves/survey.bin/1000").statusCode()).isEqualTo(200);
        assertThat(fleet.storage("rt-1").resolve("survey.bin")).hasSize(1000);
        assertThat(say("POST", "/rt-1/leaves/survey.bin/999999999999").statusCode()).isEqualTo(400);
        assertThat(say("POST", "/rt-1/leaves/survey.bin/many").body())
                .contains("Expected a number of bytes");
    }

    @Test
    void whatItDoesNotKnowIsSaidWithWhatItKnows() throws Exception {
        for (String wrong :
                List.of(
                        "/rt-9/none",
                        "/rt-1/sings",
                        "/rt-1",
                        "/rt-1/cuts-next-copy/much",
                        "/rt-1/replace/OS-2/no-such.img")) {
            assertThat(say("POST", wrong))
                    .satisfies(
                            answer -> {
                                assertThat(answer.statusCode()).as(wrong).isEqualTo(400);
                                assertThat(answer.body())
                                        .as(wrong)
                                        .isNotBlank()
                                        .doesNotContain("Exception");
                            });
        }
        assertThat(fleet.machine(ROUTER).release()).isEqualTo("2.4.0");
    }

    @Test
    void thePowerIsCutAndItStartsAgainByItself() throws Exception {
        int starts = fleet.machine(ROUTER).starts();
        assertThat(say("POST", "/rt-1/power").statusCode()).isEqualTo(200);
        until(
                () ->
                        fleet.machine(ROUTER).power() == Machine.Power.RUNNING
                                && fleet.machine(ROUTER).starts() == starts + 1);
        assertThat(fleet.machine(ROUTER).restarts()).as("nobody ordered it").isEmpty();
    }

    /**
     * The box from the bench knows its name and nothing else; the old one is gone with all that lay
     * on it.
     */
    @Test
    void anotherBoxIsPutInItsPlace() throws Exception {
        Machine old = fleet.machine(ROUTER);
        assertThat(say("POST", "/rt-1/replace/OS-2/2.6.3.img").statusCode()).isEqualTo(200);
        Machine box = fleet.machine(ROUTER);
        assertThat(box).isNotSameAs(old);
        until(() -> box.power() == Machine.Power.RUNNING);
        assertThat(old.power()).isEqualTo(Machine.Power.OFF);
        assertThat(box.description().serial()).isEqualTo("OS-2");
        assertThat(box.release()).isEqualTo("2.6.3");
        assertThat(box.flash().files()).containsOnlyKeys("2.6.3.img");
        assertThat(box.keptSettings()).containsExactly("name rt-1");
        assertThat(say("GET", "/").body()).contains("2.6.3");
    }
}
