package calmstep.core.path;

/**
 * A cost in the order of a preference, packed so that the search compares and adds two numbers.
 * From the top: guards violated, then three fields in the preference's order; last, bytes.
 */
record PathKey(long head, long bytes) implements Comparable<PathKey> {
    static final PathKey NONE = new PathKey(0, 0);

    private static final int BARRED_SHIFT = 52;
    private static final int RESTART_BITS = 14;
    private static final int DARK_BITS = 25;
    private static final int UNPROVEN_BITS = 13;

    static PathKey of(Cost cost, Preference preference) {
        long restarts = within(cost.restarts(), RESTART_BITS);
        long dark = within(cost.darkSeconds(), DARK_BITS);
        long unproven = within(cost.unproven(), UNPROVEN_BITS);
        long packed =
                switch (preference) {
                    case FEWEST_RESTARTS ->
                            (restarts << DARK_BITS | dark) << UNPROVEN_BITS | unproven;
                    case SHORTEST_DARK ->
                            (dark << RESTART_BITS | restarts) << UNPROVEN_BITS | unproven;
                    case PROVEN -> (unproven << RESTART_BITS | restarts) << DARK_BITS | dark;
                };
        return new PathKey((long) cost.barred() << BARRED_SHIFT | packed, cost.bytes());
    }

    /** A field that is larger than any path's sum can be would spill into its neighbour. */
    private static long within(long value, int bits) {
        return Math.min(value, (1L << (bits - 6)) - 1);
    }

    PathKey plus(PathKey other) {
        return new PathKey(head + other.head, bytes + other.bytes);
    }

    PathKey withBars(int bars) {
        return bars == 0 ? this : new PathKey(head + ((long) bars << BARRED_SHIFT), bytes);
    }

    boolean isLessThan(PathKey other) {
        return head < other.head || (head == other.head && bytes < other.bytes);
    }

    /** Whether this and another together are less than a third. */
    boolean isLessThan(PathKey third, PathKey another) {
        long sum = head + another.head;
        return sum < third.head || (sum == third.head && bytes + another.bytes < third.bytes);
    }

    @Override
    public int compareTo(PathKey other) {
        return head != other.head
                ? Long.compare(head, other.head)
                : Long.compare(bytes, other.bytes);
    }
}
