package calmstep.dialect;

import calmstep.core.text.Nearest;
import calmstep.core.text.Section;
import calmstep.dialect.Dialect.What;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;

/** The words of a dialect file, one by one: what each means, and which are known. */
final class DialectWords {
    private static final Pattern PLACE = Pattern.compile("\\{([a-z]+)}");
    private static final List<String> PLACES =
            List.of(
                    "file",
                    "fallback",
                    "source",
                    "member",
                    "settings",
                    "kept",
                    "receiver",
                    "medium",
                    "address");
    private static final List<String> WORDS_OF_A_PART =
            List.of("name", "model", "serial", "role", "state", "mark");

    private DialectWords() {}

    static String word(What what) {
        return what.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    static SignIns.LockOut lockOut(Section section) {
        try (section) {
            int after = (int) section.number("after", SignIns.LockOut.USUAL.after());
            if (after < 2 || after > 100) {
                section.complain(
                        "after",
                        "Expected how many refusals lock a user out, from 2 to 100; saw %s. A family that locks at the first one cannot be tried."
                                .formatted(after));
            }
            return new SignIns.LockOut(
                    after, section.duration("within", SignIns.LockOut.USUAL.within()));
        }
    }

    static Optional<Pattern> findPattern(Section section, String key) {
        return section.find(key, DialectWords::compile);
    }

    static Pattern compile(String text) {
        try {
            return Pattern.compile(text, Pattern.MULTILINE);
        } catch (PatternSyntaxException broken) {
            throw new IllegalArgumentException(
                    "This is not a regular expression: %s near position %s in \"%s\"."
                            .formatted(broken.getDescription(), broken.getIndex() + 1, text),
                    broken);
        }
    }

    static Map<String, String> means(Section section) {
        Map<String, String> means = new LinkedHashMap<>();
        section.section("means")
                .ifPresent(
                        words -> {
                            try (words) {
                                words.keys().forEach(word -> means.put(word, words.text(word)));
                            }
                        });
        return means;
    }

    /** The components that a pattern of parts tells: its groups beside the words of every part. */
    static List<String> componentsAmong(Set<String> names) {
        return names.stream().filter(name -> !WORDS_OF_A_PART.contains(name)).sorted().toList();
    }

    static What whatOf(String text) {
        List<String> words = Arrays.stream(What.values()).map(DialectWords::word).toList();
        if (!words.contains(text)) {
            throw new IllegalArgumentException(
                    "\"%s\" is nothing that an answer can tell; %s"
                            .formatted(text, Nearest.hint(text, words)));
        }
        return What.valueOf(text.toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    static List<String> groupsOf(What what) {
        return switch (what) {
            case HOST_NAME,
                    MODEL,
                    REVISION,
                    REGION,
                    BRAND,
                    FEATURE,
                    SERIAL,
                    BOOT_MARK,
                    RELEASE,
                    RUNNING,
                    NEXT,
                    FALLBACK,
                    WAITING ->
                    List.of("value");
            case PART -> List.of("name");
            case SAVED, UNSAVED -> List.of();
            case VOLUME -> List.of("name", "size", "free");
            case FILE -> List.of("name", "size");
            case FACT -> List.of("name", "value");
        };
    }

    static void mustKnowPlaces(String send, Section section) {
        Matcher places = PLACE.matcher(send);
        while (places.find()) {
            if (!PLACES.contains(places.group(1))) {
                section.complain(
                        "send",
                        "\"{%s}\" stands for nothing; %s"
                                .formatted(places.group(1), Nearest.hint(places.group(1), PLACES)));
            }
        }
    }
}
