package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;
import java.time.Duration;
import java.util.Locale;

/**
 * What moves of a component to the releases in a range cost.
 *
 * @param restarts      restarts of the device
 * @param dark          expected time without service
 * @param configuration what becomes of the configuration
 */
public record Effect(String component, VersionRange to, int restarts, Duration dark, Configuration configuration) {

    /** What a move does to the configuration. */
    public enum Configuration {
        KEPT,
        REWRITTEN,
        WIPED;

        /** @throws IllegalArgumentException for another word */
        public static Configuration parse(String text) {
            for (Configuration value : values()) {
                if (value.toString().equals(text)) {
                    return value;
                }
            }
            throw new IllegalArgumentException("Expected kept, rewritten or wiped, saw \"%s\".".formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
