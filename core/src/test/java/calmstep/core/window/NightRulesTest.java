package calmstep.core.window;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import calmstep.core.fleet.Site;
import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

class NightRulesTest {
    private static final Site DUNMERE = new Site("dunmere", "Dunmere", ZoneId.of("Europe/Lisbon"));
    private static final Site GULLNESS =
            new Site("gullness", "Gullness Quay", ZoneId.of("Atlantic/Azores"));
    private static final Set<String> SITES = Set.of("dunmere", "gullness");

    private static NightRules rules(String... lines) {
        return WindowsText.read("w", "windows: 1\n" + String.join("\n", lines) + "\n", SITES);
    }

    private static List<String> local(NightRules rules, Site site, String from, String until) {
        return rules
                .of(site, Instant.parse(from + "T12:00:00Z"), Instant.parse(until + "T12:00:00Z"))
                .stream()
                .map(
                        w ->
                                "%s %s-%s"
                                        .formatted(
                                                w.night(),
                                                w.opens().atZone(site.zone()).toLocalTime(),
                                                w.closes().atZone(site.zone()).toLocalTime()))
                .toList();
    }

    private static Duration length(NightRules rules, Site site, String evening) {
        return rules.of(
                        site,
                        Instant.parse(evening + "T12:00:00Z"),
                        Instant.parse(evening + "T12:00:00Z").plus(Duration.ofDays(1)))
                .getFirst()
                .length();
    }

    /**
     * In Lisbon and on the Azores clocks go forward and back at 01:00 UTC: 01:00 becomes 02:00
     * here, midnight becomes 01:00 there.
     */
    @Test
    void followTheClockWhereItChanges() {
        NightRules nights =
                rules("open: [{ name: n, rule: FREQ=DAILY, from: 01:15, until: 04:30 }]");
        assertThat(length(nights, DUNMERE, "2026-03-27")).isEqualTo(Duration.ofMinutes(195));
        assertThat(length(nights, DUNMERE, "2026-03-28"))
                .as("01:15 does not occur; it is read with the offset before, as 02:15")
                .isEqualTo(Duration.ofMinutes(135));
        assertThat(length(nights, GULLNESS, "2026-03-28"))
                .as("01:15 is behind the jump on the Azores")
                .isEqualTo(Duration.ofMinutes(195));
        assertThat(length(nights, DUNMERE, "2026-10-24"))
                .as("01:15 occurs twice; the first one opens")
                .isEqualTo(Duration.ofMinutes(255));
        NightRules midnight =
                rules("open: [{ name: n, rule: FREQ=DAILY, from: 23:00, until: 03:00 }]");
        assertThat(length(midnight, GULLNESS, "2026-10-24")).isEqualTo(Duration.ofHours(5));
        assertThat(length(midnight, GULLNESS, "2026-03-28")).isEqualTo(Duration.ofHours(3));
    }

    @Test
    void runOverMidnightAndBelongToTheEvening() {
        NightRules rules =
                rules(
                        "open:",
                        "- { name: n, rule: 'FREQ=WEEKLY;BYDAY=TU,TH', from: 23:30, until: 04:00 }",
                        "- { name: m, sites: [dunmere], rule: FREQ=DAILY, from: 01:15, until: 04:30"
                                + " }");
        assertThat(local(rules, GULLNESS, "2026-11-23", "2026-11-28"))
                .containsExactly("2026-11-24 23:30-04:00", "2026-11-26 23:30-04:00");
        assertThat(local(rules, DUNMERE, "2026-11-23", "2026-11-26"))
                .containsExactly(
                        "2026-11-23 01:15-04:30",
                        "2026-11-24 23:30-04:30",
                        "2026-11-25 01:15-04:30");
    }

