package calmstep.practice;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How stand-ins compare releases: number by number, and a letter behind a number is newer than
 * none.
 */
final class Releases {
    private static final Pattern FIELD = Pattern.compile("(\\d+)([a-z]?)");

    private Releases() {}

    static boolean isOlder(String one, String other) {
        return compare(one, other) < 0;
    }

    private static int compare(String one, String other) {
        Matcher left = FIELD.matcher(one);
        Matcher right = FIELD.matcher(other);
        while (true) {
            boolean more = left.find();
            boolean otherHasMore = right.find();
            if (!more && !otherHasMore) {
                return 0;
            }
            int by = compareFields(more, left, otherHasMore, right);
            if (by != 0) {
                return by;
            }
        }
    }

    private static int compareFields(
            boolean more, Matcher left, boolean otherHasMore, Matcher right) {
        int by =
                Long.compare(
                        more ? Long.parseLong(left.group(1)) : 0,
                        otherHasMore ? Long.parseLong(right.group(1)) : 0);
        by =
                by != 0
                        ? by
                        : (more ? left.group(2) : "").compareTo(otherHasMore ? right.group(2) : "");
        return by;
    }
}
