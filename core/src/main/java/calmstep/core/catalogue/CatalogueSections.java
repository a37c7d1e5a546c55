package calmstep.core.catalogue;

import calmstep.core.text.Section;
import java.time.Duration;
import java.util.Optional;

/** The sections of a catalogue that stand by themselves: what each says, and nothing else. */
final class CatalogueSections {
    private CatalogueSections() {}

    static Optional<FirmwareImage.Archive> archiveOf(Section section) {
        try (section) {
            return Optional.of(
                    new FirmwareImage.Archive(
                            section.text("file"),
                            section.number("size-bytes", 0),
                            section.text("sha256")));
        } catch (IllegalArgumentException refused) {
            section.complain(refusedKey(section), String.valueOf(refused.getMessage()));
            return Optional.empty();
        }
    }

    /** Which key of a refused file it is: its size or its digest, else its name. */
    static String refusedKey(Section section) {
        return section.number("size-bytes", 0) <= 0
                ? "size-bytes"
                : FirmwareImage.isSha256(section.text("sha256")) ? "file" : "sha256";
    }

    static Grouping groupingOf(Section section) {
        try (section) {
            return new Grouping(
                    section.flag("one-is-active", true),
                    (int) section.number("may-be-out", 1),
                    section.duration("member-restarts-in", Duration.ofMinutes(4)),
                    section.duration("all-restart-in", Duration.ofMinutes(5)),
                    section.duration("hands-over-in", Duration.ZERO),
                    section.duration("settles-in", Duration.ZERO));
        }
    }

    static Dependents dependentsOf(Section section) {
        try (section) {
            Optional<Duration> preLoad =
                    section.has("pre-load-in")
                            ? Optional.of(section.duration("pre-load-in", Duration.ZERO))
                            : Optional.empty();
            boolean after = goesAfter(section);
            return new Dependents(
                    preLoad,
                    section.duration("fetch-in", Duration.ofMinutes(10)),
                    section.duration("restart-in", Duration.ofMinutes(3)),
                    after);
        }
    }

    static boolean goesAfter(Section section) {
        return section.find(
                        "go",
                        text ->
                                switch (text) {
                                    case "after" -> true;
                                    case "before" -> false;
                                    default ->
                                            throw new IllegalArgumentException(
                                                    "Expected after or before (their controller), saw \"%s\"."
                                                            .formatted(text));
                                })
                .orElse(true);
    }

    static Variant variantOf(Section section) {
        try (section) {
            return new Variant(
                    section.texts("models"),
                    section.texts("revisions"),
                    section.texts("regions"),
                    section.texts("brands"),
                    section.texts("features"));
        }
    }
}
