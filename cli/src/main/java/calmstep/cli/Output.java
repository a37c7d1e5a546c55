package calmstep.cli;

import calmstep.core.order.Outage;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Prints an answer: for people, or as JSON, YAML or CSV for programs. */
final class Output {
    private final String format;

    Output(String format) {
        if (!List.of("table", "json", "yaml", "csv").contains(format)) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "Expected --output table, json, yaml or csv, saw \"%s\".".formatted(format));
        }
        this.format = format;
    }

    boolean isForPeople() {
        return format.equals("table");
    }

    /** A list: as a table, or as its data. */
    void print(JsonNode data, Table table, String whenEmpty) {
        switch (format) {
            case "table" -> System.out.print(table.isEmpty() ? whenEmpty + "\n" : table.text());
            case "csv" -> System.out.print(table.csv());
            default -> print(data);
        }
    }

    /** One thing: in words, or as its data. */
    void print(JsonNode data, String words) {
        if (isForPeople()) {
            System.out.println(words.stripTrailing());
        } else {
            print(data);
        }
    }

    private void print(JsonNode data) {
        switch (format) {
            case "json" -> System.out.println(data.toPrettyString());
            case "yaml" -> System.out.print(yaml(data));
            default ->
                    throw new Problem(
                            Problem.WRONG_CALL,
                            "This answer is not a list; CSV holds lists only. Use json or yaml.");
        }
    }

    private static String yaml(JsonNode data) {
        return new Dump(
                        DumpSettings.builder()
                                .setDefaultFlowStyle(org.snakeyaml.engine.v2.common.FlowStyle.BLOCK)
                                .build())
                .dumpToString(JsonMapper.shared().convertValue(data, Object.class));
    }

    /**
     * A paragraph that begins with {@code head} and fits {@value Table#WIDTH} columns, its further
     * lines indented as deep as the head is long.
     */
    static String paragraph(String head, String text) {
        StringBuilder all = new StringBuilder();
        StringBuilder line = new StringBuilder(head);
        for (String word : text.split(" ")) {
            if (line.length() + 1 + word.length() > Table.WIDTH && line.length() > head.length()) {
                all.append(line.toString().stripTrailing()).append('\n');
                line = new StringBuilder(" ".repeat(head.length()));
            }
            line.append(line.length() == head.length() ? "" : " ").append(word);
        }
        return all.append(line.toString().stripTrailing()).append('\n').toString();
    }

    /** Cut to a width; {@code --output json} has the whole. */
    static String shortened(String words, int width) {
        return words.length() > width ? words.substring(0, width - 1) + "…" : words;
    }

    static String minutes(long seconds) {
        return Outage.words(Duration.ofSeconds(seconds));
    }

    static String bytes(long count) {
        return count < 100_000
                ? String.format(Locale.ROOT, "%.1f kB", count / 1e3)
                : String.format(Locale.ROOT, "%.1f MB", count / 1e6);
    }
}
