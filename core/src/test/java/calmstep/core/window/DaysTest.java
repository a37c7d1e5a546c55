package calmstep.core.window;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Sweep;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.TimeZone;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DaysTest {
    private static final List<String> LOCALES = List.of("ar-EG", "en-US", "en-GB", "und");
    private static final List<String> ZONES =
            List.of("UTC", "Pacific/Kiritimati", "America/St_Johns");

    private static <T> T under(String locale, String zone, Supplier<T> what) {
        Locale before = Locale.getDefault();
        TimeZone there = TimeZone.getDefault();
        try {
            Locale.setDefault(Locale.forLanguageTag(locale));
            TimeZone.setDefault(TimeZone.getTimeZone(zone));
            return what.get();
        } finally {
            Locale.setDefault(before);
            TimeZone.setDefault(there);
        }
    }

    /** The examples of RFC 5545, 3.8.5.3, and what was met where weeks began on a Sunday. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
                    1997-09-02 | FREQ=DAILY;INTERVAL=10;COUNT=3 | 1997-09-02 1997-09-12 1997-09-22
                    1997-08-05 | FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO | 1997-08-05 1997-08-10 1997-08-19 1997-08-24
                    1997-08-05 | FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU | 1997-08-05 1997-08-17 1997-08-19 1997-08-31
                    1997-09-22 | FREQ=MONTHLY;COUNT=4;BYDAY=-2MO | 1997-09-22 1997-10-20 1997-11-17 1997-12-22
                    1997-09-28 | FREQ=MONTHLY;BYMONTHDAY=-3 | 1997-09-28 1997-10-29 1997-11-28 1997-12-29
                    2007-01-15 | FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5 | 2007-01-15 2007-01-30 2007-02-15 2007-03-15 2007-03-30
                    1997-09-02 | FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13 | 1998-02-13 1998-03-13 1998-11-13 1999-08-13
                    1997-09-13 | FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13 | 1997-09-13 1997-10-11 1997-11-08
                    1997-09-04 | FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3 | 1997-09-04 1997-10-07 1997-11-06
                    1997-09-29 | FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2 | 1997-09-29 1997-10-30 1997-11-27
                    1997-06-10 | FREQ=YEARLY;COUNT=4;BYMONTH=6,7 | 1997-06-10 1997-07-10 1998-06-10 1998-07-10
                    1997-01-01 | FREQ=YEARLY;INTERVAL=3;COUNT=5;BYYEARDAY=1,100,200 | 1997-01-01 1997-04-10 1997-07-19 2000-01-01 2000-04-09
                    1997-05-19 | FREQ=YEARLY;BYDAY=20MO | 1997-05-19 1998-05-18 1999-05-17
                    1997-05-12 | FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO | 1997-05-12 1998-05-11 1999-05-17
                    1996-11-05 | FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8 | 1996-11-05 2000-11-07 2004-11-02
                    2026-11-02 | FREQ=WEEKLY;INTERVAL=2;BYDAY=SA,SU | 2026-11-07 2026-11-08 2026-11-21 2026-11-22 2026-12-05 2026-12-06
                    """)
    void opensOnTheDaysOfTheStandard(LocalDate since, String rule, String days) {
        List<LocalDate> expected = Arrays.stream(days.split(" ")).map(LocalDate::parse).toList();
        for (String locale : LOCALES) {
            assertThat(
                            under(
                                    locale,
                                    "UTC",
                                    () ->
                                            Days.Recurring.of(rule, Optional.of(since))
                                                    .between(since, expected.getLast())))
                    .as(locale)
                    .isEqualTo(expected);
        }
    }

    /** Whatever locale and zone the machine has, and wherever the days that are asked for begin. */
    @Test
    void opensOnTheDaysThatTheStandardTakenAtItsWordGives() {
        int rules = Sweep.count(60, 1000);
        Random truth = new Random(Sweep.ofTheDay());
        List<String> tried = new ArrayList<>();
        for (int number = 0; number < rules; number++) {
            LocalDate seed = LocalDate.of(2024, 1, 1).plusDays(truth.nextInt(1100));
            String rule = RecurrenceOracle.drawn(truth, seed);
            LocalDate first = seed.plusDays(truth.nextInt(500) - 100);
            LocalDate last = first.plusDays(truth.nextInt(400));
            List<LocalDate> expected =
                    new RecurrenceOracle(rule, seed)
                            .until(last).stream().filter(day -> !day.isBefore(first)).toList();
            for (String locale : LOCALES) {
                for (String zone : ZONES) {
                    assertThat(under(locale, zone, () -> openOrNever(rule, seed, first, last)))
                            .as("%s since %s under %s in %s", rule, seed, locale, zone)
                            .isEqualTo(expected);
                }
            }
            tried.add(rule);
        }
        assertThat(tried).hasSize(rules);
    }

    /** A rule that never opens is refused: that is right where the oracle finds no day either. */
    private static List<LocalDate> openOrNever(
            String rule, LocalDate seed, LocalDate first, LocalDate last) {
        try {
            return Days.Recurring.of(rule, Optional.of(seed)).between(first, last);
        } catch (IllegalArgumentException never) {
            assertThat(never).hasMessageContaining("never does");
            return List.of();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
                    FREQ=WEEKLY;BYDAY=2SU | numbered weekdays (such as BYDAY=2SU) with FREQ=MONTHLY or FREQ=YEARLY only
                    FREQ=DAILY;BYDAY=-1FR | numbered weekdays
                    FREQ=DAILY;INTERVAL=0 | INTERVAL from 1 to 9999; saw "0"
                    FREQ=DAILY;COUNT=0 | COUNT from 1
                    FREQ=DAILY;COUNT=2;UNTIL=20270101 | COUNT or UNTIL, not both
                    FREQ=WEEKLY;BYMONTHDAY=3 | BYMONTHDAY with another FREQ than WEEKLY
                    FREQ=MONTHLY;BYYEARDAY=3 | BYYEARDAY with FREQ=YEARLY only
                    FREQ=MONTHLY;BYMONTHDAY=0 | BYMONTHDAY with numbers from 1 to 31
                    FREQ=MONTHLY;BYMONTHDAY=32 | BYMONTHDAY with numbers from 1 to 31
                    FREQ=YEARLY;BYMONTH=13;BYMONTHDAY=1 | BYMONTH with numbers from 1 to 12
                    FREQ=YEARLY;BYMONTH=-1;BYMONTHDAY=1 | BYMONTH with numbers from 1 to 12
                    FREQ=YEARLY;BYWEEKNO=20 | BYWEEKNO with FREQ=YEARLY and BYDAY only
                    FREQ=DAILY;BYSETPOS=1 | BYSETPOS with another part
                    FREQ=DAILY;BYHOUR=3 | a rule over days
                    FREQ=HOURLY | a rule over days
                    FREQ=DAILY;FREQ=WEEKLY | each part of a rule once
                    FREQ=WEEKLY;BYDAY=MO,XX | BYDAY with days such as MO
                    FREQ=WEEKLY;BYDAY= | BYDAY with days such as MO
                    FREQ=WEEKLY;BYDAYS=MO | a recurrence rule of RFC 5545
                    BYDAY=MO | FREQ=DAILY, WEEKLY, MONTHLY or YEARLY
                    FREQ=WEEKLY;BYDAY=MO; | a recurrence rule of RFC 5545
                    FREQ=DAILY;UNTIL=2027-01-01 | UNTIL with the last day, such as 20261231
                    FREQ=DAILY;UNTIL=20261101 | never does
                    FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30 | never does
                    FREQ=MONTHLY;INTERVAL=12;BYMONTH=3;BYMONTHDAY=1 | never does
                    FREQ=YEARLY;INTERVAL=2;BYMONTH=2;BYMONTHDAY=29;BYDAY=8MO | never does
                    every other week | a recurrence rule of RFC 5545
                    """)
    void whatIsInvalidOrNeverOpensIsRefusedInWords(String rule, String why) {
        assertThatThrownBy(() -> Days.Recurring.of(rule, Optional.of(LocalDate.of(2026, 11, 2))))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(why);
    }

    @Test
    void aRuleThatCountsFromADayNeedsThatDay() {
        for (String rule :
                List.of("FREQ=WEEKLY", "FREQ=DAILY;INTERVAL=2", "FREQ=YEARLY;BYMONTH=3")) {
            assertThatThrownBy(() -> Days.Recurring.of(rule, Optional.empty()))
                    .hasMessageContaining("give it with \"since\"");
        }
        LocalDate first = LocalDate.of(2026, 12, 2);
        assertThat(
                        Days.Recurring.of("freq=weekly;byday=sa", Optional.empty())
                                .between(first, first.plusDays(9)))
                .containsExactly(LocalDate.of(2026, 12, 5));
    }
}
