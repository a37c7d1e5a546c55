package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;
import java.time.Duration;
import java.util.List;
import java.util.Locale;

/**
 * What moves of a component to the releases in a range cost.
 *
 * @param from the releases that the effect is the one of when they run before
 * @param restarts restarts of the device
 * @param dark expected time without service
 * @param configuration what becomes of the configuration
 * @param loses what the move loses or asks for, as sentences: licences to enter again, logs, a
 *     feature
 */
public record Effect(
        String component,
        VersionRange to,
        VersionRange from,
        int restarts,
        Duration dark,
        Configuration configuration,
        List<String> loses) {
    public Effect {
        loses = List.copyOf(loses);
    }

    /** Where the catalogue says nothing: one restart, five minutes, nothing else. */
    static Effect supposed(String component) {
        return new Effect(
                component,
                VersionRange.ANY,
                VersionRange.ANY,
                1,
                Duration.ofMinutes(5),
                Configuration.KEPT,
                List.of());
    }

    /** What a move does to the configuration. */
    public enum Configuration {
        KEPT,
        REWRITTEN,
        WIPED;

        /**
         * @throws IllegalArgumentException for another word
         */
        public static Configuration parse(String text) {
            for (Configuration value : values()) {
                if (value.toString().equals(text)) {
                    return value;
                }
            }
            throw new IllegalArgumentException(
                    "Expected kept, rewritten or wiped, saw \"%s\".".formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
