package calmstep.cli;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "rehearse",
        description =
                "Play a plan against stand-ins made from what was read of its devices, before the"
                        + " night. No device is touched.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples, on the demo:",
            "  calmstep rehearse tonight",
            "  calmstep rehearse tonight --fault rt-eskholm-1=stops-in-boot-loader --fault"
                    + " site:dunmere=slow-link"
        })
final class RehearseCommand implements Callable<Integer> {
    private static final DateTimeFormatter DAY_AND_CLOCK =
            DateTimeFormatter.ofPattern("d MMM HH:mm", Locale.ENGLISH);
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("HH:mm", Locale.ROOT);

    /** A step is told when it took so much longer than usual. */
    private static final double LONG = 1.5;

    private static final double WORTH_TELLING_SECONDS = 20;
    private static final int MOST_TOLD = 8;
    private static final Map<String, String> HOW =
            Map.of(
                    "in-time",
                    "in time",
                    "late",
                    "late, inside its window",
                    "over",
                    "OVER its window",
                    "stuck",
                    "STUCK",
                    "held",
                    "HELD, its window closed",
                    "not-begun",
                    "not begun");

    @Mixin Common common = new Common();

    @Parameters(paramLabel = "PLAN", arity = "0..1")
    @Nullable String plan;

    @Option(
            names = "--fault",
            paramLabel = "WHERE=FAULT",
            description =
                    "what is to go wrong: a device or site:NAME, and the fault; may be repeated")
    List<String> faults = List.of();

    @Option(
            names = "--pace",
            paramLabel = "N",
            description = "how much faster than by day stand-ins copy and start; 30 unless said")
    @Nullable Integer pace;

    @Option(names = "--faults", description = "what can be asked to go wrong")
    boolean tellFaults;

    @Option(names = "--list", description = "the rehearsals of the plan so far")
    boolean list;

    @Option(names = "--show", paramLabel = "NUMBER", description = "an earlier one")
    @Nullable Integer show;

    @Override
    public Integer call() throws InterruptedException {
        if (tellFaults) {
            JsonNode known = common.service().get("/api/rehearsal-faults");
            Table table = new Table().column("fault", 0).column("what it does", 1);
            known.forEach(f -> table.row(f.path("name").asString(), f.path("sentence").asString()));
            common.out().print(known, table, "");
            return 0;
        }
        String of = requiredPlan();
        String path = "/api/plans/%s/rehearsals".formatted(Service.encode(of));
        return list
                ? tellAll(of, path)
                : tell(show == null ? play(path) : common.service().get(path + "/" + show));
    }

    private String requiredPlan() {
        String of =
                Optional.ofNullable(plan)
                        .orElseThrow(
                                () ->
                                        new Problem(
                                                Problem.WRONG_CALL,
                                                "Expected the name of a plan, saw none. All plans:"
                                                        + " calmstep plan list",
                                                List.of()));
        return of;
    }

    private int tellAll(String of, String path) {
        JsonNode all = common.service().get(path);
        Table table =
                new Table()
                        .column("number", 0)
                        .column("state", 0)
                        .column("units", 1)
                        .column("settled", 1)
                        .column("asked", 5)
                        .column("when", 3)
                        .column("by", 4)
                        .column("plan since", 2);
        all.forEach(r -> addRow(r, table));
        common.out().print(all, table, "The plan was not rehearsed yet: calmstep rehearse " + of);
        return 0;
    }

    private static void addRow(JsonNode r, Table table) {
        table.row(
                r.path("number").asInt(),
                r.path("state").asString(),
                r.path("outcome").path("units").size(),
                settled(r),
                asked(r),
                Ago.of(r.path("startedAt")),
                r.path("startedBy").asString(),
                r.path("planChanged").asBoolean() ? "changed" : "the same");
    }

    private JsonNode play(String path) throws InterruptedException {
        Service service = common.service();
        Map<String, Object> asked = new HashMap<>();
        asked.put("faults", faults.stream().map(RehearseCommand::fault).toList());
        if (pace != null) {
            asked.put("pace", pace);
        }
        JsonNode begun = service.post(path, asked);
        FollowedJob.toItsEnd(
                service,
                service.get("/api/jobs/" + begun.path("job").asLong()),
                "units at their end;");
        JsonNode now = awaitEnd(service, path, begun);
        return now;
    }

