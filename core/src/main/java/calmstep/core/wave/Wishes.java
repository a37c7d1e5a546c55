package calmstep.core.wave;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * What a person wants of the waves.
 *
 * @param nights units that are pinned to the night of a date: with their whole path, by the clocks
 *     of their sites
 * @param excluded units that stay as they are
 * @param siteOrder sites that go before all others, in this order
 * @param asks for which units a person is asked before they are disturbed
 */
public record Wishes(
        Map<String, LocalDate> nights, Set<String> excluded, List<String> siteOrder, Asks asks) {
    public static final Wishes NONE = new Wishes(Map.of(), Set.of(), List.of());

    /** Who stands at the gate. */
    public enum Asks {
        EACH,
        PILOTS,
        NOBODY;

        /**
         * @throws IllegalArgumentException for a word that is none of them
         */
        public static Asks parse(String text) {
            return Arrays.stream(values())
                    .filter(one -> one.toString().equals(text))
                    .findFirst()
                    .orElseThrow(
                            () ->
                                    new IllegalArgumentException(
                                            "Expected for whom somebody is asked at the gate: each, pilots or nobody; saw \"%s\"."
                                                    .formatted(text)));
        }

        public boolean asksFor(boolean pilot) {
            return this == EACH || (this == PILOTS && pilot);
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** With a person asked for each unit. */
    public Wishes(Map<String, LocalDate> nights, Set<String> excluded, List<String> siteOrder) {
        this(nights, excluded, siteOrder, Asks.EACH);
    }

    public Wishes {
        nights = Collections.unmodifiableMap(new TreeMap<>(nights));
        excluded = Collections.unmodifiableSet(new TreeSet<>(excluded));
        siteOrder = List.copyOf(siteOrder);
        // Wishes that were kept when each was asked for.
        asks = Objects.requireNonNullElse(asks, Asks.EACH);
    }
}
