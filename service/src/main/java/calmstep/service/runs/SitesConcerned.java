package calmstep.service.runs;

import java.util.List;
import java.util.Locale;

/**
 * A run begins at some sites, moves something at them, or is over at them: those of its units, and
 * those that lose the network meanwhile. Published within the transaction that makes it so; for
 * sites where it is over, perhaps more than once.
 */
public record SitesConcerned(long runId, List<String> sites, Occasion occasion) {
    public enum Occasion {
        BEFORE,
        MOVED,
        AFTER;

        /** From its word. */
        public static Occasion parse(String word) {
            return valueOf(word.toUpperCase(Locale.ROOT));
        }

        /** As it is kept and shown. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
