package calmstep.core.version;

import java.util.List;

/**
 * A parsed version. Made by {@link VersionScheme#parse}.
 *
 * @param text as it came in; two spellings of one version are equal
 * @param numbers the numeric fields, without trailing zeros where the scheme says that a missing
 *     field is zero
 * @param letters the letters behind the last field ({@code 5.4.3b}), empty where there are none;
 *     none is older than any
 * @param build the build number, 0 where there is none
 */
public record Version(String text, List<Long> numbers, String letters, long build)
        implements Comparable<Version> {
    public Version {
        numbers = List.copyOf(numbers);
    }

    @Override
    public int compareTo(Version other) {
        for (int i = 0; i < Math.min(numbers.size(), other.numbers.size()); i++) {
            int byField = Long.compare(numbers.get(i), other.numbers.get(i));
            if (byField != 0) {
                return byField;
            }
        }
        int byLength = Integer.compare(numbers.size(), other.numbers.size());
        if (byLength != 0) {
            return byLength;
        }
        int byLetters =
                letters.length() != other.letters.length()
                        ? Integer.compare(letters.length(), other.letters.length())
                        : letters.compareTo(other.letters);
        return byLetters != 0 ? byLetters : Long.compare(build, other.build);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Version version && compareTo(version) == 0;
    }

    @Override
    public int hashCode() {
        return numbers.hashCode() * 31 * 31 + letters.hashCode() * 31 + Long.hashCode(build);
    }

    @Override
    public String toString() {
        return text;
    }
}
