package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.fleet.Reading;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the patterns of a dialect take from the answers of a device. */
class AnswersTest {
    private final Map<String, String> device = new LinkedHashMap<>();
    private Dialect dialect;

    @BeforeEach
    void aRouter() throws Exception {
        dialect =
                DialectText.read(
                        "osmer-r6.yaml",
                        Files.readString(Path.of("../demo/dialects/osmer-r6.yaml")));
        device.put(
                "ask identity",
                """
                name      rt-dunmere-1
                model     R6-4
                revision  C
                serial    OS6-10442
                release   2.4.0
                started   2026-11-01 04:12, start 17
                """);
        device.put(
                "ask start",
                """
                running    osmer-r6c-2.4.0.img
                next       osmer-r6c-2.6.3.img
                otherwise  osmer-r6c-2.2.1.img
                choice     kept
                """);
        device.put(
                "ask storage",
                """
                store flash, 32000000 bytes, 6990000 free
                  osmer-r6c-2.4.0.img  8912896
                  harbour-map.txt  12288
                store stick, 9000 bytes, 100 free
                  notes.txt  8900
                """);
        device.put("ask differences", "none\n");
        device.put("ask links", "ge0 up\nge1 down\n");
        device.put("ask neighbours", "sw-dunmere-1 up\n");
        device.put("ask health", "power left good\nfan good\n");
    }

    /** A device that answers what the map holds, with echo and prompt. */
    private final class Echoing implements Line {
        private String due = "";

        @Override
        public void send(String text) {
            due =
                    text.strip()
                            + "\r\n"
                            + device.getOrDefault(text.strip(), "not known: " + text.strip() + "\n")
                                    .replace("\n", "\r\n")
                            + "[rt-dunmere-1]: ";
        }

        @Override
        public String receive(Duration atMost) {
            String now = due;
            due = "";
            return now;
        }

        @Override
        public void close() {}
    }

    private Reading read() {
        Answers answers =
                new Answers(
                        dialect,
                        new LineExchange(dialect, new Echoing(), Talk.NONE, "rt-dunmere-1"));
        dialect.readings().forEach(answers::ask);
        return answers.reading(Instant.EPOCH, "0");
    }

    private DeviceTrouble unreadable() {
        return catchThrowableOfType(DeviceTrouble.class, this::read);
    }

    @Test
    void takesIdentityChoiceStorageAndFacts() {
        Reading reading = read();
        assertThat(reading.identity())
                .isEqualTo(new Reading.Identity("rt-dunmere-1", "R6-4", "C", "OS6-10442"));
        assertThat(reading.system()).isEqualTo("2.4.0");
        assertThat(reading.boot())
                .isEqualTo(
                        new Reading.BootChoice(
                                "osmer-r6c-2.4.0.img",
                                "osmer-r6c-2.6.3.img",
                                "osmer-r6c-2.2.1.img",
                                true));
        assertThat(reading.bootMark()).endsWith("start 17");
        assertThat(reading.unsavedChanges()).isFalse();
        assertThat(reading.facts())
                .contains(
                        new Reading.Fact("interface", "ge1", "down"),
                        new Reading.Fact("neighbour", "sw-dunmere-1", "up"),
                        new Reading.Fact("power", "left", "good"));
    }

    @Test
    void filesBelongToTheVolumeAboveThem() {
        assertThat(read().volumes())
                .satisfiesExactly(
                        flash ->
                                assertThat(flash.files())
                                        .extracting(Reading.StoredFile::name)
                                        .containsExactly("osmer-r6c-2.4.0.img", "harbour-map.txt"),
                        stick ->
                                assertThat(stick.files())
                                        .containsExactly(
                                                new Reading.StoredFile("notes.txt", 8900)));
    }

    @Test
    void noFallbackIsNoneAndAChoiceThatIsNotKeptIsNotSaved() {
        device.put(
                "ask start",
                "running    a.img\nnext       a.img\notherwise  nothing\nchoice     not kept\n");
        assertThat(read().boot()).isEqualTo(new Reading.BootChoice("a.img", "a.img", "", false));
    }

    @Test
    void changesThatAreNotSavedAreSeenAndSilenceAboutThemIsTakenAsSaved() {
        device.put("ask differences", "the settings now differ from those kept\n");
        assertThat(read().unsavedChanges()).isTrue();
    }

    @Test
    void anAnswerWithoutTheFactThatARunNeedsIsUnreadableAndNamesIt() {
        device.put("ask identity", device.get("ask identity").replace("serial", "number"));
        DeviceTrouble trouble = unreadable();
        assertThat(trouble.kind()).isEqualTo(Kind.UNREADABLE_ANSWER);
        assertThat(trouble.trouble().expected()).contains("ask identity").contains("serial");
        assertThat(trouble.trouble().remedy()).contains("dialect");
    }

    @Test
    void aCommandThatTheDeviceDoesNotKnowIsNotTakenForAnEmptyAnswer() {
        device.remove("ask storage");
        DeviceTrouble trouble = unreadable();
        assertThat(trouble.kind()).isEqualTo(Kind.REFUSED_BY_DEVICE);
        assertThat(trouble.trouble().seen()).contains("does not know this command");
    }
}
