package calmstep.cli;

import calmstep.core.fleet.FieldChange;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What a change of the inventory did, or would do, in words. */
final class ImportedWords {
    /** More are counted; {@code --output json} names them all. */
    private static final int NAMED = 6;

    private static final int MOST_TOLD = 30;

    private ImportedWords() {}

    static String of(JsonNode done, boolean preview) {
        StringBuilder text = new StringBuilder(counts(done, preview ? "would be " : ""));
        text.append(System.lineSeparator());
        done.path("changes")
                .valueStream()
                .limit(MOST_TOLD)
                .forEach(
                        one ->
                                text.append(
                                        Output.paragraph(
                                                "  - ",
                                                JsonMapper.shared()
                                                        .treeToValue(one, FieldChange.class)
                                                        .sentence())));
        if (done.path("changes").size() > MOST_TOLD) {
            text.append(
                    "  - and %s more; --output json has them all%n"
                            .formatted(done.path("changes").size() - MOST_TOLD));
        }
        done.path("complaints")
                .valueStream()
                .forEach(one -> text.append(Output.paragraph("  ! ", one.asString())));
        return text.toString();
    }

    private static String counts(JsonNode done, String would) {
        return "%1$sadded: %2$s%n%1$schanged: %3$s%n%1$sas before: %4$s"
                .formatted(
                        would,
                        names(done.path("added")),
                        names(done.path("changed")),
                        names(done.path("unchanged")));
    }

    private static String names(JsonNode list) {
        return list.isEmpty()
                ? "none"
                : list.size() > NAMED
                        ? list.size() + " devices"
                        : list.valueStream()
                                .map(JsonNode::asString)
                                .collect(Collectors.joining(", "));
    }
}