    @Test
    void areCutInTwoByAFreezeAndShortenedByNow() {
        NightRules rules =
                rules(
                        "open: [{ name: n, rule: FREQ=DAILY, from: 01:00, until: 05:00 }]",
                        "freezes:",
                        "- { name: copy, from: '2026-11-25 02:00', until: '2026-11-25 02:45' }",
                        "- { name: festival, sites: [gullness], from: 2026-11-24, until: 2026-11-25"
                                + " }");
        assertThat(local(rules, DUNMERE, "2026-11-24", "2026-11-26"))
                .containsExactly(
                        "2026-11-24 01:00-02:00",
                        "2026-11-24 02:45-05:00",
                        "2026-11-25 01:00-05:00");
        assertThat(local(rules, GULLNESS, "2026-11-23", "2026-11-26"))
                .containsExactly("2026-11-25 01:00-05:00");
        assertThat(
                        rules.of(
                                DUNMERE,
                                Instant.parse("2026-11-24T04:00:00Z"),
                                Instant.parse("2026-11-24T12:00:00Z")))
                .containsExactly(
                        new Window(
                                Instant.parse("2026-11-24T04:00:00Z"),
                                Instant.parse("2026-11-24T05:00:00Z"),
                                LocalDate.parse("2026-11-23")));
    }

    @Test
    void countRecurrencesFromTheirDay() {
        NightRules rules =
                rules(
                        "open: [{ name: n, rule: 'FREQ=WEEKLY;INTERVAL=2;BYDAY=SU', since:"
                                + " 2026-11-01, from: 01:00, until: 02:00 }, { name: dock, on:"
                                + " 2026-11-19, from: 09:00, until: 17:00 }]");
        assertThat(local(rules, DUNMERE, "2026-10-20", "2026-12-01"))
                .containsExactly(
                        "2026-10-31 01:00-02:00",
                        "2026-11-14 01:00-02:00",
                        "2026-11-19 09:00-17:00",
                        "2026-11-28 01:00-02:00");
        assertThat(
                        local(
                                rules(
                                        "open: [{ name: last, rule: 'FREQ=MONTHLY;BYDAY=-1SU',"
                                                + " from: 10:00, until: 12:00 }]"),
                                DUNMERE,
                                "2026-11-01",
                                "2027-01-01"))
                .containsExactly("2026-11-29 10:00-12:00", "2026-12-27 10:00-12:00");
    }

    /**
     * Asks each minute on its own, by the site's wall clock, whether it is open; the windows must
     * hold exactly these minutes.
     */
    @Test
    void holdExactlyTheMinutesThatTheRulesOpen() {
        Random random = new Random(7);
        for (int round = 0; round < 60; round++) {
            LocalDate first =
                    LocalDate.parse(
                            List.of("2026-03-26", "2026-10-22", "2026-11-20").get(round % 3));
            List<int[]> opens = new ArrayList<>();
            StringBuilder text = new StringBuilder("open:\n");
            for (int rule = 0; rule <= random.nextInt(3); rule++) {
                int from = 5 * random.nextInt(288);
                int until = 5 * random.nextInt(288);
                opens.add(new int[] {from, until});
                text.append(
                        "- { name: r, rule: FREQ=DAILY, from: '%s', until: '%s' }\n"
                                .formatted(
                                        LocalTime.of(from / 60, from % 60),
                                        LocalTime.of(until / 60, until % 60)));
            }
            LocalDateTime frozen =
                    first.plusDays(2).atTime(random.nextInt(24), 5 * random.nextInt(12));
            LocalDateTime thawed = frozen.plusMinutes(5 + 5 * random.nextInt(400));
            text.append(
                    "freezes: [{ name: f, from: '%s', until: '%s' }]".formatted(frozen, thawed));
            Site site = round % 2 == 0 ? DUNMERE : GULLNESS;
            Instant begin = first.atStartOfDay(ZoneId.of("UTC")).toInstant();
            Instant end = begin.plus(Duration.ofDays(5));
            List<Window> windows = rules(text.toString()).of(site, begin, end);
            for (Instant minute = begin; minute.isBefore(end); minute = minute.plusSeconds(300)) {
                Instant at = minute;
                boolean open =
                        opens.stream()
                                        .anyMatch(
                                                times ->
                                                        isOpen(at, site.zone(), times[0], times[1]))
                                && !(isFrom(at, site.zone(), frozen)
                                        && !isFrom(at, site.zone(), thawed));
                assertThat(
                                windows.stream()
                                        .anyMatch(
                                                w ->
                                                        !at.isBefore(w.opens())
                                                                && at.isBefore(w.closes())))
                        .as("%s at %s by %s", site.name(), at, text)
                        .isEqualTo(open);
            }
        }
    }

    private static boolean isFrom(Instant at, ZoneId zone, LocalDateTime local) {
        return !at.isBefore(local.atZone(zone).toInstant());
    }

