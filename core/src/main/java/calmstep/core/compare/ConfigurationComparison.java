package calmstep.core.compare;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/**
 * Two configurations of one device, line by line, each line in the context of the less indented
 * lines above it.
 *
 * @param dropped lines that only the first has
 * @param added lines that only the second has
 */
public record ConfigurationComparison(List<String> dropped, List<String> added) {
    public ConfigurationComparison {
        dropped = List.copyOf(dropped);
        added = List.copyOf(added);
    }

    /**
     * @param volatileLines lines that mean nothing (dates, counters); the dialect names them
     */
    public static ConfigurationComparison of(
            String before, String after, List<Pattern> volatileLines) {
        Map<String, Integer> counts = new LinkedHashMap<>();
        linesOf(before, volatileLines).forEach(line -> counts.merge(line, 1, Integer::sum));
        linesOf(after, volatileLines).forEach(line -> counts.merge(line, -1, Integer::sum));
        return new ConfigurationComparison(
                withSign(counts, count -> count > 0), withSign(counts, count -> count < 0));
    }

    private static List<String> withSign(Map<String, Integer> counts, Predicate<Integer> sign) {
        return counts.entrySet().stream()
                .filter(e -> sign.test(e.getValue()))
                .map(Map.Entry::getKey)
                .toList();
    }

    /** Whether both say the same. */
    public boolean isSame() {
        return dropped.isEmpty() && added.isEmpty();
    }

    /** The lines that mean something, as the device wrote them: what is written back into one. */
    public static List<String> settingsOf(String configuration, List<Pattern> volatileLines) {
        return configuration
                .lines()
                .map(String::stripTrailing)
                .filter(
                        line ->
                                !line.isBlank()
                                        && volatileLines.stream()
                                                .noneMatch(p -> p.matcher(line.strip()).find()))
                .toList();
    }

    /**
     * The lines that mean something, each with its context in front: {@code "interface ge0 /
     * address 192.0.2.1"}.
     */
    public static List<String> linesOf(String configuration, List<Pattern> volatileLines) {
        List<String> lines = new ArrayList<>();
        Deque<String> context = new ArrayDeque<>();
        Deque<Integer> indents = new ArrayDeque<>();
        for (String raw : settingsOf(configuration, volatileLines)) {
            String line = raw.strip();
            int indent = raw.length() - raw.stripLeading().length();
            while (!indents.isEmpty() && indents.peekLast() >= indent) {
                indents.removeLast();
                context.removeLast();
            }
            lines.add(context.isEmpty() ? line : String.join(" / ", context) + " / " + line);
            indents.addLast(indent);
            context.addLast(line);
        }
        return lines;
    }
}
