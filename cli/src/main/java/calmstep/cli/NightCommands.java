package calmstep.cli;

import java.nio.file.Path;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** A plan over its nights. */
final class NightCommands {
    private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm");
    private static final DateTimeFormatter DAY_AND_CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm");

    private static final int MOST_NAMED = 8;

    private NightCommands() {}

    private static String clock(JsonNode at, String zone, DateTimeFormatter how) {
        return at.isNull() ? "" : Instant.parse(at.asString()).atZone(ZoneId.of(zone)).format(how);
    }

    private static String zoneOf(JsonNode night) {
        return night.path("units").path(0).path("zone").asString("UTC");
    }

    private static String counted(long count, String one, String many) {
        return count + " " + (count == 1 ? one : many);
    }

    static String words(JsonNode plan) {
        JsonNode nights = plan.path("nights");
        long units =
                nights.valueStream()
                        .flatMap(n -> n.path("units").valueStream())
                        .map(u -> u.path("unit").asString())
                        .distinct()
                        .count();
        String zone = nights.isEmpty() ? "UTC" : zoneOf(nights.path(nights.size() - 1));
        StringBuilder text = head(nights, plan, units, zone);
        if (!plan.path("pinned").isEmpty()) {
            text.append(
                    Output.paragraph(
                            "  Pinned: ",
                            plan.path("pinned").properties().stream()
                                            .map(p -> p.getKey() + " to " + p.getValue().asString())
                                            .collect(Collectors.joining(", "))
                                    + "."));
        }
        if (!plan.path("excluded").isEmpty()) {
            text.append(
                    Output.paragraph(
                            "  Excluded: ",
                            plan.path("excluded")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .collect(Collectors.joining(", "))
                                    + "."));
        }
        if (!nights.isEmpty()) {
            text.append('\n').append(overview(nights).text());
        }
        if (!plan.path("nowhere").isEmpty()) {
            text.append("\n  Fits nowhere:\n");
            plan.path("nowhere")
                    .forEach(
                            n ->
                                    text.append(
                                            Output.paragraph(
                                                    "  %s  ".formatted(n.path("unit").asString()),
                                                    n.path("sentence").asString())));
        }
        return text.toString();
    }

    private static StringBuilder head(JsonNode nights, JsonNode plan, long units, String zone) {
        StringBuilder text =
                new StringBuilder(
                        nights.isEmpty()
                                ? "%s: no window holds anything of it.%n"
                                        .formatted(plan.path("plan").asString())
                                : summary(plan, units, nights, zone));
        return text;
    }

    private static String summary(JsonNode plan, long units, JsonNode nights, String zone) {
        return Output.paragraph(
                plan.path("plan").asString() + "  ",
                "%s in %s (at least %d), begins with %s, ends %s %s"
                        .formatted(
                                counted(units, "unit", "units"),
                                counted(nights.size(), "night", "nights"),
                                plan.path("nightsAtLeast").asInt(),
                                plan.path("begins").asString(),
                                clock(plan.path("ends"), zone, DAY_AND_CLOCK),
                                zone));
    }

    private static Table overview(JsonNode nights) {
        Table table =
                new Table()
                        .column("night", 0)
                        .column("parts", 1)
                        .column("sites", 2)
                        .column("begins", 3)
                        .column("likely end", 4)
                        .column("9 of 10 by", 5)
                        .column("in time", 1)
                        .column("clock", 6);
        nights.forEach(n -> addNight(n, table));
        return table;
    }

    private static void addNight(JsonNode n, Table table) {
        String zone = zoneOf(n);
        table.row(
                n.path("night").asString(),
                n.path("units").size(),
                n.path("units")
                        .valueStream()
                        .map(u -> u.path("siteTitle").asString())
                        .distinct()
                        .count(),
                clock(n.path("begins"), zone, CLOCK),
                clock(n.path("median"), zone, CLOCK),
                clock(n.path("p90"), zone, CLOCK),
                "%d %%".formatted(Math.round(100 * n.path("chance").asDouble())),
                zone);
    }

