package calmstep.core.select;

import calmstep.core.text.Nearest;
import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import calmstep.core.version.VersionScheme;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Which devices are meant. */
public final class Selection {
    public static final Selection ALL = new Selection("", List.of());

    private static final Pattern TERM =
            Pattern.compile("\\s*((?:[A-Za-z-]+:)?(?:\"[^\"]*\"|[^\\s\"]+))");
    private static final Pattern AGE = Pattern.compile("([<>])(\\d{1,6})(d|h|min)");
    private static final Pattern COMPARISON = Pattern.compile("(>=|<=|>|<|=)?(.+)");

    /**
     * For versions as people write them in a selection; devices compare them with the scheme of
     * their own family where it can read them.
     */
    private static final VersionScheme ANY = VersionScheme.ANY;

    /** One thing that must hold, or must not. */
    private sealed interface Term {
        boolean holds(Shown shown);

        record Word(Pattern pattern) implements Term {
            @Override
            public boolean holds(Shown shown) {
                return shown.texts().values().stream()
                        .flatMap(List::stream)
                        .anyMatch(text -> pattern.matcher(text).find());
            }
        }

        record Is(Field field, List<Pattern> values) implements Term {
            @Override
            public boolean holds(Shown shown) {
                return shown.all(field).stream()
                        .anyMatch(
                                text ->
                                        values.stream()
                                                .anyMatch(value -> value.matcher(text).matches()));
            }
        }

        /** Whether the field has any value at all. */
        record Has(Field field) implements Term {
            @Override
            public boolean holds(Shown shown) {
                return shown.all(field).stream().anyMatch(text -> !text.isEmpty());
            }
        }

        record InRange(Field field, List<VersionRange> ranges, List<Pattern> texts)
                implements Term {
            @Override
            public boolean holds(Shown shown) {
                Optional<Version> version = shown.version(field);
                return version.map(v -> ranges.stream().anyMatch(range -> range.contains(v)))
                                .orElse(false)
                        || shown.all(field).stream()
                                .anyMatch(
                                        text ->
                                                texts.stream()
                                                        .anyMatch(t -> t.matcher(text).matches()));
            }
        }

        /**
         * Whether what is known is older or younger than something; what was never read is neither.
         */
        record Aged(Field field, boolean older, long seconds) implements Term {
            @Override
            public boolean holds(Shown shown) {
                return shown.all(field).stream()
                        .mapToLong(Long::parseLong)
                        .anyMatch(age -> older ? age > seconds : age < seconds);
            }
        }

        record Not(Term term) implements Term {
            @Override
            public boolean holds(Shown shown) {
                return !term.holds(shown);
            }
        }
    }

    private final String text;
    private final List<Term> terms;

    private Selection(String text, List<Term> terms) {
        this.text = text;
        this.terms = List.copyOf(terms);
    }

    /**
     * @throws IllegalArgumentException with what was expected, what was seen and at which column,
     *     when the text is no selection
     */
    public static Selection parse(String text) {
        if (text.chars().filter(c -> c == '"').count() % 2 == 1) {
            throw new IllegalArgumentException(
                    "Column %s: this quote is not closed.".formatted(text.lastIndexOf('"') + 1));
        }
        List<Term> terms = new ArrayList<>();
        Matcher matcher = TERM.matcher(text);
        boolean not = false;
        int at = 0;
        while (at < text.length() && !text.substring(at).isBlank()) {
            if (!matcher.find(at) || matcher.start() != at) {
                throw new IllegalArgumentException(
                        "Column %s: expected a space before this quote."
                                .formatted(text.indexOf('"', at) + 1));
            }
            int column = matcher.start(1) + 1;
            String term = matcher.group(1);
            at = matcher.end();
            if (term.equals("not")) {
                if (not) {
                    throw new IllegalArgumentException(
                            "Column %s: \"not\" is there twice; leave both out.".formatted(column));
                }
                not = true;
                continue;
            }
            Term read = read(term, column);
            terms.add(not ? new Term.Not(read) : read);
            not = false;
        }
        if (not) {
            throw new IllegalArgumentException(
                    "Column %s: expected a term behind \"not\", saw the end."
                            .formatted(text.length() + 1));
        }
        return new Selection(text.strip(), terms);
    }

