package calmstep.core.evidence;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * The files of an archive with their digests, in the form that {@code sha256sum --check} reads.
 *
 * @param sha256 by name of the file, 64 lower-case hex digits each
 */
public record Manifest(Map<String, String> sha256) {
    /** Its own name in an archive. */
    public static final String NAME = "SHA256SUMS";

    private static final Pattern LINE = Pattern.compile("([0-9a-f]{64}) [ *](.+)");

    public Manifest {
        sha256 = new TreeMap<>(sha256);
    }

    /**
     * @throws IllegalArgumentException for a line that is none
     */
    public static Manifest parse(String text) {
        Map<String, String> sha256 = new TreeMap<>();
        text.lines()
                .filter(line -> !line.isBlank())
                .forEach(
                        line -> {
                            Matcher one = LINE.matcher(line);
                            if (!one.matches()) {
                                throw new IllegalArgumentException(
                                        "Expected a line of 64 hex digits and a file's name in %s, saw \"%s\"."
                                                .formatted(NAME, line));
                            }
                            sha256.put(one.group(2), one.group(1));
                        });
        return new Manifest(sha256);
    }

    /** What is wrong with files, by name and digest: altered, missing, or not of the archive. */
    public List<String> problems(Map<String, String> seen) {
        List<String> problems = new ArrayList<>();
        sha256.forEach((file, expected) -> compare(file, expected, seen, problems));
        seen.keySet().stream()
                .filter(file -> !sha256.containsKey(file))
                .sorted()
                .forEach(
                        file ->
                                problems.add(
                                        "%s does not belong to it; %s does not name it."
                                                .formatted(file, NAME)));
        return problems;
    }

    private static void compare(
            String file, String expected, Map<String, String> seen, List<String> problems) {
        String digest = seen.get(file);
        if (digest == null) {
            problems.add("%s is missing; expected SHA-256 %s.".formatted(file, expected));
        } else if (!digest.equals(expected)) {
            problems.add(
                    "%s was altered: expected SHA-256 %s, seen %s."
                            .formatted(file, expected, digest));
        }
    }

    @Override
    public String toString() {
        return sha256.entrySet().stream()
                .map(file -> "%s  %s\n".formatted(file.getValue(), file.getKey()))
                .collect(Collectors.joining());
    }
}
