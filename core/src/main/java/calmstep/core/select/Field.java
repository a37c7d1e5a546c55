package calmstep.core.select;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/** What can be asked of a device. */
public enum Field {
    NAME,
    FAMILY,
    MODEL,
    REVISION,
    REGION,
    BRAND,
    FEATURE,
    SERIAL,
    SITE,
    ROLE,
    TAG,
    ADDRESS,
    /** The release that it runs; a version, or a range of them. */
    RUNS,
    /** The release that the policy wants; a version, or a range of them. */
    WANTED,
    /** there, behind, must-stay, silent, unread. */
    STANDING,
    /** Advisories that it is exposed to. */
    EXPOSED,
    /**
     * What else is so: unhealthy, out-of-sync, unsaved, next-differs, not-as-written, entitled,
     * silent.
     */
    IS,
    /** Age of what is known of it, as in {@code age:>7d}. */
    AGE;

    boolean isVersion() {
        return this == RUNS || this == WANTED;
    }

    static List<String> words() {
        return Arrays.stream(values()).map(Field::toString).toList();
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