    private static Term read(String term, int column) {
        int colon = term.startsWith("\"") ? -1 : term.indexOf(':');
        if (colon < 0) {
            return new Term.Word(
                    Pattern.compile(
                            literal(unquoted(term)),
                            Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE));
        }
        String word = term.substring(0, colon);
        Field field =
                Arrays.stream(Field.values())
                        .filter(f -> f.toString().equals(word.toLowerCase(Locale.ROOT)))
                        .findFirst()
                        .orElseThrow(
                                () ->
                                        new IllegalArgumentException(
                                                "Column %s: \"%s\" is no field; %s"
                                                        .formatted(
                                                                column,
                                                                word,
                                                                Nearest.hint(
                                                                        word, Field.words()))));
        String value = unquoted(term.substring(colon + 1));
        if (value.isEmpty()) {
            throw new IllegalArgumentException(
                    "Column %s: expected a value behind \"%s:\", such as %s:*."
                            .formatted(column + colon + 1, word, word));
        }
        if (value.equals("*")) {
            return new Term.Has(field);
        }
        List<String> values = Arrays.stream(value.split(",")).filter(v -> !v.isEmpty()).toList();
        if (field == Field.AGE) {
            return aged(value, column + colon + 1);
        }
        return field.isVersion()
                ? versions(field, values, column + colon + 1)
                : new Term.Is(field, values.stream().map(Selection::pattern).toList());
    }

    private static Term aged(String value, int column) {
        Matcher age = AGE.matcher(value);
        if (!age.matches()) {
            throw new IllegalArgumentException(
                    "Column %s: expected an age such as >7d, <12h or >30min, saw \"%s\"."
                            .formatted(column, value));
        }
        long unit =
                switch (age.group(3)) {
                    case "d" -> 86_400;
                    case "h" -> 3_600;
                    default -> 60;
                };
        return new Term.Aged(
                Field.AGE, age.group(1).equals(">"), Long.parseLong(age.group(2)) * unit);
    }

    private static Term versions(Field field, List<String> values, int column) {
        List<VersionRange> ranges = new ArrayList<>();
        List<Pattern> texts = new ArrayList<>();
        for (String value : values) {
            if (value.contains("*")) {
                texts.add(pattern(value));
                continue;
            }
            addRange(ranges, value, column);
        }
        return new Term.InRange(field, ranges, texts);
    }

    private static void addRange(List<VersionRange> ranges, String value, int column) {
        try {
            ranges.add(range(value));
        } catch (IllegalArgumentException malformed) {
            throw new IllegalArgumentException(
                    "Column %s: %s Ranges are written >=2.6, <2.8, 2.4..2.8, or with a star: 2.6.*."
                            .formatted(column, malformed.getMessage()),
                    malformed);
        }
    }

    private static VersionRange range(String value) {
        int dots = value.indexOf("..");
        if (dots >= 0) {
            return VersionRange.parse(
                    "[%s, %s]".formatted(value.substring(0, dots), value.substring(dots + 2)), ANY);
        }
        Matcher comparison = COMPARISON.matcher(value);
        if (!comparison.matches()) {
            throw new IllegalArgumentException("Expected a version, saw nothing.");
        }
        return VersionRange.parse(
                (comparison.group(1) == null ? "" : comparison.group(1) + " ")
                        + comparison.group(2),
                ANY);
    }

    private static String unquoted(String text) {
        return text.length() >= 2 && text.startsWith("\"") && text.endsWith("\"")
                ? text.substring(1, text.length() - 1)
                : text;
    }

    /** A value with stars; small and capital letters are the same. */
    private static Pattern pattern(String value) {
        return Pattern.compile(literal(value), Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE);
    }

    private static String literal(String value) {
        return Arrays.stream(value.split("\\*", -1))
                .map(Pattern::quote)
                .reduce((a, b) -> a + ".*" + b)
                .orElse("");
    }

    public boolean holds(Shown shown) {
        return terms.stream().allMatch(term -> term.holds(shown));
    }

    /** Reads a version for a selection; empty when it cannot be compared with what people write. */
    public static Optional<Version> versionOf(String text) {
        try {
            return Optional.of(ANY.parse(text));
        } catch (IllegalArgumentException ofAnotherKind) {
            return Optional.empty();
        }
    }

    /** What every field of a device shows, from its texts. */
    public static Shown shown(Map<Field, List<String>> texts) {
        Map<Field, Version> versions = new java.util.EnumMap<>(Field.class);
        for (Field field : List.of(Field.RUNS, Field.WANTED)) {
            texts.getOrDefault(field, List.of()).stream()
                    .findFirst()
                    .flatMap(Selection::versionOf)
                    .ifPresent(version -> versions.put(field, version));
        }
        return new Shown(texts, versions);
    }

    @Override
    public String toString() {
        return text;
    }
}
