package calmstep.core.text;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/**
 * A mapping in a text, being read. Every getter remembers that its key is known; {@link #close()}
 * complains about the rest. A getter that cannot answer complains and gives a harmless value, so
 * that one reading finds everything that is wrong.
 */
public final class Section implements AutoCloseable {
    private static final Pattern DURATION = Pattern.compile("(\\d+)\\s*(ms|s|min|h|d)");

    private final String file;
    private final Spot spot;
    private final Map<String, Node> values = new LinkedHashMap<>();
    private final Map<String, Spot> keySpots = new LinkedHashMap<>();
    private final Set<String> asked = new LinkedHashSet<>();
    private final Complaints complaints;

    private Section(String file, Spot spot, Complaints complaints) {
        this.file = file;
        this.spot = spot;
        this.complaints = complaints;
    }

    /**
     * Reads a whole text whose top is a mapping, and checks it by the schema of its format.
     *
     * @param format name of the schema in {@code docs/formats}
     * @throws RejectedText when the text is not YAML at all, or its top is something else
     */
    public static Section ofText(String format, String file, String text, Complaints complaints) {
        Optional<Node> top;
        try {
            top =
                    new Compose(
                                    LoadSettings.builder()
                                            .setLabel(file)
                                            .setAllowDuplicateKeys(true)
                                            .build())
                            .composeString(text);
        } catch (MarkedYamlEngineException broken) {
            Spot at =
                    broken.getProblemMark()
                            .map(mark -> spotOf(file, mark))
                            .orElse(new Spot(file, 1, 1));
            throw new RejectedText(
                    List.of(
                            new Complaint(
                                    at,
                                    "This is not readable as YAML: " + broken.getProblem() + ".")));
        }
        if (top.isPresent() && top.get() instanceof MappingNode mapping) {
            complaints.bySchema(FormatSchema.of(format).complaints(file, mapping));
            return of(file, mapping, complaints);
        }
        throw new RejectedText(
                List.of(
                        new Complaint(
                                new Spot(file, 1, 1),
                                "Expected a mapping (\"key: value\" lines) at the top, saw %s."
                                        .formatted(
                                                top.map(Section::kindOf)
                                                        .orElse("an empty text")))));
    }

    /**
     * A tree of maps, lists, values and {@link CsvText.Cell}s as if it had been read from a text;
     * each cell keeps its place.
     *
     * @param tree keys are texts
     */
    public static Section ofTree(String file, Map<String, Object> tree, Complaints complaints) {
        return of(file, (MappingNode) nodeOf(tree), complaints);
    }

    private static Node nodeOf(Object value) {
        return switch (value) {
            case Map<?, ?> map ->
                    new MappingNode(
                            Tag.MAP,
                            true,
                            map.entrySet().stream()
                                    .map(
                                            e ->
                                                    new NodeTuple(
                                                            nodeOf(e.getKey()),
                                                            nodeOf(e.getValue())))
                                    .toList(),
                            FlowStyle.BLOCK,
                            firstMark(map.values()),
                            Optional.empty());
            case List<?> list ->
                    new SequenceNode(
                            Tag.SEQ,
                            true,
                            list.stream().map(Section::nodeOf).toList(),
                            FlowStyle.BLOCK,
                            firstMark(list),
                            Optional.empty());
            case CsvText.Cell cell ->
                    new ScalarNode(
                            Tag.STR,
                            true,
                            cell.text(),
                            ScalarStyle.PLAIN,
                            Optional.of(markOf(cell.spot())),
                            Optional.empty());
            default -> new ScalarNode(Tag.STR, String.valueOf(value), ScalarStyle.PLAIN);
        };
    }

    /** A row begins where its first cell does. */
    private static Optional<Mark> firstMark(java.util.Collection<?> values) {
        return values.stream()
                .flatMap(
                        v ->
                                v instanceof CsvText.Cell cell
                                        ? Stream.of(markOf(cell.spot()))
                                        : Stream.empty())
                .findFirst();
    }

    private static Mark markOf(Spot spot) {
        return new Mark(spot.file(), 0, spot.line() - 1, spot.column() - 1, new int[0], 0);
    }

    private static Section of(String file, MappingNode mapping, Complaints complaints) {
        Section section = new Section(file, spotOf(file, mapping), complaints);
        for (NodeTuple tuple : mapping.getValue()) {
            String key =
                    tuple.getKeyNode() instanceof ScalarNode scalar
                            ? scalar.getValue()
                            : kindOf(tuple.getKeyNode());
            if (section.values.putIfAbsent(key, tuple.getValueNode()) != null) {
                complaints.add(
                        spotOf(file, tuple.getKeyNode()),
                        "The key \"%s\" is given twice; keep one.".formatted(key));
            }
            section.keySpots.putIfAbsent(key, spotOf(file, tuple.getKeyNode()));
        }
        return section;
    }

    public Spot spot() {
        return spot;
    }

    /** Place of a key's value, or of the section where the key is missing. */
    public Spot spotOf(String key) {
        Node node = values.get(key);
        return node == null ? spot : spotOf(file, node);
    }

    public Set<String> keys() {
        return values.keySet();
    }

    public void complain(String key, String sentence) {
        complaints.add(spotOf(key), sentence);
    }

    public boolean has(String key) {
        asked.add(key);
        return values.containsKey(key);
    }

