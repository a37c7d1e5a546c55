package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Images that makers publish inside archives. */
class ArchivesTest extends PublishedShelf {
    @Test
    void findsThePayloadOfAnArchiveWhereverItLies() throws Exception {
        long before = filesInQuarantine();
        bringArchive(
                List.of(
                        new Entry("release-1.1/read-me.txt", new byte[10]),
                        new Entry("release-1.1/images/" + file, image)));
        assertThat(shelf.has(file)).isTrue();
        assertThat(Files.readAllBytes(folder.resolve("shelf").resolve(file))).isEqualTo(image);
        assertThat(filesInQuarantine()).as("the archive itself is not kept").isEqualTo(before);
    }

    @Test
    void refusesArchiveTricksAndTakesNothingOutOfThem() throws Exception {
        long before = filesInQuarantine();
        for (String trick :
                List.of(
                        "../" + file,
                        "/etc/" + file,
                        "a/../../" + file,
                        "..\\" + file,
                        "c:" + file)) {
            assertThatThrownBy(
                            () ->
                                    bringArchive(
                                            List.of(
                                                    new Entry("x/" + file, image),
                                                    new Entry(trick, image))))
                    .as(trick)
                    .hasMessageContaining("leads out of the archive");
        }
        assertThatThrownBy(
                        () ->
                                bringArchive(
                                        List.of(
                                                new Entry("A/" + file, image),
                                                new Entry("a/" + file, image))))
                .hasMessageContaining("twice");
        assertThatThrownBy(
                        () ->
                                bringArchive(
                                        List.of(
                                                new Entry("a/" + file, image),
                                                new Entry("b/" + file, image))))
                .hasMessageContaining("found it 2 times");
        assertThatThrownBy(() -> bringArchive(List.of(new Entry("read-me.txt", image))))
                .hasMessageContaining("not at all");
        assertThatThrownBy(() -> bringArchive(new byte[500]))
                .hasMessageContaining("not readable as a zip archive");
        assertThatThrownBy(() -> bringArchive(List.of(new Entry("many", new byte[400 << 20]))))
                .as("a small file that unpacks to a large one")
                .hasMessageContaining("would unpack to more than");
        assertThat(shelf.has(file)).isFalse();
        assertThat(filesInQuarantine()).isEqualTo(before);
    }

    @Test
    void aPayloadThatIsNotThePublishedImageIsRefusedThoughItsArchiveIs() {
        byte[] other = image.clone();
        other[5] ^= 1;
        assertThatThrownBy(() -> bringArchive(List.of(new Entry(file, other))))
                .hasMessageContaining("SHA-256");
        assertThatThrownBy(() -> bringArchive(List.of(new Entry(file, new byte[300_000]))))
                .hasMessageContaining("more than 200,000 bytes");
        assertThat(shelf.has(file)).isFalse();
    }
}