    /** One night: who, when and why, what is dark. */
    static String words(JsonNode night, boolean why) {
        String zone = zoneOf(night);
        StringBuilder text = nightHead(night, zone);
        Table table =
                new Table()
                        .column("from", 0)
                        .column("to", 0)
                        .column("unit", 0)
                        .column("site", 3)
                        .column("pilot", 1)
                        .column("part", 1)
                        .column("releases", 1)
                        .column("in time", 2)
                        .column("window", 5)
                        .column("clock", 4);
        night.path("units").forEach(u -> addPart(u, table));
        text.append(table.text());
        if (!night.path("decides").asString().isEmpty()) {
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  Decides: ", night.path("decides").asString() + "."));
        }
        if (!night.path("serves").isEmpty()) {
            text.append(
                    Output.paragraph("  Dark at some time: ", some(night.path("serves"), "; ")));
        }
        if (!night.path("cutsOff").isEmpty()) {
            text.append(
                    Output.paragraph("  Cut off meanwhile: ", some(night.path("cutsOff"), ", ")));
        }
        if (why) {
            text.append("\n  Why not earlier:\n");
            night.path("units")
                    .valueStream()
                    .filter(u -> u.path("heldBack").asBoolean())
                    .forEach(
                            u ->
                                    text.append(
                                            Output.paragraph(
                                                    "  %s %s  "
                                                            .formatted(
                                                                    clock(
                                                                            u.path("begins"),
                                                                            u.path("zone")
                                                                                    .asString(),
                                                                            CLOCK),
                                                                    u.path("unit").asString()),
                                                    u.path("why").asString() + ".")));
        }
        return text.toString();
    }

    private static void addPart(JsonNode u, Table table) {
        table.row(
                clock(u.path("begins"), u.path("zone").asString(), CLOCK),
                clock(u.path("ends"), u.path("zone").asString(), CLOCK),
                u.path("unit").asString(),
                u.path("siteTitle").asString(),
                u.path("pilot").asBoolean() ? "pilot" : "",
                u.path("parts").asInt() > 1
                        ? "%d of %d".formatted(u.path("part").asInt(), u.path("parts").asInt())
                        : "",
                releases(u),
                "%d %%".formatted(Math.round(100 * u.path("chance").asDouble())),
                clock(u.path("opens"), u.path("zone").asString(), CLOCK)
                        + "-"
                        + clock(u.path("closes"), u.path("zone").asString(), CLOCK),
                u.path("zone").asString());
    }

    private static StringBuilder nightHead(JsonNode night, String zone) {
        StringBuilder text = new StringBuilder(likelyEnd(night, zone)).append('\n');
        return text;
    }

    private static String likelyEnd(JsonNode night, String zone) {
        return Output.paragraph(
                "Night of %s  ".formatted(night.path("night").asString()),
                "%s, ends likely at %s, in 9 of 10 cases by %s %s, inside its windows in %d of 100"
                        .formatted(
                                counted(night.path("units").size(), "part", "parts"),
                                clock(night.path("median"), zone, CLOCK),
                                clock(night.path("p90"), zone, CLOCK),
                                zone,
                                Math.round(100 * night.path("chance").asDouble())));
    }

    private static String releases(JsonNode u) {
        int moves = u.path("way").size();
        return "%s > %s%s"
                .formatted(
                        u.path("from").asString(),
                        u.path("way").path(moves - 1).asString(),
                        moves > 1 ? ", %d moves".formatted(moves) : "");
    }

    /** The first few, and how many more there are: the whole list is in --output json. */
    private static String some(JsonNode texts, String between) {
        String first =
                texts.valueStream()
                        .limit(MOST_NAMED)
                        .map(JsonNode::asString)
                        .collect(Collectors.joining(between));
        return texts.size() > MOST_NAMED
                ? "%s; and %d more.".formatted(first, texts.size() - MOST_NAMED)
                : first + ".";
    }

    /** How much of a plan's nights is shown. */
    static final class Shown {
        @Option(names = "--night", paramLabel = "DATE", description = "one night, unit by unit")
        String night = "";

        @Option(names = "--why", description = "why each unit does not begin earlier")
        boolean why;
    }

