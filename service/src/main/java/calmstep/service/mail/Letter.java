package calmstep.service.mail;

import calmstep.core.fleet.Site;
import calmstep.core.order.Outage;
import calmstep.core.step.Turn;
import calmstep.service.runs.SiteWork;
import calmstep.service.runs.SitesConcerned.Occasion;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What the contacts of a site read, in users' words and by the site's clock. Why something was
 * left, and what was odd about it, was written for colleagues and stays with them; what was written
 * for the contacts stands with its unit.
 *
 * @param calendar an iCalendar text that goes with it
 */
record Letter(String subject, String text, Optional<String> calendar) {
    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("HH:mm", Locale.ENGLISH);

    static Letter of(SiteWork work, Site site, Occasion occasion, Optional<String> calendar) {
        StringBuilder text =
                new StringBuilder(
                        "%s, %s (run %s, started by %s).%n"
                                .formatted(
                                        site.title(),
                                        what(occasion),
                                        work.run(),
                                        work.startedBy()));
        work.units()
                .forEach(
                        unit ->
                                text.append(
                                        "%n%s%n  %s%n"
                                                        .formatted(
                                                                heading(unit),
                                                                occasion == Occasion.AFTER
                                                                        ? reached(unit)
                                                                        : expected(
                                                                                unit, site.zone()))
                                                + word(unit)));
        text.append(
                (occasion == Occasion.AFTER
                                ? "%nCalm Step%n"
                                : "%nYou are told again when it is over.%n%nCalm Step%n")
                        .formatted());
        return new Letter(
                "%s: %s".formatted(site.title(), subject(occasion)), text.toString(), calendar);
    }

    private static String word(SiteWork.Unit unit) {
        return unit.word().isEmpty() ? "" : "  %s%n".formatted(unit.word());
    }

    private static String what(Occasion occasion) {
        return switch (occasion) {
            case BEFORE -> "what will be changed";
            case MOVED -> "what will be changed, at other times than you were told; these hold now";
            case AFTER -> "what was changed";
        };
    }

    private static String subject(Occasion occasion) {
        return switch (occasion) {
            case BEFORE -> "work on your network";
            case MOVED -> "new times for the work on your network";
            case AFTER -> "the work on your network is over";
        };
    }

    private static String heading(SiteWork.Unit unit) {
        String serves =
                unit.serves().isEmpty() ? "" : ": %s".formatted(String.join("; ", unit.serves()));
        return unit.isHere()
                ? unit.device() + serves
                : "%s at %s, over which %s %s the network%s"
                        .formatted(
                                unit.device(),
                                unit.at(),
                                some(unit.cutsOff()),
                                unit.cutsOff().size() == 1 ? "reaches" : "reach",
                                serves);
    }

    private static String some(List<String> devices) {
        return devices.size() == 1
                ? devices.getFirst()
                : "%s and %s"
                        .formatted(
                                String.join(", ", devices.subList(0, devices.size() - 1)),
                                devices.getLast());
    }

    private static String expected(SiteWork.Unit unit, ZoneId zone) {
        String dark =
                unit.darkSeconds() == 0
                        ? "goes on serving, but for the moment of a hand-over"
                        : "without network for about %s in all"
                                .formatted(Outage.words(Duration.ofSeconds(unit.darkSeconds())));
        String behind =
                unit.isHere() && !unit.cutsOff().isEmpty()
                        ? ", and with it %s".formatted(some(unit.cutsOff()))
                        : "";
        String when =
                unit.turns().isEmpty()
                        ? ""
                        : unit.turns().stream()
                                .map(turn -> span(turn, zone))
                                .collect(
                                        Collectors.joining(" and ", "; ", " (%s)".formatted(zone)));
        return (unit.isHere() ? "%s to %s, ".formatted(unit.from(), unit.to()) : "")
                + dark
                + behind
                + when;
    }

    private static String span(Turn turn, ZoneId zone) {
        Instant ends = turn.begins().plus(turn.needs());
        boolean sameDay =
                turn.begins().atZone(zone).toLocalDate().equals(ends.atZone(zone).toLocalDate());
        return "%s to %s"
                .formatted(
                        MOMENT.format(turn.begins().atZone(zone)),
                        (sameDay ? CLOCK : MOMENT).format(ends.atZone(zone)));
    }

    private static String reached(SiteWork.Unit unit) {
        return switch (unit.state()) {
            case SETTLED -> unit.isHere() ? "done: runs %s".formatted(unit.to()) : "done";
            case RETURNED -> "went back to what it ran before, %s".formatted(unit.from());
            case SET_ASIDE -> "not finished; you are told before it is tried again";
            case WAITING, PREPARING, STAGED, CHANGING, PROVING, SOAKING, STUCK, HELD ->
                    "not finished: the work was ended before";
        };
    }
}
