package calmstep.core.window;

import java.time.LocalDate;
import java.time.temporal.TemporalAdjusters;
import java.time.temporal.WeekFields;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.LongStream;
import java.util.stream.Stream;

/**
 * A recurrence over days, as RFC 5545 defines it in 3.3.10: of each period (a year, a month, a
 * week, a day) that the interval meets, the days that every part of the rule allows. What the rule
 * leaves open is taken from the day that it is counted from, and a week begins on a Monday where
 * {@code WKST} does not say otherwise, wherever this runs.
 *
 * @param since the day that it is counted from, which need not be one of its days
 */
record Recurrence(RecurrenceRule rule, LocalDate since) {
    /** The days of all calendars repeat themselves after so many years. */
    private static final int CYCLE_YEARS = 400;

    /** Those from {@code first} to {@code last}, both counted, in order. */
    List<LocalDate> between(LocalDate first, LocalDate last) {
        long number = rule.count().isPresent() ? 0 : periodOf(first);
        return limited(periodsFrom(number).takeWhile(period -> !period.isAfter(last)))
                .takeWhile(day -> !day.isAfter(last))
                .dropWhile(day -> day.isBefore(first))
                .toList();
    }

    /** Whether there is a day on which it opens. */
    boolean everOpens() {
        long periods =
                switch (rule.frequency()) {
                    case YEARLY -> CYCLE_YEARS;
                    case MONTHLY -> CYCLE_YEARS * 12L;
                    case WEEKLY -> CYCLE_YEARS * 53L;
                    case DAILY -> CYCLE_YEARS * 366L;
                };
        return limited(periodsFrom(0).limit(periods + 1)).findFirst().isPresent();
    }

    private Stream<LocalDate> limited(Stream<LocalDate> periods) {
        Stream<LocalDate> all = periods.flatMap(this::daysOf).filter(day -> !day.isBefore(since));
        if (rule.until().isPresent()) {
            all = all.takeWhile(day -> !day.isAfter(rule.until().get()));
        }
        return rule.count().isPresent() ? all.limit(rule.count().get()) : all;
    }

    /** The first day of each, those only that the interval meets. */
    private Stream<LocalDate> periodsFrom(long number) {
        LocalDate start = firstDayOf(since);
        return LongStream.iterate(Math.max(0, number), next -> next + 1)
                .mapToObj(next -> start.plus(next * rule.interval(), rule.frequency().unit()));
    }

    /** The number of the last period that begins on or before a day. */
    private long periodOf(LocalDate day) {
        return rule.frequency().unit().between(firstDayOf(since), day) / rule.interval();
    }

    private LocalDate firstDayOf(LocalDate day) {
        return switch (rule.frequency()) {
            case YEARLY -> day.withDayOfYear(1);
            case MONTHLY -> day.withDayOfMonth(1);
            case WEEKLY -> day.with(TemporalAdjusters.previousOrSame(rule.weekStart()));
            case DAILY -> day;
        };
    }

    private Stream<LocalDate> daysOf(LocalDate period) {
        Stream<LocalDate> days =
                period.datesUntil(period.plus(1, rule.frequency().unit())).filter(this::isMeant);
        if (rule.positions().isEmpty()) {
            return days;
        }
        List<LocalDate> all = days.toList();
        Set<LocalDate> taken = new TreeSet<>();
        for (int position : rule.positions()) {
            int place = position > 0 ? position - 1 : all.size() + position;
            if (place >= 0 && place < all.size()) {
                taken.add(all.get(place));
            }
        }
        return taken.stream();
    }

    private boolean isMeant(LocalDate day) {
        return isMonth(day)
                && isWeek(day)
                && isIn(rule.yearDays(), day.getDayOfYear(), day.lengthOfYear())
                && isMonthDay(day)
                && isWeekday(day);
    }

    private boolean isMonth(LocalDate day) {
        if (!rule.months().isEmpty()) {
            return rule.months().contains(day.getMonthValue());
        }
        return rule.frequency() != RecurrenceRule.Frequency.YEARLY
                || rule.namesDays()
                || day.getMonthValue() == since.getMonthValue();
    }

    private boolean isMonthDay(LocalDate day) {
        boolean derived =
                !rule.namesDays()
                        && (rule.frequency() == RecurrenceRule.Frequency.YEARLY
                                || rule.frequency() == RecurrenceRule.Frequency.MONTHLY);
        return derived
                ? day.getDayOfMonth() == since.getDayOfMonth()
                : isIn(rule.monthDays(), day.getDayOfMonth(), day.lengthOfMonth());
    }

    /** Weeks belong to the year in which most of their days lie (3.3.10, BYWEEKNO). */
    private boolean isWeek(LocalDate day) {
        if (rule.weeks().isEmpty()) {
            return true;
        }
        WeekFields weeks = WeekFields.of(rule.weekStart(), 4);
        int last = (int) day.range(weeks.weekOfWeekBasedYear()).getMaximum();
        return isIn(rule.weeks(), day.get(weeks.weekOfWeekBasedYear()), last);
    }

    private boolean isWeekday(LocalDate day) {
        if (rule.weekdays().isEmpty()) {
            return rule.frequency() != RecurrenceRule.Frequency.WEEKLY
                    || day.getDayOfWeek() == since.getDayOfWeek();
        }
        return rule.weekdays().stream().anyMatch(weekday -> isMeant(weekday, day));
    }

    private boolean isMeant(RecurrenceRule.Weekday weekday, LocalDate day) {
        if (day.getDayOfWeek() != weekday.day()) {
            return false;
        }
        boolean ofTheMonth =
                rule.frequency() == RecurrenceRule.Frequency.MONTHLY || !rule.months().isEmpty();
        int place = ofTheMonth ? day.getDayOfMonth() : day.getDayOfYear();
        int length = ofTheMonth ? day.lengthOfMonth() : day.lengthOfYear();
        return weekday.ordinal() == 0
                || weekday.ordinal() == (place - 1) / 7 + 1
                || weekday.ordinal() == -((length - place) / 7 + 1);
    }

    private static boolean isIn(Set<Integer> wanted, int number, int last) {
        return wanted.isEmpty() || wanted.contains(number) || wanted.contains(number - last - 1);
    }
}
