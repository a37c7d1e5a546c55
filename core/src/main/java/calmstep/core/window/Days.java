package calmstep.core.window;

import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The days on which a window opens. */
public sealed interface Days {
    /** Those from {@code first} to {@code last}, both counted, in order. */
    List<LocalDate> between(LocalDate first, LocalDate last);

    record On(LocalDate day) implements Days {
        @Override
        public List<LocalDate> between(LocalDate first, LocalDate last) {
            return day.isBefore(first) || day.isAfter(last) ? List.of() : List.of(day);
        }
    }

    /**
     * A recurrence of RFC 5545 over days.
     *
     * @param since where it is counted from; needed only where the rule itself does not say which
     *     days are meant
     */
    record Recurring(RecurrenceRule rule, Optional<LocalDate> since) implements Days {
        private static final LocalDate ANY_DAY = LocalDate.of(2000, 1, 1);

        /**
         * @throws IllegalArgumentException when the rule needs a day to count from, or never opens
         */
        public Recurring {
            if (since.isEmpty() && !rule.standsAlone()) {
                throw new IllegalArgumentException(
                        "The rule counts from a day; give it with \"since\".");
            }
            if (!new Recurrence(rule, since.orElse(ANY_DAY)).everOpens()) {
                throw new IllegalArgumentException(
                        "Expected a rule that opens on some day; saw one that never does.");
            }
        }

        /**
         * @param rule such as {@code FREQ=WEEKLY;BYDAY=MO,TU}
         * @throws IllegalArgumentException also when it is none, or speaks of hours
         */
        public static Recurring of(String rule, Optional<LocalDate> since) {
            return new Recurring(RecurrenceRule.of(rule.toUpperCase(Locale.ROOT)), since);
        }

        @Override
        public List<LocalDate> between(LocalDate first, LocalDate last) {
            return new Recurrence(rule, since.orElse(first)).between(first, last);
        }
    }
}
