package calmstep.core.window;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * RFC 5545 taken at its word, and slowly: each day from the first one on is asked whether it is one
 * of the rule's, by counting on the calendar.
 */
final class RecurrenceOracle {
    private static final List<String> WEEK = List.of("MO", "TU", "WE", "TH", "FR", "SA", "SU");
    private static final LocalDate MONDAY = LocalDate.of(1899, 1, 2);

    private final Map<String, List<String>> rule = new TreeMap<>();
    private final LocalDate seed;

    RecurrenceOracle(String text, LocalDate seed) {
        for (String part : text.split(";")) {
            rule.put(part.split("=")[0], List.of(part.split("=")[1].split(",")));
        }
        this.seed = seed;
    }

    List<LocalDate> until(LocalDate last) {
        List<LocalDate> found = new ArrayList<>();
        List<LocalDate> period = new ArrayList<>();
        LocalDate day = seed.minusDays(400);
        // A period is over only where the next one begins.
        for (; !day.isAfter(last.plusDays(400)); day = day.plusDays(1)) {
            if (!period.isEmpty() && number(period.getFirst()) != number(day)) {
                take(period, found);
                period.clear();
            }
            period.add(day);
        }
        return found.stream()
                .limit(Integer.parseInt(one("COUNT", "999999")))
                .filter(taken -> !taken.isAfter(last))
                .toList();
    }

    private void take(List<LocalDate> period, List<LocalDate> found) {
        int step = Integer.parseInt(one("INTERVAL", "1"));
        if (Math.floorMod(number(period.getFirst()) - number(seed), step) != 0) {
            return;
        }
        List<LocalDate> meant = period.stream().filter(this::isMeant).toList();
        for (LocalDate day : meant) {
            int place = meant.indexOf(day);
            boolean isPlaced =
                    !rule.containsKey("BYSETPOS")
                            || has("BYSETPOS", place + 1)
                            || has("BYSETPOS", place - meant.size());
            boolean isOver =
                    rule.containsKey("UNTIL")
                            && day.toString().replace("-", "").compareTo(one("UNTIL", "")) > 0;
            if (isPlaced && !isOver && !day.isBefore(seed)) {
                found.add(day);
            }
        }
    }

    private int number(LocalDate day) {
        int days = (int) (day.toEpochDay() - MONDAY.toEpochDay());
        return switch (one("FREQ", "")) {
            case "YEARLY" -> day.getYear();
            case "MONTHLY" -> day.getYear() * 12 + day.getMonthValue();
            case "WEEKLY" -> Math.floorDiv(days - WEEK.indexOf(one("WKST", "MO")), 7);
            default -> days;
        };
    }

    private boolean isMeant(LocalDate day) {
        boolean named =
                rule.containsKey("BYDAY")
                        || rule.containsKey("BYMONTHDAY")
                        || rule.containsKey("BYYEARDAY");
        boolean yearly = one("FREQ", "").equals("YEARLY");
        boolean likeTheSeed =
                switch (one("FREQ", "")) {
                    case "YEARLY", "MONTHLY" -> day.getDayOfMonth() == seed.getDayOfMonth();
                    case "WEEKLY" -> day.getDayOfWeek() == seed.getDayOfWeek();
                    default -> true;
                };
        boolean inTheMonth =
                rule.containsKey("BYMONTH")
                        ? has("BYMONTH", day.getMonthValue())
                        : named || !yearly || day.getMonth() == seed.getMonth();
        return inTheMonth
                && (named || likeTheSeed)
                && isAmong("BYMONTHDAY", day.getDayOfMonth(), day.lengthOfMonth())
                && isAmong("BYYEARDAY", day.getDayOfYear(), day.lengthOfYear())
                && (!rule.containsKey("BYDAY")
                        || rule.get("BYDAY").stream().anyMatch(weekday -> isOne(day, weekday)));
    }

