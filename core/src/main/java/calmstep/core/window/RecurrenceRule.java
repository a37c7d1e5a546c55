package calmstep.core.window;

import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The parts of a recurrence rule of RFC 5545 (3.3.10) that speak of days.
 *
 * @param interval every so manieth period
 * @param positions of the days of a period, from its first one on, or from its last one where
 *     negative
 */
public record RecurrenceRule(
        Frequency frequency,
        int interval,
        Optional<Integer> count,
        Optional<LocalDate> until,
        DayOfWeek weekStart,
        Set<Integer> months,
        Set<Integer> weeks,
        Set<Integer> yearDays,
        Set<Integer> monthDays,
        Set<Weekday> weekdays,
        Set<Integer> positions) {
    private static final int MOST = 9999;
    private static final List<String> OF_HOURS = List.of("BYHOUR", "BYMINUTE", "BYSECOND");
    private static final List<String> KNOWN =
            List.of(
                    "FREQ",
                    "INTERVAL",
                    "COUNT",
                    "UNTIL",
                    "WKST",
                    "BYMONTH",
                    "BYWEEKNO",
                    "BYYEARDAY",
                    "BYMONTHDAY",
                    "BYDAY",
                    "BYSETPOS");

    /** How long a period is. */
    public enum Frequency {
        YEARLY(ChronoUnit.YEARS),
        MONTHLY(ChronoUnit.MONTHS),
        WEEKLY(ChronoUnit.WEEKS),
        DAILY(ChronoUnit.DAYS);

        private final ChronoUnit unit;

        Frequency(ChronoUnit unit) {
            this.unit = unit;
        }

        ChronoUnit unit() {
            return unit;
        }
    }

    /**
     * A day of the week.
     *
     * @param ordinal the so manieth of its month or year, from the end where negative; 0 for each
     */
    public record Weekday(int ordinal, DayOfWeek day) {
        private static final Pattern TEXT =
                Pattern.compile("([+-]?\\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)");
        private static final List<String> NAMES = List.of("MO", "TU", "WE", "TH", "FR", "SA", "SU");
        private static final int MOST_WEEKS = 53;

        static Weekday of(String text) {
            Matcher parts = TEXT.matcher(text);
            if (!parts.matches()) {
                throw refused("BYDAY with days such as MO, or 2SU for a second Sunday", text);
            }
            int ordinal = parts.group(1) == null ? 0 : Integer.parseInt(parts.group(1));
            if (parts.group(1) != null && (ordinal == 0 || Math.abs(ordinal) > MOST_WEEKS)) {
                throw refused("a weekday's number from 1 to 53, or from -53 to -1", text);
            }
            return new Weekday(ordinal, dayOf(parts.group(2)));
        }

        static DayOfWeek dayOf(String name) {
            int place = NAMES.indexOf(name);
            if (place < 0) {
                throw refused("a day of the week such as MO", name);
            }
            return DayOfWeek.of(place + 1);
        }
    }

    /**
     * @throws IllegalArgumentException when the text is no such rule, in words that tell why
     */
    static RecurrenceRule of(String rule) {
        Map<String, String> parts = split(rule);
        Frequency frequency = frequencyOf(parts.getOrDefault("FREQ", ""), rule);
        RecurrenceRule read =
                new RecurrenceRule(
                        frequency,
                        number(parts, "INTERVAL").orElse(1),
                        number(parts, "COUNT"),
                        Optional.ofNullable(parts.get("UNTIL")).map(RecurrenceRule::dateOf),
                        Weekday.dayOf(parts.getOrDefault("WKST", "MO")),
                        numbers(parts, "BYMONTH", 12, false),
                        numbers(parts, "BYWEEKNO", 53, true),
                        numbers(parts, "BYYEARDAY", 366, true),
                        numbers(parts, "BYMONTHDAY", 31, true),
                        list(parts, "BYDAY")
                                .map(Weekday::of)
                                .collect(Collectors.toUnmodifiableSet()),
                        numbers(parts, "BYSETPOS", 366, true));
        read.goTogether(rule);
        return read;
    }

    /** Whether it says itself which days of a period are meant. */
    boolean namesDays() {
        return !(weeks.isEmpty()
                && yearDays.isEmpty()
                && monthDays.isEmpty()
                && weekdays.isEmpty());
    }

    /** Whether it means the same days whatever day it is counted from. */
    boolean standsAlone() {
        return interval == 1 && count.isEmpty() && (frequency == Frequency.DAILY || namesDays());
    }

    private void goTogether(String rule) {
        boolean numbered = weekdays.stream().anyMatch(weekday -> weekday.ordinal() != 0);
        boolean ofMonthOrYear = frequency == Frequency.MONTHLY || frequency == Frequency.YEARLY;
        refuse(count.isPresent() && until.isPresent(), "COUNT or UNTIL, not both", rule);
        refuse(
                numbered && !ofMonthOrYear,
                "numbered weekdays (such as BYDAY=2SU) with FREQ=MONTHLY or FREQ=YEARLY only",
                rule);
        refuse(
                numbered && !weeks.isEmpty(),
                "numbered weekdays (such as BYDAY=2SU) without BYWEEKNO",
                rule);
        refuse(
                !monthDays.isEmpty() && frequency == Frequency.WEEKLY,
                "BYMONTHDAY with another FREQ than WEEKLY",
                rule);
        refuse(
                !yearDays.isEmpty() && frequency != Frequency.YEARLY,
                "BYYEARDAY with FREQ=YEARLY only",
                rule);
        refuse(
                !weeks.isEmpty() && (frequency != Frequency.YEARLY || weekdays.isEmpty()),
                "BYWEEKNO with FREQ=YEARLY and BYDAY only",
                rule);
        refuse(
                !positions.isEmpty() && !namesDays() && months.isEmpty(),
                "BYSETPOS with another part that names days, such as BYDAY",
                rule);
    }

    private static void refuse(boolean wrong, String expected, String seen) {
        if (wrong) {
            throw refused(expected, seen);
        }
    }

    private static IllegalArgumentException refused(String expected, String seen) {
        return new IllegalArgumentException("Expected %s; saw \"%s\".".formatted(expected, seen));
    }

    private static Map<String, String> split(String rule) {
        Map<String, String> parts = new LinkedHashMap<>();
        for (String part : rule.split(";", -1)) {
            int equals = part.indexOf('=');
            String name = equals < 0 ? part : part.substring(0, equals);
            refuse(
                    OF_HOURS.contains(name),
                    "a rule over days (\"from\" and \"until\" give the hours)",
                    rule);
            refuse(
                    equals < 0 || !KNOWN.contains(name),
                    "a recurrence rule of RFC 5545 such as FREQ=WEEKLY;BYDAY=MO,TU, of the parts "
                            + String.join(", ", KNOWN),
                    part.isEmpty() ? rule : part);
            refuse(
                    parts.put(name, part.substring(equals + 1)) != null,
                    "each part of a rule once",
                    rule);
        }
        return parts;
    }

    private static Frequency frequencyOf(String text, String rule) {
        refuse(
                List.of("HOURLY", "MINUTELY", "SECONDLY").contains(text),
                "a rule over days (\"from\" and \"until\" give the hours)",
                rule);
        return Arrays.stream(Frequency.values())
                .filter(frequency -> frequency.name().equals(text))
                .findFirst()
                .orElseThrow(
                        () -> refused("FREQ=DAILY, WEEKLY, MONTHLY or YEARLY in each rule", rule));
    }

    private static LocalDate dateOf(String text) {
        try {
            return LocalDate.parse(text, DateTimeFormatter.BASIC_ISO_DATE);
        } catch (DateTimeException none) {
            throw refused("UNTIL with the last day, such as 20261231", text);
        }
    }

    private static Optional<Integer> number(Map<String, String> parts, String name) {
        return Optional.ofNullable(parts.get(name))
                .map(
                        text -> {
                            refuse(
                                    !text.matches("\\d{1,4}") || Integer.parseInt(text) == 0,
                                    "%s from 1 to %s".formatted(name, MOST),
                                    text);
                            return Integer.parseInt(text);
                        });
    }

    private static Set<Integer> numbers(
            Map<String, String> parts, String name, int most, boolean mayCountBack) {
        return list(parts, name)
                .map(text -> number(name, text, most, mayCountBack))
                .collect(Collectors.toUnmodifiableSet());
    }

    private static int number(String name, String text, int most, boolean mayCountBack) {
        int number = text.matches("[+-]?\\d{1,3}") ? Integer.parseInt(text) : 0;
        refuse(
                number == 0 || Math.abs(number) > most || (number < 0 && !mayCountBack),
                "%s with numbers from 1 to %s%s"
                        .formatted(name, most, mayCountBack ? ", or negative ones" : ""),
                text);
        return number;
    }

    private static Stream<String> list(Map<String, String> parts, String name) {
        String text = parts.get(name);
        return text == null ? Stream.empty() : Arrays.stream(text.split(",", -1)).distinct();
    }
}