    public Optional<String> findText(String key) {
        asked.add(key);
        return Optional.ofNullable(values.get(key)).flatMap(node -> scalar(key, node));
    }

    public String text(String key) {
        return findText(key)
                .orElseGet(
                        () -> {
                            complainMissing(key);
                            return "";
                        });
    }

    public String text(String key, String otherwise) {
        return findText(key).orElse(otherwise);
    }

    /** One value or a list of values. */
    public List<String> texts(String key) {
        asked.add(key);
        Node node = values.get(key);
        if (node == null) {
            return List.of();
        }
        if (node instanceof SequenceNode sequence) {
            return sequence.getValue().stream()
                    .flatMap(item -> scalar(key, item).stream())
                    .toList();
        }
        return scalar(key, node).stream().toList();
    }

    /**
     * Parses a required value; what the parser throws as IllegalArgumentException becomes a
     * complaint at the value.
     */
    public <T> Optional<T> require(String key, Function<String, T> parser) {
        if (!has(key)) {
            complainMissing(key);
        }
        return find(key, parser);
    }

    public <T> Optional<T> find(String key, Function<String, T> parser) {
        return findText(key)
                .flatMap(
                        text -> {
                            try {
                                return Optional.of(parser.apply(text));
                            } catch (IllegalArgumentException refused) {
                                complain(key, String.valueOf(refused.getMessage()));
                                return Optional.empty();
                            }
                        });
    }

    public boolean flag(String key, boolean otherwise) {
        return find(
                        key,
                        text ->
                                switch (text) {
                                    case "true" -> true;
                                    case "false" -> false;
                                    default ->
                                            throw new IllegalArgumentException(
                                                    "Expected true or false for %s, saw \"%s\"."
                                                            .formatted(key, text));
                                })
                .orElse(otherwise);
    }

    public long number(String key, long otherwise) {
        return find(
                        key,
                        text -> {
                            try {
                                return Long.parseLong(text.replace("_", ""));
                            } catch (NumberFormatException notANumber) {
                                throw new IllegalArgumentException(
                                        "Expected a whole number for %s, saw \"%s\"."
                                                .formatted(key, text),
                                        notANumber);
                            }
                        })
                .orElse(otherwise);
    }

    /** A duration such as {@code 90 s}, {@code 4 min}, {@code 2 h}. */
    public Duration duration(String key, Duration otherwise) {
        return find(key, Section::durationOf).orElse(otherwise);
    }

    private static Duration durationOf(String text) {
        var matcher = DURATION.matcher(text);
        if (!matcher.matches()) {
            throw new IllegalArgumentException(
                    "Expected a duration such as \"90 s\" or \"4 min\", saw \"%s\"."
                            .formatted(text));
        }
        long amount = Long.parseLong(matcher.group(1));
        return switch (matcher.group(2)) {
            case "ms" -> Duration.ofMillis(amount);
            case "s" -> Duration.ofSeconds(amount);
            case "min" -> Duration.ofMinutes(amount);
            case "h" -> Duration.ofHours(amount);
            default -> Duration.ofDays(amount);
        };
    }

    public Optional<Section> section(String key) {
        asked.add(key);
        return Optional.ofNullable(values.get(key)).flatMap(node -> mapping(key, node));
    }

    public List<Section> sections(String key) {
        asked.add(key);
        Node node = values.get(key);
        if (node == null) {
            return List.of();
        }
        if (!(node instanceof SequenceNode sequence)) {
            complain(
                    key,
                    "Expected a list (lines that begin with \"- \") for %s, saw %s."
                            .formatted(key, kindOf(node)));
            return List.of();
        }
        List<Section> sections = new ArrayList<>();
        sequence.getValue().forEach(item -> mapping(key, item).ifPresent(sections::add));
        return sections;
    }

    /** Complains about every key that was given and never asked for. */
    @Override
    public void close() {
        keySpots.forEach(
                (key, at) -> {
                    if (!asked.contains(key)) {
                        complaints.add(
                                at,
                                "The key \"%s\" is not known here; %s"
                                        .formatted(key, Nearest.hint(key, asked)));
                    }
                });
    }

    private void complainMissing(String key) {
        complaints.add(spot, "The key \"%s\" is missing here; add it.".formatted(key));
    }

    private Optional<String> scalar(String key, Node node) {
        if (node instanceof ScalarNode scalar) {
            return Optional.of(scalar.getValue());
        }
        complaints.add(
                spotOf(file, node),
                "Expected one value for %s, saw %s.".formatted(key, kindOf(node)));
        return Optional.empty();
    }

    private Optional<Section> mapping(String key, Node node) {
        if (node instanceof MappingNode mapping) {
            return Optional.of(of(file, mapping, complaints));
        }
        complaints.add(
                spotOf(file, node),
                "Expected \"key: value\" lines under %s, saw %s.".formatted(key, kindOf(node)));
        return Optional.empty();
    }

    static String kindOf(Node node) {
        return switch (node) {
            case MappingNode _ -> "a mapping";
            case SequenceNode _ -> "a list";
            case ScalarNode scalar -> "the value \"%s\"".formatted(scalar.getValue());
            default -> "something else";
        };
    }

    static Spot spotOf(String file, Node node) {
        return node.getStartMark().map(mark -> spotOf(file, mark)).orElse(new Spot(file, 1, 1));
    }

    private static Spot spotOf(String file, Mark mark) {
        return new Spot(file, mark.getLine() + 1, mark.getColumn() + 1);
    }
}