    private boolean isOne(LocalDate day, String weekday) {
        String name = weekday.substring(weekday.length() - 2);
        if (!WEEK.get(day.getDayOfWeek().getValue() - 1).equals(name)) {
            return false;
        }
        String ordinal = weekday.substring(0, weekday.length() - 2);
        if (ordinal.isEmpty()) {
            return true;
        }
        boolean ofTheMonth = one("FREQ", "").equals("MONTHLY") || rule.containsKey("BYMONTH");
        LocalDate first = ofTheMonth ? day.withDayOfMonth(1) : day.withDayOfYear(1);
        LocalDate end = ofTheMonth ? first.plusMonths(1) : first.plusYears(1);
        List<LocalDate> same =
                first.datesUntil(end).filter(d -> d.getDayOfWeek() == day.getDayOfWeek()).toList();
        int number = Integer.parseInt(ordinal);
        int place = number > 0 ? number - 1 : same.size() + number;
        return same.indexOf(day) == place;
    }

    private boolean isAmong(String part, int number, int last) {
        return !rule.containsKey(part) || has(part, number) || has(part, number - last - 1);
    }

    private boolean has(String part, int number) {
        return rule.get(part).contains(Integer.toString(number));
    }

    private String one(String part, String otherwise) {
        return rule.getOrDefault(part, List.of(otherwise)).getFirst();
    }

    // rules by chance

    /** Of any frequency, with any of the parts that go with it. */
    static String drawn(Random truth, LocalDate seed) {
        String frequency = one(truth, "DAILY", "WEEKLY", "WEEKLY", "MONTHLY", "MONTHLY", "YEARLY");
        Map<String, String> parts = new TreeMap<>();
        boolean numbers = frequency.equals("MONTHLY") || frequency.equals("YEARLY");
        if (truth.nextInt(3) == 0) {
            parts.put("INTERVAL", Integer.toString(1 + truth.nextInt(5)));
        }
        if (truth.nextInt(4) == 0) {
            parts.put("BYMONTH", some(truth, 1, 12, false));
        }
        if (truth.nextInt(4) == 0 && !frequency.equals("WEEKLY")) {
            parts.put("BYMONTHDAY", some(truth, 1, 31, true));
        }
        if (truth.nextInt(6) == 0 && frequency.equals("YEARLY")) {
            parts.put("BYYEARDAY", some(truth, 1, 366, true));
        }
        if (truth.nextInt(2) == 0) {
            boolean ordinal = numbers && truth.nextBoolean();
            parts.put(
                    "BYDAY",
                    IntStream.rangeClosed(0, truth.nextInt(4))
                            .mapToObj(
                                    _ ->
                                            (ordinal ? one(truth, "1", "2", "-1", "5", "-2") : "")
                                                    + WEEK.get(truth.nextInt(7)))
                            .distinct()
                            .collect(Collectors.joining(",")));
        }
        if (truth.nextInt(5) == 0 && (parts.containsKey("BYDAY") || parts.containsKey("BYMONTH"))) {
            parts.put("BYSETPOS", one(truth, "1", "-1", "2", "1,-1"));
        }
        if (truth.nextInt(4) == 0) {
            parts.put("WKST", WEEK.get(truth.nextInt(7)));
        }
        switch (truth.nextInt(6)) {
            case 0 -> parts.put("COUNT", Integer.toString(1 + truth.nextInt(30)));
            case 1 ->
                    parts.put(
                            "UNTIL", seed.plusDays(truth.nextInt(700)).toString().replace("-", ""));
            default -> {}
        }
        return parts.entrySet().stream()
                .map(part -> part.getKey() + "=" + part.getValue())
                .collect(Collectors.joining(";", "FREQ=" + frequency + ";", ""))
                .replaceAll(";$", "");
    }

    private static String one(Random truth, String... of) {
        return Arrays.asList(of).get(truth.nextInt(of.length));
    }

    private static String some(Random truth, int first, int last, boolean back) {
        return IntStream.rangeClosed(0, truth.nextInt(4))
                .map(_ -> first + truth.nextInt(last - first + 1))
                .map(number -> back && truth.nextInt(3) == 0 ? -number : number)
                .distinct()
                .mapToObj(Integer::toString)
                .collect(Collectors.joining(","));
    }
}
