package calmstep.core.fleet;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/**
 * A part of a device that carries firmware of its own.
 *
 * @param name tells it from its neighbours: a member's number, a board's slot, a dependent's name
 * @param runs release by component
 * @param parts its own parts
 */
public record Part(
        String name,
        Kind kind,
        String model,
        String serial,
        Map<String, String> runs,
        List<Part> parts) {
    /** What a part is to its device. */
    public enum Kind {
        /** One of a stack. */
        MEMBER,
        /** The other of a pair. */
        PARTNER,
        LINE_BOARD,
        /** A device that takes its firmware from this one. */
        DEPENDENT;

        /**
         * @throws IllegalArgumentException for another word
         */
        public static Kind parse(String text) {
            for (Kind kind : values()) {
                if (kind.toString().equals(text)) {
                    return kind;
                }
            }
            throw new IllegalArgumentException(
                    "Expected member, partner, line-board or dependent, saw \"%s\"."
                            .formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    public Part {
        runs = java.util.Collections.unmodifiableMap(new TreeMap<>(runs));
        parts = List.copyOf(parts);
    }
}