    private static boolean isOpen(Instant at, ZoneId zone, int from, int until) {
        LocalDate today = at.atZone(zone).toLocalDate();
        for (LocalDate day : List.of(today.minusDays(1), today)) {
            LocalDate closing = until > from ? day : day.plusDays(1);
            if (isFrom(at, zone, day.atStartOfDay().plusMinutes(from))
                    && !isFrom(at, zone, closing.atStartOfDay().plusMinutes(until))) {
                return true;
            }
        }
        return false;
    }

    @Test
    void areRefusedAsAWholeWithLineAndColumn() {
        RejectedText rejected =
                (RejectedText)
                        catchThrowable(
                                () ->
                                        rules(
                                                "kinds: { terminal: [dunmere, gullnes] }",
                                                "open:",
                                                "- { name: n, kinds: [terminel], rule: FREQ=HOURLY,"
                                                        + " from: 01:15, until: 04:30 }",
                                                "- { name: m, rule:"
                                                    + " 'FREQ=WEEKLY;INTERVAL=2;BYDAY=SU', from:"
                                                    + " 25:00, until: 04:30 }",
                                                "freezes: [{ name: f, from: 2026-12-06, until:"
                                                        + " 2026-12-04 }]",
                                                "limits: { at-once: 0, sites-a-night: { vessel: 2 }"
                                                        + " }"));
        assertThat(rejected.complaints().stream().map(Complaint::toString))
                .anySatisfy(
                        c ->
                                assertThat(c)
                                        .startsWith("w:2:")
                                        .contains("gullnes")
                                        .contains("did you mean \"gullness\""))
                .anySatisfy(c -> assertThat(c).startsWith("w:4:").contains("terminel"))
                .anySatisfy(c -> assertThat(c).startsWith("w:4:").contains("rule over days"))
                .anySatisfy(c -> assertThat(c).startsWith("w:5:").contains("since"))
                .anySatisfy(c -> assertThat(c).startsWith("w:5:").contains("25:00"))
                .anySatisfy(
                        c -> assertThat(c).startsWith("w:6:").contains("must end after it begins"))
                .anySatisfy(c -> assertThat(c).startsWith("w:7:").contains("at-once"))
                .anySatisfy(c -> assertThat(c).startsWith("w:7:").contains("vessel"));
    }

    /**
     * Whichever stands first: what names a site goes before what is said of its kind, or of all.
     */
    @Test
    void aLineForAllDoesNotSilenceTheOneForASite() {
        String site = "{ sites: [quay], bytes-per-second: 1 }";
        String kind = "{ kinds: [vessel], bytes-per-second: 2 }";
        String all = "{ bytes-per-second: 3 }";
        for (String links :
                List.of(
                        String.join(", ", site, kind, all),
                        String.join(", ", all, kind, site),
                        String.join(", ", kind, all, site))) {
            NightRules rules =
                    WindowsText.read(
                            "w",
                            "windows: 1\nkinds: { vessel: [quay, ship], hut: [hill] }\nlinks: [%s]\n"
                                    .formatted(links),
                            Set.of("quay", "ship", "hill"));
            assertThat(rules.links().values().stream().map(SiteLink::bytesPerSecond))
                    .as(links)
                    .containsExactly(3L, 1L, 2L);
        }
    }

    @Test
    void readTheDemoFile() throws IOException {
        String text = Files.readString(Path.of("../demo/windows.yaml"));
        Set<String> sites = new java.util.HashSet<>();
        java.util.regex.Pattern.compile("name: ([a-z-]+), title")
                .matcher(Files.readString(Path.of("../demo/northmere.yaml")))
                .results()
                .forEach(m -> sites.add(m.group(1)));
        NightRules rules = WindowsText.read("windows.yaml", text, sites);
        assertThat(
                        local(
                                rules,
                                new Site("dunmere", "Dunmere", ZoneId.of("Europe/Lisbon")),
                                "2026-12-01",
                                "2026-12-08"))
                .containsExactly(
                        "2026-12-01 01:15-04:30",
                        "2026-12-02 01:15-04:30",
                        "2026-12-06 01:15-04:30",
                        "2026-12-07 01:15-04:30");
        assertThat(rules.links())
                .containsEntry("late-godwit", new SiteLink("shared: the air of Long Law", 40_000))
                .containsEntry("dunmere", new SiteLink("dunmere", 400_000))
                .doesNotContainKey("ostrand");
    }
}
