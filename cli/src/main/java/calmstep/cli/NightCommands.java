package calmstep.cli;

import java.nio.file.Path;
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
    private NightCommands() {}

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
            told.add(NightWords.words(plan));
        }
        if (!date.isEmpty() || shown.why || nights.size() == 1) {
            nights.forEach(n -> told.add(NightWords.words(n, shown.why)));
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

        @Option(
                names = "--when-odd",
                paramLabel = "WHAT",
                description =
                        "what becomes of a unit that is odd behind a restart and has another one"
                                + " before it: ask, or go-on, and it is judged at the end")
        String whenOdd = "";

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
            if (!whenOdd.isEmpty()) {
                wanted.put("whenOdd", whenOdd);
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
                                    + NightWords.words(answer.path("nights")));
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
                    NightWords.counted(
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
                                    "/api/windows/open?days=%s%s"
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
                                    NightWords.clock(
                                            w.path("opens"),
                                            w.path("zone").asString(),
                                            NightWords.DAY_AND_CLOCK),
                                    NightWords.clock(
                                            w.path("closes"),
                                            w.path("zone").asString(),
                                            NightWords.DAY_AND_CLOCK),
                                    w.path("zone").asString()));
            common.out()
                    .print(
                            open,
                            table,
                            "No site may be disturbed in the next %s days. Give windows with: calmstep fleet windows --import FILE"
                                    .formatted(days));
            return 0;
        }

        private static String imported(JsonNode holds) {
            JsonNode limits = holds.path("limits");
            return Output.paragraph(
                    "",
                    "%s: %s, %s; at once %s over all, %s a site, %s a family; %s, watched for %s h.%s"
                            .formatted(
                                    holds.path("fileName").asString(),
                                    NightWords.counted(
                                            holds.path("rules").asLong(), "rule", "rules"),
                                    NightWords.counted(
                                            holds.path("freezes").asLong(), "freeze", "freezes"),
                                    limits.path("atOnce").asInt(),
                                    limits.path("atOnceASite").asInt(),
                                    limits.path("atOnceAFamily").asInt(),
                                    pilots(limits),
                                    limits.path("soakSeconds").asLong() / 3600,
                                    noWindow(withoutWindow(holds))));
        }

        private static Object noWindow(String without) {
            return without.isEmpty()
                    ? ""
                    : " Without any window in the next 92 days: " + without + ".";
        }

        private static String pilots(JsonNode limits) {
            return NightWords.counted(
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
