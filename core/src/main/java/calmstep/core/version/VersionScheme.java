package calmstep.core.version;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How a family writes its versions.
 *
 * @param prefix constant text in front, may be empty
 * @param fewestFields fewest numeric fields
 * @param mostFields most numeric fields
 * @param letters whether letters may follow the last field
 * @param buildWord the word in front of a build number ({@code build}, {@code r}), empty where the
 *     family has none
 * @param missingIsZero whether {@code 5.2} is the same release as {@code 5.2.0}; otherwise it is
 *     the older one
 */
public record VersionScheme(
        String prefix,
        int fewestFields,
        int mostFields,
        boolean letters,
        String buildWord,
        boolean missingIsZero) {

    /**
     * What an inventory may hold before the family's catalogue is known: digits, dots, letters, a
     * build.
     */
    public static final VersionScheme ANY = new VersionScheme("", 1, 9, true, "build", true);

    public VersionScheme {
        if (fewestFields < 1 || mostFields < fewestFields) {
            throw new IllegalArgumentException(
                    "A version needs at least 1 field and no fewer at most than at least, saw %s to %s."
                            .formatted(fewestFields, mostFields));
        }
    }

    /** Dotted numbers with exactly so many fields. */
    public static VersionScheme dotted(int fields) {
        return new VersionScheme("", fields, fields, false, "", false);
    }

    /**
     * @throws IllegalArgumentException with what was expected and seen, when the text is not a
     *     version of this scheme
     */
    public Version parse(String text) {
        Matcher matcher = pattern().matcher(text);
        if (!matcher.matches()) {
            throw new IllegalArgumentException(
                    "Expected a version such as \"%s\", saw \"%s\".".formatted(example(), text));
        }
        List<Long> numbers = new ArrayList<>();
        for (String field : matcher.group("numbers").split("\\.")) {
            numbers.add(numberOf(field, text));
        }
        while (missingIsZero && numbers.size() > 1 && numbers.getLast() == 0) {
            numbers.removeLast();
        }
        String suffix = letters ? matcher.group("letters") : "";
        String build = buildWord.isEmpty() ? null : matcher.group("build");
        return new Version(text, numbers, suffix, build == null ? 0 : numberOf(build, text));
    }

    private static long numberOf(String field, String text) {
        try {
            return Long.parseLong(field);
        } catch (NumberFormatException tooLarge) {
            throw new IllegalArgumentException(
                    "The field %s in the version \"%s\" is too large.".formatted(field, text),
                    tooLarge);
        }
    }

    private Pattern pattern() {
        String build =
                buildWord.isEmpty()
                        ? ""
                        : "(?: ?" + Pattern.quote(buildWord) + " ?(?<build>\\d+))?";
        return Pattern.compile(
                Pattern.quote(prefix)
                        + "(?<numbers>\\d+(?:\\.\\d+){%s,%s})"
                                .formatted(fewestFields - 1, mostFields - 1)
                        + (letters ? "(?<letters>[a-z]{0,3})" : "")
                        + build);
    }

    private String example() {
        String numbers = "2.4.0".substring(0, 2 * Math.min(mostFields, 3) - 1);
        return prefix
                + numbers
                + (letters ? "b" : "")
                + (buildWord.isEmpty() ? "" : " " + buildWord + " 418");
    }
}
