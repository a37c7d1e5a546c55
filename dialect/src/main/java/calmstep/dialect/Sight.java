package calmstep.dialect;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.snmp4j.smi.OID;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What to look at in an answer: rows of named texts, in the answer's own order. */
sealed interface Sight {
    /** Names that every row may have; a row lacks one that was not there. */
    Set<String> names();

    List<Row> in(String answer);

    /**
     * One place that fits.
     *
     * @param at where it stands, to tell what comes behind what
     * @param whole what was seen, as it stood
     */
    record Row(int at, String whole, Map<String, String> texts) {
        String text(String name) {
            return texts.getOrDefault(name, "");
        }
    }

    /** Each match of a regular expression; its groups are the names. */
    record ByPattern(Pattern pattern) implements Sight {
        @Override
        public Set<String> names() {
            return pattern.namedGroups().keySet();
        }

        @Override
        public List<Row> in(String answer) {
            List<Row> rows = new ArrayList<>();
            Matcher matcher = pattern.matcher(answer);
            while (matcher.find()) {
                Map<String, String> texts = new TreeMap<>();
                for (String name : names()) {
                    String text = matcher.group(name);
                    if (text != null) {
                        texts.put(name, text);
                    }
                }
                rows.add(new Row(matcher.start(), matcher.group().strip(), texts));
            }
            return rows;
        }
    }

    /**
     * Places in a JSON text, as steps joined by dots.
     *
     * @param each the list or object of which every entry is a row; empty where there is one row,
     *     the text itself
     * @param takes name to the place in the row; {@value #KEY} is the entry's own key, {@value
     *     #ITSELF} the entry itself
     * @param is what the value must be, where that decides whether there is a row
     */
    record ByPath(String each, Map<String, String> takes, Map<String, Pattern> is)
            implements Sight {
        static final String KEY = "(key)";
        static final String ITSELF = "(itself)";
        private static final JsonMapper JSON = JsonMapper.builder().build();

        public ByPath {
            takes = new LinkedHashMap<>(takes);
        }

        @Override
        public Set<String> names() {
            return takes.keySet();
        }

        @Override
        public List<Row> in(String answer) {
            JsonNode tree;
            try {
                tree = JSON.readTree(answer);
            } catch (JacksonException notJson) {
                return List.of();
            }
            if (each.isEmpty()) {
                return rows(List.of(Map.entry("", tree)));
            }
            JsonNode entries = at(tree, each);
            if (entries.isObject()) {
                return named(entries);
            }
            return counted(entries);
        }

        private List<Row> named(JsonNode entries) {
            return rows(
                    entries.propertyStream()
                            .map(entry -> Map.entry(entry.getKey(), entry.getValue()))
                            .toList());
        }

        private List<Row> counted(JsonNode entries) {
            List<Map.Entry<String, JsonNode>> counted = new ArrayList<>();
            entries.valueStream()
                    .forEach(
                            value -> counted.add(Map.entry(String.valueOf(counted.size()), value)));
            return rows(counted);
        }

        private List<Row> rows(List<Map.Entry<String, JsonNode>> entries) {
            List<Row> rows = new ArrayList<>();
            for (Map.Entry<String, JsonNode> entry : entries) {
                Map<String, String> texts = new TreeMap<>();
                takes.forEach(
                        (name, place) -> {
                            JsonNode found =
                                    place.equals(KEY) || place.equals(ITSELF)
                                            ? entry.getValue()
                                            : at(entry.getValue(), place);
                            String text =
                                    place.equals(KEY)
                                            ? entry.getKey()
                                            : found.isValueNode() && !found.isNull()
                                                    ? found.asString()
                                                    : "";
                            if (!text.isEmpty()) {
                                texts.put(name, text);
                            }
                        });
                if (!texts.isEmpty()
                        && is.entrySet().stream()
                                .allMatch(
                                        wanted ->
                                                wanted.getValue()
                                                        .matcher(
                                                                texts.getOrDefault(
                                                                        wanted.getKey(), ""))
                                                        .matches())) {
                    rows.add(
                            new Row(
                                    rows.size(),
                                    texts.entrySet().stream()
                                            .map(t -> t.getKey() + " " + t.getValue())
                                            .collect(Collectors.joining(", ")),
                                    texts));
                }
            }
            return rows;
        }

        private static JsonNode at(JsonNode node, String place) {
            JsonNode at = node;
            for (String step : place.split("\\.")) {
                at =
                        at.isArray()
                                ? at.path(step.matches("\\d{1,6}") ? Integer.parseInt(step) : -1)
                                : at.path(step);
            }
            return at;
        }
    }

    /**
     * Columns of a table of objects: every index that has one of them is a row. An answer has a
     * line for each object, {@code number = value}.
     *
     * @param table the entry of the table (RFC 2578, section 7.1.12); for one value alone, the
     *     object with its index
     * @param takes name to the column's number; {@value #INDEX} is the index itself; empty for one
     *     value alone
     */
    record ByColumn(String table, Map<String, String> takes, Map<String, Pattern> is)
            implements Sight {
        static final String INDEX = "(index)";
        private static final String VALUE = "value";

        @Override
        public Set<String> names() {
            return takes.isEmpty() ? Set.of(VALUE) : takes.keySet();
        }

        @Override
        public List<Row> in(String answer) {
            Map<OID, Map<String, String>> byIndex = new TreeMap<>();
            for (ObjectExchange.Shown shown : ObjectExchange.Shown.in(answer)) {
                String number = shown.number();
                if (takes.isEmpty() && number.equals(table)) {
                    byIndex.computeIfAbsent(new OID(), _ -> new TreeMap<>())
                            .put(VALUE, shown.value());
                }
                takes.forEach(
                        (name, column) -> {
                            String begins = "%s.%s.".formatted(table, column);
                            if (number.startsWith(begins)) {
                                byIndex.computeIfAbsent(
                                                new OID(number.substring(begins.length())),
                                                _ -> new TreeMap<>())
                                        .put(name, shown.value());
                            }
                        });
            }
            byIndex.forEach(
                    (index, texts) ->
                            takes.entrySet().stream()
                                    .filter(take -> take.getValue().equals(INDEX))
                                    .forEach(
                                            take ->
                                                    texts.put(
                                                            take.getKey(),
                                                            index.toDottedString())));
            List<Row> rows = new ArrayList<>();
            byIndex.values().stream()
                    .filter(
                            texts ->
                                    is.entrySet().stream()
                                            .allMatch(
                                                    wanted ->
                                                            wanted.getValue()
                                                                    .matcher(
                                                                            texts.getOrDefault(
                                                                                    wanted.getKey(),
                                                                                    ""))
                                                                    .matches()))
                    .forEach(
                            texts ->
                                    rows.add(
                                            new Row(
                                                    rows.size(),
                                                    texts.entrySet().stream()
                                                            .map(
                                                                    t ->
                                                                            t.getKey()
                                                                                    + " "
                                                                                    + t.getValue())
                                                            .collect(Collectors.joining(", ")),
                                                    texts)));
            return rows;
        }
    }
}
