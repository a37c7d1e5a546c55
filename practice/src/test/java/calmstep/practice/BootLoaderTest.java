package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What boots is decided by the bytes on the storage and by what stands in the image's header. */
class BootLoaderTest {
    @TempDir private Path storage;

    private final MachineDescription machine =
            new MachineDescription(
                    "rt",
                    "osmer-r6",
                    "127.40.0.1",
                    "R6-4",
                    "C",
                    "S",
                    "u",
                    "p",
                    1,
                    List.of(),
                    Map.of(),
                    "",
                    "",
                    Duration.ZERO,
                    1,
                    "",
                    List.of(),
                    Map.of(),
                    Map.of(),
                    Set.of(),
                    "none");

    @BeforeEach
    void write() {
        new PracticeImage("old.img", "osmer-r6", "system", "2.4.0", List.of("C"), "0", 2000)
                .write(storage);
        new PracticeImage("new.img", "osmer-r6", "system", "2.8.2", List.of("C"), "2.6.3", 3000)
                .write(storage);
        new PracticeImage("board-b.img", "osmer-r6", "system", "2.8.2", List.of("B"), "0", 3000)
                .write(storage);
        new PracticeImage("other.img", "tarnel-t2", "system", "6.1", List.of("C"), "0", 3000)
                .write(storage);
    }

    private BootLoader.Start start(String next, String fallback, String settingsOf) {
        return BootLoader.start(
                machine, Labels.NONE, storage, next, fallback, settingsOf, "1.4", false);
    }

    @Test
    void startsTheChosenImage() {
        assertThat(start("new.img", "old.img", "2.6.3").image())
                .map(PracticeImage::version)
                .contains("2.8.2");
    }

    @Test
    void fallsBackFromAnImageThatCannotReadItsSettings() {
        BootLoader.Start start = start("new.img", "old.img", "2.4.0");
        assertThat(start.image()).map(PracticeImage::version).contains("2.4.0");
        assertThat(start.messages())
                .contains(
                        "start: new.img not started: the settings were written by 2.4.0, it reads"
                                + " those of 2.6.3 and later");
    }

    @Test
    void startsNeitherADamagedImageNorOneForAnotherBoardOrFamily() throws Exception {
        byte[] bytes = Files.readAllBytes(storage.resolve("new.img"));
        bytes[2000] ^= 1;
        Files.write(storage.resolve("damaged.img"), bytes);
        assertThat(start("damaged.img", "board-b.img", "2.6.3").image()).isEmpty();
        assertThat(start("damaged.img", "other.img", "2.6.3").messages())
                .anyMatch(m -> m.contains("damaged"))
                .anyMatch(m -> m.contains("made for tarnel-t2"));
        assertThat(start("gone.img", "", "2.6.3").messages())
                .contains("start: gone.img not started: no such file");
    }

    @Test
    void theSameDescriptionGivesTheSameBytes(@TempDir Path other) throws Exception {
        new PracticeImage("new.img", "osmer-r6", "system", "2.8.2", List.of("C"), "2.6.3", 3000)
                .write(other);
        assertThat(other.resolve("new.img")).hasSameBinaryContentAs(storage.resolve("new.img"));
    }
}
