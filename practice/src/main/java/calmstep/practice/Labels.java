package calmstep.practice;

import calmstep.practice.PracticeImage.Checked;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * What stand-ins make of the files on their storage. An image of ours says in its header what it
 * is; a maker's real one does not, so a stand-in is told about it by the digest of its bytes: one
 * wrong byte, and nobody knows it any more.
 */
public final class Labels {
    static final Labels NONE = new Labels(List.of());

    private final Map<String, Label> bySha256;

    public Labels(List<Label> labels) {
        bySha256 =
                labels.stream()
                        .collect(
                                Collectors.toMap(
                                        Label::sha256, Function.identity(), (one, _) -> one));
    }

    /**
     * What is said of an image.
     *
     * @param component what it is the firmware of
     * @param version release of it
     * @param revisions boards that it starts on
     * @param part which of the parts that belong together it is; empty for one that is whole
     */
    public record Label(
            String sha256,
            String family,
            String component,
            String version,
            List<String> revisions,
            String part) {}

    Checked check(Path file) {
        Checked byHeader = PracticeImage.check(file);
        if (byHeader.image().isPresent() || bySha256.isEmpty()) {
            return byHeader;
        }
        return Flash.sha256(file)
                .map(bySha256::get)
                .map(label -> known(label, file))
                .orElse(byHeader);
    }

    private static Checked known(Label label, Path file) {
        return new Checked(
                Optional.of(
                        new PracticeImage(
                                file.getFileName().toString(),
                                label.family(),
                                label.component(),
                                label.version(),
                                label.revisions(),
                                "0",
                                0,
                                label.part(),
                                PracticeImage.Rules.UNKNOWN)),
                "");
    }
}
