package calmstep.core.text;

import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;

/**
 * Finds the word that somebody most likely meant: smallest Levenshtein distance, at most half of
 * the word's length; among equals the one that begins most alike.
 */
public final class Nearest {
    private Nearest() {}

    public static Optional<String> to(String seen, Collection<String> known) {
        return known.stream()
                .filter(word -> distance(seen, word) <= Math.max(1, word.length() / 2))
                .min(
                        Comparator.comparingInt((String word) -> distance(seen, word))
                                .thenComparingInt(word -> -commonStart(seen, word))
                                .thenComparing(Comparator.naturalOrder()));
    }

    private static int commonStart(String a, String b) {
        int length = 0;
        while (length < Math.min(a.length(), b.length()) && a.charAt(length) == b.charAt(length)) {
            length++;
        }
        return length;
    }

    /** The known words as a remedy: "did you mean x?" where one is near, else the list. */
    public static String hint(String seen, Collection<String> known) {
        return to(seen, known)
                .map("did you mean \"%s\"?"::formatted)
                .orElseGet(
                        () ->
                                known.isEmpty()
                                        ? "none is known yet"
                                        : "known here: " + String.join(", ", known));
    }

    private static int distance(String a, String b) {
        int[] row = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            row[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            int diagonal = row[0];
            row[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                int replaced = diagonal + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
                diagonal = row[j];
                row[j] = Math.min(replaced, 1 + Math.min(row[j], row[j - 1]));
            }
        }
        return row[b.length()];
    }
}
