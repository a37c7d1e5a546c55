package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The stand-in as a person at its command line meets it. */
class OsmerShellTest {
    @TempDir private Path folder;

    private Machine machine;

    @BeforeEach
    void switchOn() throws Exception {
        machine = machine(20_000, Set.of());
        machine.switchOn();
    }

    private Machine machine(long flash, Set<Fault> faults) throws Exception {
        Path images = Files.createDirectories(folder.resolve("images"));
        new PracticeImage("old.img", "osmer-r6", "system", "2.4.0", List.of("C"), "0", 4000)
                .write(images);
        new PracticeImage("new.img", "osmer-r6", "system", "2.6.3", List.of("C"), "2.2.1", 6000)
                .write(images);
        MachineDescription description =
                new MachineDescription(
                        "rt",
                        "osmer-r6",
                        "127.0.0.1",
                        "R6-4",
                        "C",
                        "S",
                        "u",
                        "p",
                        flash,
                        List.of("old.img"),
                        Map.of(),
                        "old.img",
                        "",
                        Duration.ofSeconds(60),
                        1_000_000,
                        "name rt\nlink ge0\n  off",
                        List.of("way a by b"),
                        Map.of("ge0", "up"),
                        Map.of(),
                        faults,
                        "none");
        return new Machine(
                description,
                Labels.NONE,
                Files.createDirectories(folder.resolve("state-" + faults.size() + flash)),
                images,
                600);
    }

    private String say(String... lines) throws Exception {
        return say(machine, lines);
    }

    private static String say(Machine machine, String... lines) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        new OsmerShell(
                        machine,
                        new ByteArrayInputStream(
                                (String.join("\n", lines) + "\n").getBytes(StandardCharsets.UTF_8)),
                        out)
                .run();
        return out.toString(StandardCharsets.UTF_8).replace("\r", "");
    }

    @Test
    void tellsWhatItIsAndWhatItRuns() throws Exception {
        assertThat(say("ask identity", "ask start", "ask storage"))
                .contains("release   2.4.0")
                .contains("start 17")
                .contains("next       old.img")
                .contains("otherwise  nothing")
                .contains("store flash, 20000 bytes, 16000 free")
                .contains("[rt*]: ");
        assertThat(say("ask wisdom")).contains("not known: ask wisdom");
    }

    @Test
    void keepsChangesOnlyWhenAsked() throws Exception {
        assertThat(say("ask differences")).contains("the settings now differ");
        assertThat(say("do keep", "no", "ask differences"))
                .contains("left as it was")
                .contains("now differ");
        assertThat(say("do keep", "yes", "ask differences"))
                .contains("Keep the settings? (yes/no) yes")
                .contains("none")
                .contains("[rt]: ");
    }

    @Test
    void stopsLongAnswersUntilAKeyIsPressed() throws Exception {
        for (int i = 0; i < 45; i++) {
            machine.changeSettings("line " + i);
        }
        String all = say("ask settings now", "  ");
        assertThat(all)
                .contains("== more (space goes on, q stops) ==")
                .contains("line 44")
                .contains("-- end of settings");
        assertThat(say("ask settings now", "q")).doesNotContain("line 44");
    }

    @Test
    void pullsAFileByteByByteAndComputesItsDigest() throws Exception {
        byte[] image = Files.readAllBytes(folder.resolve("images/new.img"));
        HttpServer source =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        source.createContext(
                "/new.img",
                exchange -> {
                    boolean head = exchange.getRequestMethod().equals("HEAD");
                    exchange.sendResponseHeaders(200, head ? -1 : image.length);
                    if (!head) {
                        exchange.getResponseBody().write(image);
                    }
                    exchange.close();
                });
        source.start();
        try {
            String url = "http://127.0.0.1:%s/new.img".formatted(source.getAddress().getPort());
            assertThat(say("do reach " + url, "do reach " + url.replace("new", "gone")))
                    .contains("\nreached\n")
                    .contains("not reached: the source answers 404");
            assertThat(say("do bring " + url + " as new.img", "do digest new.img"))
                    .contains("brought 6000 bytes")
                    .contains("sha256 " + PracticeImage.sha256(image));
            assertThat(say("do bring " + url + " as new.img", "no"))
                    .contains("Write over it? (yes/no) no")
                    .contains("left as it was");
            machine.add(Fault.DAMAGES_COPIES);
            assertThat(say("do bring " + url + " as other.img", "do digest other.img"))
                    .contains("brought 6000 bytes")
                    .doesNotContain(PracticeImage.sha256(image));
            assertThat(say("do bring " + url + " as third.img"))
                    .as("16000 free, two copies of 6000 there")
                    .contains("failed: no room left");
        } finally {
            source.stop(0);
        }
        assertThat(say("do bring http://127.0.0.1:1/x as x")).contains("failed: ");
    }

    @Test
    void choosesStartsAndFallsBackByWhatWasKept() throws Exception {
        Files.copy(folder.resolve("images/new.img"), machine.flash().file("new.img"));
        assertThat(say("do start-with gone.img otherwise old.img"))
                .contains("refused: no such file: gone.img");
        assertThat(say("do start-with new.img otherwise old.img", "ask start"))
                .contains("set, not kept")
                .contains("choice     not kept");
        assertThat(say("do keep-start", "ask start")).contains("choice     kept");
        assertThat(say("do restart", "yes", "yes"))
                .contains("Keep them? (yes/no) yes")
                .contains("going down")
                .doesNotContain("[rt]: \n[");
        assertThat(machine.power()).isEqualTo(Machine.Power.STARTING);
        awaitRunning();
        assertThat(machine.release()).isEqualTo("2.6.3");
        assertThat(machine.restarts()).hasSize(1);
        assertThat(say("ask identity", "do drop new.img", "do drop old.img", "yes", "ask storage"))
                .contains("start 18")
                .contains("refused: new.img runs")
                .contains("dropped")
                .doesNotContain("old.img    ");
    }

    @Test
    void aPowerCutKeepsWhatWasKept() throws Exception {
        say("do keep", "yes");
        Machine again = machine(20_000, Set.of());
        again.switchOn();
        assertThat(say(again, "ask identity", "ask settings kept"))
                .contains("start 18")
                .contains("way a by b");
    }

    private void awaitRunning() throws InterruptedException {
        Await.until(
                Duration.ofSeconds(30),
                "the machine runs",
                () -> machine.power() == Machine.Power.RUNNING);
        assertThat(machine.power()).isEqualTo(Machine.Power.RUNNING);
    }
}
