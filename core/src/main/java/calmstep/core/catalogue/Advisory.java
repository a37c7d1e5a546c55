package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;
import java.time.LocalDate;
import java.util.Locale;

/**
 * A published fault or weakness.
 *
 * @param id as its publisher numbers it
 * @param component the component whose releases have it
 * @param affects the releases that have it
 * @param on the hardware that has it
 * @param sentence what can happen, for people
 */
public record Advisory(
        String id,
        String title,
        Severity severity,
        LocalDate published,
        String component,
        VersionRange affects,
        Variant on,
        String sentence) {
    /** How bad it is, as its publisher says. */
    public enum Severity {
        LOW,
        MEDIUM,
        HIGH,
        CRITICAL;

        /**
         * @throws IllegalArgumentException for another word
         */
        public static Severity parse(String text) {
            for (Severity value : values()) {
                if (value.toString().equals(text)) {
                    return value;
                }
            }
            throw new IllegalArgumentException(
                    "Expected low, medium, high or critical, saw \"%s\".".formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
