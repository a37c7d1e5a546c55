package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class PracticeImageTest {
    private static final int SIZE = 2_000;

    private static Path written(String name) throws IOException {
        Path folder = Files.createTempDirectory("image");
        new PracticeImage(name, "osmer-r6", "system", "2.8.2", List.of("B", "C"), "2.6.3", SIZE)
                .write(folder);
        return folder.resolve(name);
    }

    @Test
    void aFlippedBitAnywhereInThePayloadIsFound() throws IOException {
        Path file = written("new.img");
        byte[] whole = Files.readAllBytes(file);
        SplittableRandom random = new SplittableRandom(1123);
        for (int tries = 0; tries < 100; tries++) {
            byte[] bytes = whole.clone();
            int at = random.nextInt(PracticeImage.HEADER_BYTES, SIZE);
            bytes[at] ^= (byte) (1 << random.nextInt(8));
            Files.write(file, bytes);
            assertThat(PracticeImage.check(file).image()).as("byte %s", at).isEmpty();
            assertThat(PracticeImage.check(file).problem()).contains("damaged");
        }
    }

    @Test
    void aFileThatWasCutIsNeverAnImage() throws IOException {
        Path file = written("new.img");
        byte[] whole = Files.readAllBytes(file);
        for (int length = 0; length < SIZE; length += 37) {
            Files.write(file, java.util.Arrays.copyOf(whole, length));
            assertThat(PracticeImage.check(file).image()).as("%s bytes", length).isEmpty();
        }
    }

    @Test
    void aWholeFileGivesBackWhatItWasMadeOf() throws IOException {
        assertThat(PracticeImage.check(written("new.img")).image())
                .hasValueSatisfying(
                        image -> {
                            assertThat(image.revisions()).containsExactly("B", "C");
                            assertThat(
                                            List.of(
                                                    image.family(),
                                                    image.version(),
                                                    image.takesSettingsFrom()))
                                    .containsExactly("osmer-r6", "2.8.2", "2.6.3");
                            assertThat(image.sizeBytes()).isEqualTo(SIZE);
                        });
        assertThat(PracticeImage.check(Path.of("gone.img")).problem()).isEqualTo("no such file");
    }
}
