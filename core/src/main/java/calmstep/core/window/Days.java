package calmstep.core.window;

import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import net.fortuna.ical4j.model.Recur;

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
     * @param rule such as {@code FREQ=WEEKLY;BYDAY=MO,TU}
     * @param since where it is counted from; needed only where the rule itself does not say which
     *     days are meant
     */
    record Recurring(String rule, Optional<LocalDate> since) implements Days {
        private static final Pattern WITHIN_A_DAY =
                Pattern.compile("BYHOUR|BYMINUTE|BYSECOND|FREQ=(HOURLY|MINUTELY|SECONDLY)");
        private static final Pattern COUNTED = Pattern.compile("INTERVAL|COUNT");
        private static final Pattern NAMES_ITS_DAYS =
                Pattern.compile("FREQ=DAILY|BYDAY|BYMONTHDAY|BYYEARDAY");

        /**
         * @throws IllegalArgumentException when the rule is none, speaks of hours, or needs a day
         *     to count from
         */
        public Recurring {
            rule = rule.toUpperCase(Locale.ROOT);
            if (WITHIN_A_DAY.matcher(rule).find()) {
                throw new IllegalArgumentException(
                        "Expected a rule over days (\"from\" and \"until\" give the hours), saw \"%s\"."
                                .formatted(rule));
            }
            if (since.isEmpty()
                    && (COUNTED.matcher(rule).find() || !NAMES_ITS_DAYS.matcher(rule).find())) {
                throw new IllegalArgumentException(
                        "The rule \"%s\" counts from a day; give it with \"since\"."
                                .formatted(rule));
            }
            parse(rule);
        }

        private static Recur<LocalDate> parse(String rule) {
            try {
                return new Recur<>(rule);
            } catch (RuntimeException unreadable) {
                throw new IllegalArgumentException(
                        "Expected a recurrence rule of RFC 5545 such as FREQ=WEEKLY;BYDAY=MO,TU, saw \"%s\"."
                                .formatted(rule),
                        unreadable);
            }
        }

        @Override
        public List<LocalDate> between(LocalDate first, LocalDate last) {
            LocalDate seed = since.orElse(first);
            LocalDate begin = seed.isAfter(first) ? seed : first;
            return begin.isAfter(last)
                    ? List.of()
                    : parse(rule).getDates(seed, begin, last.plusDays(1)).stream()
                            .filter(day -> !day.isBefore(begin) && !day.isAfter(last))
                            .sorted()
                            .distinct()
                            .toList();
        }
    }
}
