package calmstep.core.compare;

/**
 * One difference between two readings.
 *
 * @param what the kind of fact
 * @param name which one
 * @param before how it was, empty where it was not there
 * @param after how it is, empty where it is gone
 * @param weight whether it matters
 */
public record Change(String what, String name, String before, String after, Weight weight) {
    /** Whether a difference matters. */
    public enum Weight {
        /** Meant to change: the release itself. */
        EXPECTED,
        /** New or better; for the record. */
        FINE,
        /** A person should look. */
        CAUTION
    }

    /** Whether it is about the same fact as another one. */
    public boolean isAbout(Change other) {
        return what.equals(other.what) && name.equals(other.name);
    }

    public String sentence() {
        if (before.isEmpty()) {
            return "%s %s is new: %s".formatted(what, name, after);
        }
        if (after.isEmpty()) {
            return "%s %s is gone; it was %s".formatted(what, name, before);
        }
        return "%s %s was %s, is %s".formatted(what, name, before, after);
    }
}
