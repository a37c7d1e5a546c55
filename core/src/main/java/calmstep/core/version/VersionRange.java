package calmstep.core.version;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A set of versions: one or more stretches, each with a lower and an upper bound or none.
 *
 * @param text as it was written
 * @param stretches a version is in the range when it is in one of them
 */
public record VersionRange(String text, List<Stretch> stretches) {
    private static final Pattern INTERVAL =
            Pattern.compile("([\\[(])\\s*([^,]*?)\\s*,\\s*([^,]*?)\\s*([\\])])");
    private static final Pattern COMPARISON = Pattern.compile("(>=|<=|>|<|=)?\\s*(.+)");

    /** A bound, and whether it is in itself. */
    record Bound(Version version, boolean included) {}

    record Stretch(Optional<Bound> lower, Optional<Bound> upper) {
        boolean contains(Version version) {
            return (lower.isEmpty() || above(version.compareTo(lower.get().version()), lower.get()))
                    && (upper.isEmpty()
                            || above(upper.get().version().compareTo(version), upper.get()));
        }

        private static boolean above(int comparison, Bound bound) {
            return comparison > 0 || (comparison == 0 && bound.included());
        }

        boolean isEmpty() {
            return (lower.isPresent()
                            && upper.isPresent()
                            && !contains(lower.get().version())
                            && !contains(upper.get().version())
                            && lower.get().version().compareTo(upper.get().version()) >= 0)
                    || (lower.isPresent()
                            && upper.isPresent()
                            && lower.get().version().compareTo(upper.get().version()) > 0);
        }
    }

    public static final VersionRange ANY =
            new VersionRange("any", List.of(new Stretch(Optional.empty(), Optional.empty())));

    /**
     * Reads {@code any}, {@code 2.6.3}, {@code >= 2.6.3}, {@code >= 2.6 and < 2.8}, {@code [5.2.7,
     * 6.0)}, {@code (, 3.0]}; several are joined by {@code or}. What is joined by {@code and} holds
     * all at once.
     *
     * @throws IllegalArgumentException when a part is malformed, or holds no version at all
     */
    public static VersionRange parse(String text, VersionScheme scheme) {
        if (text.strip().equals("any")) {
            return ANY;
        }
        List<Stretch> stretches = new ArrayList<>();
        for (String part : text.split("\\s+or\\s+")) {
            Stretch stretch = stretchOf(part.strip(), scheme);
            if (stretch.isEmpty()) {
                throw new IllegalArgumentException(
                        "No version can be in \"%s\": its lower bound is above its upper bound."
                                .formatted(part));
            }
            stretches.add(stretch);
        }
        return new VersionRange(text, List.copyOf(stretches));
    }

    private static Stretch stretchOf(String part, VersionScheme scheme) {
        Matcher interval = INTERVAL.matcher(part);
        if (interval.matches()) {
            return new Stretch(
                    boundOf(interval.group(2), interval.group(1).equals("["), scheme),
                    boundOf(interval.group(3), interval.group(4).equals("]"), scheme));
        }
        Optional<Bound> lower = Optional.empty();
        Optional<Bound> upper = Optional.empty();
        for (String comparison : part.split("\\s+and\\s+")) {
            Matcher matcher = COMPARISON.matcher(comparison.strip());
            if (!matcher.matches()) {
                throw new IllegalArgumentException(
                        "Expected a range such as \">= 2.6.3\" or \"[2.6, 2.8)\", saw \"%s\"."
                                .formatted(part));
            }
            Version version = scheme.parse(matcher.group(2));
            String sign = matcher.group(1) == null ? "=" : matcher.group(1);
            Bound bound = new Bound(version, sign.endsWith("="));
            if (!sign.startsWith("<")) {
                lower = Optional.of(lower.map(other -> tighter(other, bound, 1)).orElse(bound));
            }
            if (!sign.startsWith(">")) {
                upper = Optional.of(upper.map(other -> tighter(other, bound, -1)).orElse(bound));
            }
        }
        return new Stretch(lower, upper);
    }

    /**
     * What is in both: of two lower bounds (+1) the higher one, of two upper ones (-1) the lower.
     */
    private static Bound tighter(Bound one, Bound other, int towards) {
        int comparison = towards * one.version().compareTo(other.version());
        if (comparison == 0) {
            return one.included() ? other : one;
        }
        return comparison > 0 ? one : other;
    }

    private static Optional<Bound> boundOf(String text, boolean included, VersionScheme scheme) {
        return text.isEmpty()
                ? Optional.empty()
                : Optional.of(new Bound(scheme.parse(text), included));
    }

    public boolean contains(Version version) {
        for (Stretch stretch : stretches) {
            if (stretch.contains(version)) {
                return true;
            }
        }
        return false;
    }

    /**
     * Every version that the range names as a bound: a catalogue checks that its releases hold
     * them.
     */
    public List<Version> named() {
        return stretches.stream()
                .flatMap(
                        s -> java.util.stream.Stream.concat(s.lower().stream(), s.upper().stream()))
                .map(Bound::version)
                .distinct()
                .toList();
    }

    @Override
    public String toString() {
        return text;
    }
}
