package calmstep.service.mail;

import calmstep.core.fleet.Site;
import calmstep.core.order.Outage;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunView.TurnView;
import calmstep.service.runs.RunView.UnitInRun;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What the contacts of a site read, in users' words and by the site's clock. */
record Letter(String subject, String text) {
    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);

    static Letter of(RunView run, Site site, boolean after) {
        List<UnitInRun> units =
                run.units().stream().filter(unit -> unit.site().equals(site.name())).toList();
        String what = after ? "what was changed" : "what will be changed";
        StringBuilder text =
                new StringBuilder(
                        "%s, %s (run %s, started by %s).%n"
                                .formatted(site.title(), what, run.name(), run.startedBy()));
        units.forEach(unit -> addUnit(unit, text, after, site));
        text.append(
                after
                        ? "%nCalm Step%n".formatted()
                        : "%nYou are told again when it is over.%n%nCalm Step%n".formatted());
        return letter(site, after, text);
    }

    private static Letter letter(Site site, boolean after, StringBuilder text) {
        return new Letter(
                "%s: %s"
                        .formatted(
                                site.title(),
                                after
                                        ? "the work on your network is over"
                                        : "work on your network"),
                text.toString());
    }

    private static void addUnit(UnitInRun unit, StringBuilder text, boolean after, Site site) {
        text.append(
                "%n%s%s%n  %s%n"
                        .formatted(
                                unit.device(),
                                unit.serves().isEmpty() ? "" : ": " + unit.serves(),
                                after ? reached(unit) : expected(unit, site.zone())));
    }

    private static String expected(UnitInRun unit, ZoneId zone) {
        String dark =
                unit.darkSeconds() == 0
                        ? "goes on serving, but for the moment of a hand-over"
                        : "without network for about %s in all"
                                .formatted(Outage.words(Duration.ofSeconds(unit.darkSeconds())));
        String when =
                Optional.ofNullable(unit.turn()).map(turn -> "; " + window(turn, zone)).orElse("");
        return "%s to %s, %s%s".formatted(unit.from(), unit.to(), dark, when);
    }

    private static String window(TurnView turn, ZoneId zone) {
        return "not before %s, over by %s (%s)"
                .formatted(moment(turn.begins(), zone), moment(turn.closes(), zone), zone);
    }

    private static String moment(Instant at, ZoneId zone) {
        return MOMENT.format(at.atZone(zone));
    }

    private static String reached(UnitInRun unit) {
        return switch (unit.state()) {
            case "settled" ->
                    "done: runs %s%s"
                            .formatted(
                                    unit.to(),
                                    unit.doubt() == null
                                            ? ""
                                            : "; accepted with it: %s"
                                                    .formatted(
                                                            String.join("; ", unit.doubt().odd())));
            case "returned" -> "went back to what it ran before, %s".formatted(unit.from());
            case "set-aside" ->
                    "not finished: %s"
                            .formatted(Optional.ofNullable(unit.setAsideWhy()).orElse("set aside"));
            default -> "not finished: the work was ended while it was %s".formatted(unit.state());
        };
    }
}
