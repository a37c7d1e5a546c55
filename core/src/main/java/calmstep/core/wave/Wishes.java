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
 * What a person wants of the waves, and of what is odd on their way.
 *
 * @param nights units that are pinned to the night of a date: with their whole path, by the clocks
 *     of their sites
 * @param excluded units that stay as they are
 * @param siteOrder sites that go before all others, in this order
 * @param asks for which units a person is asked before they are disturbed
 * @param whenOdd what becomes of a unit that is odd behind a restart, and has another one before it
 */
public record Wishes(
        Map<String, LocalDate> nights,
        Set<String> excluded,
        List<String> siteOrder,
        Asks asks,
        WhenOdd whenOdd) {
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
            return named(
                    values(),
                    text,
                    "for whom somebody is asked at the gate: each, pilots or nobody");
        }

        public boolean asksFor(boolean pilot) {
            return this == EACH || (this == PILOTS && pilot);
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** What is odd is judged by a person in either case: before the next restart, or at the end. */
    public enum WhenOdd {
        ASK,
        GO_ON;

        /**
         * @throws IllegalArgumentException for a word that is none of them
         */
        public static WhenOdd parse(String text) {
            return named(values(), text, "ask or go-on for what is odd behind a restart");
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    private static <E extends Enum<E>> E named(E[] all, String text, String expected) {
        return Arrays.stream(all)
                .filter(one -> one.toString().equals(text))
                .findFirst()
                .orElseThrow(
                        () ->
                                new IllegalArgumentException(
                                        "Expected %s; saw \"%s\".".formatted(expected, text)));
    }

    /** With a person asked for each unit, and for what is odd. */
    public Wishes(Map<String, LocalDate> nights, Set<String> excluded, List<String> siteOrder) {
        this(nights, excluded, siteOrder, Asks.EACH, WhenOdd.ASK);
    }

    public Wishes {
        nights = Collections.unmodifiableMap(new TreeMap<>(nights));
        excluded = Collections.unmodifiableSet(new TreeSet<>(excluded));
        siteOrder = List.copyOf(siteOrder);
        // Wishes that were kept when each was asked for.
        asks = Objects.requireNonNullElse(asks, Asks.EACH);
        whenOdd = Objects.requireNonNullElse(whenOdd, WhenOdd.ASK);
    }
}