    @Command(
            name = "nights",
            description =
                    "A plan over its nights: what is done when, who is dark, how likely each night"
                            + " is to end in time.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan nights winter",
                "  calmstep plan nights winter --night 2026-11-25 --why"
            })
    static final class Nights implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Mixin Shown shown = new Shown();

        @Override
        public Integer call() {
            return tell(
                    common,
                    common.service().get("/api/plans/%s/nights".formatted(Service.encode(name))),
                    shown,
                    List.of());
        }
    }

    /**
     * @param left what goes nowhere for another reason than windows, as sentences
     */
    static int tell(Common common, JsonNode plan, Shown shown, List<String> left) {
        String date = shown.night;
        List<JsonNode> nights =
                plan.path("nights")
                        .valueStream()
                        .filter(n -> date.isEmpty() || n.path("night").asString().equals(date))
                        .toList();
        if (!date.isEmpty() && nights.isEmpty()) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "The plan does nothing in the night of \"%s\"; its nights: %s."
                            .formatted(
                                    date,
                                    plan.path("nights")
                                            .valueStream()
                                            .map(n -> n.path("night").asString())
                                            .collect(Collectors.joining(", "))));
        }
        List<String> told = new ArrayList<>();
        if (date.isEmpty()) {
            told.add(words(plan));
        }
        if (!date.isEmpty() || shown.why || nights.size() == 1) {
            nights.forEach(n -> told.add(words(n, shown.why)));
        }
        if (!left.isEmpty()) {
            told.add(
                    left.stream()
                            .map(sentence -> Output.paragraph("  - ", sentence))
                            .collect(Collectors.joining("", "  Cannot go there at all:\n", "")));
        }
        common.out().print(date.isEmpty() ? plan : nights.getFirst(), String.join("\n", told));
        return plan.path("nowhere").isEmpty() && left.isEmpty() ? 0 : Problem.STOPS;
    }

    @Command(
            name = "wish",
            description =
                    "Pin, move or leave out units, order sites, begin otherwise; says what that"
                            + " costs.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan wish winter --pin rt-dunmere-1=2026-11-26 --what-if"
            })
    static final class Wish implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(
                names = "--pin",
                paramLabel = "UNIT=DATE",
                description = "this unit in the night of that date")
        Map<String, String> pin = new LinkedHashMap<>();

        @Option(names = "--unpin", paramLabel = "UNIT", description = "where it fits again")
        List<String> unpin = List.of();

        @Option(names = "--exclude", paramLabel = "UNIT", description = "stays as it is")
        List<String> exclude = List.of();

        @Option(names = "--include", paramLabel = "UNIT", description = "is done after all")
        List<String> include = List.of();

        @Option(
                names = "--site-order",
                paramLabel = "SITE",
                split = ",",
                description = "these sites first, in this order")
        List<String> siteOrder = List.of();

        @Option(
                names = "--begin",
                paramLabel = "WHEN",
                description = "next-window, now, or a moment")
        String begins = "";

        @Option(
                names = "--asks",
                paramLabel = "WHO",
                description = "for which units somebody is asked at the gate: each, pilots, nobody")
        String asks = "";

        @Option(names = "--what-if", description = "only say what it would cost")
        boolean whatIf;

        @Override
        public Integer call() {
            Map<String, Object> wanted =
                    new HashMap<>(
                            Map.of(
                                    "pin", pin, "unpin", unpin, "exclude", exclude, "include",
                                    include));
            if (!siteOrder.isEmpty()) {
                wanted.put("siteOrder", siteOrder);
            }
            if (!begins.isEmpty()) {
                wanted.put("begins", begins);
            }
            if (!asks.isEmpty()) {
                wanted.put("asks", asks);
            }
            JsonNode answer =
                    common.service()
                            .post(
                                    "/api/plans/%s/nights?keep=%b"
                                            .formatted(Service.encode(name), !whatIf),
                                    wanted);
            StringBuilder text = new StringBuilder(whatIf ? "If so:\n" : "So it is:\n");
            answer.path("costs")
                    .forEach(
                            cost ->
                                    text.append(
                                            Output.paragraph(
                                                    "  - ",
                                                    cost.asString()
                                                            + (cost.asString().endsWith(".")
                                                                    ? ""
                                                                    : "."))));
            common.out()
                    .print(
                            answer,
                            (answer.path("costs").isEmpty()
                                            ? "Nothing changes by it.\n"
                                            : text.toString())
                                    + "\n"
                                    + words(answer.path("nights")));
            return 0;
        }
    }

    @Command(
            name = "calendar",
            description = "The nights as a calendar file (iCalendar), of one site or of all.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan calendar winter --site dunmere --to dunmere.ics"
            })
    static final class Calendar implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(names = "--site", paramLabel = "SITE")
        String site = "";

        @Option(
                names = "--to",
                required = true,
                paramLabel = "FILE",
                description = "written; what is there is replaced")
        Path file = Path.of("");

        @Override
        public Integer call() {
            String calendar =
                    common.service()
                            .getText(
                                    "/api/plans/%s/calendar?site=%s"
                                            .formatted(Service.encode(name), Service.encode(site)));
            GivenFile.write(file, calendar);
            System.out.printf(
                    "%s: %s.%n",
                    file,
                    counted(
                            calendar.lines().filter("BEGIN:VEVENT"::equals).count(),
                            "event",
                            "events"));
            return 0;
        }
    }

    @Command(
            name = "windows",
            description = "When sites may be disturbed; or take a windows file over.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet windows --import demo/windows.yaml",
                "  calmstep fleet windows dunmere --days 14"
            })
    static final class Windows implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "SITE", arity = "0..*", description = "none means all")
        List<String> sites = List.of();

        @Option(
                names = "--days",
                paramLabel = "N",
                description = "how far ahead (default: 7)",
                defaultValue = "7")
        int days = 7;

        @Option(
                names = "--import",
                paramLabel = "FILE",
                description = "this windows file holds from now on")
        @Nullable Path given;

        @Option(names = "--file", description = "print the windows file that holds")
        boolean file;

        @Override
        public Integer call() {
            if (given != null || file) {
                JsonNode holds =
                        given != null
                                ? common.service()
                                        .putText(
                                                "/api/windows?file="
                                                        + Service.encode(given.toString()),
                                                "application/yaml",
                                                GivenFile.read(given))
                                : common.service().get("/api/windows");
                common.out().print(holds, file ? holds.path("text").asString() : imported(holds));
                return 0;
            }
            JsonNode open =
                    common.service()
                            .get(
                                    "/api/windows/open?days=%d%s"
                                            .formatted(
                                                    days,
                                                    sites.stream()
                                                            .map(s -> "&site=" + Service.encode(s))
                                                            .collect(Collectors.joining())));
            Table table =
                    new Table()
                            .column("night", 0)
                            .column("site", 1)
                            .column("kind", 4)
                            .column("opens", 2)
                            .column("closes", 2)
                            .column("clock", 3);
            open.forEach(
                    w ->
                            table.row(
                                    w.path("night").asString(),
                                    w.path("siteTitle").asString(),
                                    w.path("kind").asString(),
                                    clock(
                                            w.path("opens"),
                                            w.path("zone").asString(),
                                            DAY_AND_CLOCK),
                                    clock(
                                            w.path("closes"),
                                            w.path("zone").asString(),
                                            DAY_AND_CLOCK),
                                    w.path("zone").asString()));
            common.out()
                    .print(
                            open,
                            table,
                            "No site may be disturbed in the next %d days. Give windows with: calmstep fleet windows --import FILE"
                                    .formatted(days));
            return 0;
        }

        private static String imported(JsonNode holds) {
            JsonNode limits = holds.path("limits");
            String without = withoutWindow(holds);
            return Output.paragraph(
                    "",
                    "%s: %s, %s; at once %d over all, %d a site, %d a family; %s, watched for %d h.%s"
                            .formatted(
                                    holds.path("fileName").asString(),
                                    counted(holds.path("rules").asLong(), "rule", "rules"),
                                    counted(holds.path("freezes").asLong(), "freeze", "freezes"),
                                    limits.path("atOnce").asInt(),
                                    limits.path("atOnceASite").asInt(),
                                    limits.path("atOnceAFamily").asInt(),
                                    pilots(limits),
                                    limits.path("soakSeconds").asLong() / 3600,
                                    noWindow(without)));
        }

        private static Object noWindow(String without) {
            return without.isEmpty()
                    ? ""
                    : " Without any window in the next 92 days: " + without + ".";
        }

        private static String pilots(JsonNode limits) {
            return counted(
                    limits.path("pilots").asLong(), "pilot of each kind", "pilots of each kind");
        }

        private static String withoutWindow(JsonNode holds) {
            String without =
                    holds.path("without")
                            .valueStream()
                            .map(JsonNode::asString)
                            .collect(Collectors.joining(", "));
            return without;
        }
    }
}