    private static JsonNode awaitEnd(Service service, String path, JsonNode begun)
            throws InterruptedException {
        JsonNode now = service.get(path + "/" + begun.path("number").asInt());
        while (now.path("state").asString().equals("under-way")) {
            Thread.sleep(200);
            now = service.get(path + "/" + begun.path("number").asInt());
        }
        return now;
    }

    /** One place may have several of them. */
    private static Map<String, String> fault(String asked) {
        String[] parts = asked.split("=", 2);
        if (parts.length < 2) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "Expected --fault WHERE=FAULT, saw \"%s\".".formatted(asked),
                    List.of());
        }
        return Map.of("where", parts[0], "fault", parts[1]);
    }

    private int tell(JsonNode rehearsal) {
        common.out().print(rehearsal, words(rehearsal));
        boolean good =
                rehearsal.path("state").asString().equals("finished")
                        && settled(rehearsal) == rehearsal.path("outcome").path("units").size()
                        && parts(rehearsal).stream()
                                .noneMatch(p -> p.path("how").asString().equals("over"));
        return good ? 0 : Problem.STOPS;
    }

    private static List<JsonNode> parts(JsonNode rehearsal) {
        return rehearsal
                .path("outcome")
                .path("nights")
                .valueStream()
                .flatMap(n -> n.path("parts").valueStream())
                .toList();
    }

    private static long settled(JsonNode rehearsal) {
        return rehearsal
                .path("outcome")
                .path("units")
                .valueStream()
                .filter(u -> u.path("state").asString().equals("settled"))
                .count();
    }

    private static String asked(JsonNode rehearsal) {
        return rehearsal
                .path("asked")
                .valueStream()
                .map(f -> f.path("where").asString() + " " + f.path("fault").asString())
                .collect(Collectors.joining(", "));
    }

    static String words(JsonNode r) {
        JsonNode outcome = r.path("outcome");
        String took = took(r);
        StringBuilder text = head(r, outcome, took);
        if (!r.path("asked").isEmpty()) {
            text.append(Output.paragraph("  Asked to go wrong: ", asked(r) + "."));
        }
        if (r.path("planChanged").asBoolean()) {
            text.append(
                    Output.paragraph(
                            "  ",
                            "The plan was changed since: what was played is not what is planned"
                                    + " now."));
        }
        if (!outcome.path("broken").asString("").isEmpty()) {
            text.append(
                    Output.paragraph(
                            "  Not played to its end: ", outcome.path("broken").asString()));
        }
        outcome.path("nights")
                .forEach(
                        night ->
                                text.append('\n')
                                        .append("  ")
                                        .append(night.path("words").asString())
                                        .append("\n")
                                        .append(table(night).indent(4)));
        outcome.path("units").forEach(unit -> text.append(trouble(unit)));
        text.append(longer(outcome));
        if (!outcome.path("notPlayed").isEmpty()) {
            text.append("\n  Not played:\n");
            outcome.path("notPlayed")
                    .valueStream()
                    .limit(MOST_TOLD)
                    .forEach(
                            n ->
                                    text.append(
                                            Output.paragraph(
                                                    "    %s  "
                                                            .formatted(n.path("device").asString()),
                                                    n.path("why").asString() + ".")));
            int more = outcome.path("notPlayed").size() - MOST_TOLD;
            text.append(
                    more > 0
                            ? "    and %s more; all of them with --output json%n".formatted(more)
                            : "");
        }
        text.append(
                "\n  Everything typed and answered: calmstep run talk %s UNIT%n"
                        .formatted(outcome.path("run").asString("")));
        return text.toString();
    }

    private static StringBuilder head(JsonNode r, JsonNode outcome, String took) {
        StringBuilder text =
                new StringBuilder(
                        "%s, rehearsal %s   %s   %s of %s units settled%s%n"
                                .formatted(
                                        r.path("plan").asString(),
                                        r.path("number").asInt(),
                                        r.path("state").asString(),
                                        settled(r),
                                        outcome.path("units").size(),
                                        took));
        return text;
    }

    private static String took(JsonNode r) {
        String took =
                r.path("finishedAt").isNull()
                        ? ""
                        : ", played in "
                                + Output.minutes(
                                        Duration.between(
                                                        Instant.parse(
                                                                r.path("startedAt").asString()),
                                                        Instant.parse(
                                                                r.path("finishedAt").asString()))
                                                .toSeconds());
        return took;
    }

    private static String table(JsonNode night) {
        Table table =
                new Table()
                        .column("unit", 0)
                        .column("releases", 2)
                        .column("planned", 0)
                        .column("played", 0)
                        .column("window ends", 3)
                        .column("clock", 4)
                        .column("how", 0);
        night.path("parts").forEach(p -> addPart(p, table));
        return table.text();
    }

    private static void addPart(JsonNode p, Table table) {
        table.row(
                p.path("device").asString(),
                "%s > %s".formatted(p.path("from").asString(), p.path("to").asString()),
                span(p, "plannedBegin", "plannedEnd"),
                span(p, "playedBegin", "playedEnd"),
                closes(p),
                p.path("zone").asString(),
                HOW.getOrDefault(p.path("how").asString(), p.path("how").asString()));
    }

    private static String span(JsonNode part, String from, String to) {
        return part.path(from).isNull() ? "" : clock(part, from) + "-" + clock(part, to);
    }

    /** With its day where that is not the day on which the part begins. */
    private static String closes(JsonNode part) {
        ZoneId zone = ZoneId.of(part.path("zone").asString());
        boolean sameDay =
                LocalDate.ofInstant(Instant.parse(part.path("closes").asString()), zone)
                        .equals(
                                LocalDate.ofInstant(
                                        Instant.parse(part.path("plannedBegin").asString()), zone));
        return Instant.parse(part.path("closes").asString())
                .atZone(zone)
                .format(sameDay ? CLOCK : DAY_AND_CLOCK);
    }

    private static String clock(JsonNode part, String field) {
        return part.path(field).isNull()
                ? ""
                : Instant.parse(part.path(field).asString())
                        .atZone(ZoneId.of(part.path("zone").asString()))
                        .format(CLOCK);
    }

    private static String trouble(JsonNode unit) {
        JsonNode trouble = unit.path("trouble");
        if (trouble.isNull() || trouble.isMissingNode()) {
            return waits(unit);
        }
        return "%n  %s is stuck at %s%n"
                        .formatted(unit.path("device").asString(), trouble.path("step").asString())
                + Output.paragraph("    expected: ", trouble.path("expected").asString())
                + Output.paragraph("    seen: ", trouble.path("seen").asString())
                + Output.paragraph("    to do: ", trouble.path("remedy").asString());
    }

    private static String waits(JsonNode unit) {
        return unit.path("waitsFor").asString("").isEmpty()
                ? ""
                : "\n"
                        + Output.paragraph(
                                "  %s is %s: "
                                        .formatted(
                                                unit.path("device").asString(),
                                                unit.path("state").asString()),
                                unit.path("waitsFor").asString() + ".");
    }

    /**
     * Copies and starts, which go by the stand-ins' clocks; a restart's order is told together with
     * the start.
     */
    private static String longer(JsonNode outcome) {
        List<String> steps =
                outcome.path("units").valueStream().flatMap(unit -> longerOf(unit)).toList();
        return steps.isEmpty()
                ? ""
                : "\n  Took longer than usual:\n"
                        + steps.stream()
                                .limit(MOST_TOLD)
                                .map(line -> "    " + line + "\n")
                                .collect(Collectors.joining());
    }

    private static Stream<String> longerOf(JsonNode unit) {
        return unit.path("steps")
                .valueStream()
                .filter(
                        s ->
                                s.path("step").asString().equals("stage")
                                        || s.path("step").asString().equals("come-back"))
                .flatMap(s -> longer(unit, s).stream());
    }

    private static Optional<String> longer(JsonNode unit, JsonNode step) {
        boolean starts = step.path("step").asString().equals("come-back");
        List<JsonNode> together =
                unit.path("steps")
                        .valueStream()
                        .filter(
                                s ->
                                        s.path("hop").asInt() == step.path("hop").asInt()
                                                && (s.equals(step)
                                                        || (starts
                                                                && s.path("step")
                                                                        .asString()
                                                                        .equals("restart"))))
                        .toList();
        if (together.stream()
                .anyMatch(s -> s.path("seconds").isNull() || s.path("expected").isNull())) {
            return Optional.empty();
        }
        double seconds = together.stream().mapToDouble(s -> s.path("seconds").asDouble()).sum();
        double expected = together.stream().mapToDouble(s -> s.path("expected").asDouble()).sum();
        return seconds < LONG * expected || seconds - expected < WORTH_TELLING_SECONDS
                ? Optional.empty()
                : Optional.of(
                        "%s, hop %s, %s: %s, usually %s"
                                .formatted(
                                        unit.path("device").asString(),
                                        step.path("hop").asInt(),
                                        starts ? "restart until it is back" : "stage",
                                        Output.minutes(Math.round(seconds)),
                                        Output.minutes(Math.round(expected))));
    }
}
