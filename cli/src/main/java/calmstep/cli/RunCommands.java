package calmstep.cli;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "run",
        description =
                "Carry a plan out: start, watch, say go, hold, retry, rescue, return, judge, set"
                        + " aside.",
        mixinStandardHelpOptions = true,
        subcommands = {
            RunCommands.Start.class,
            RunCommands.ListAll.class,
            RunCommands.Show.class,
            RunCommands.Staging.class,
            WatchCommand.class,
            RunCommands.Go.class,
            RunCommands.Hold.class,
            RunCommands.Resume.class,
            RunCommands.Turn.class,
            RunCommands.Retry.class,
            RunCommands.Rescue.class,
            RunCommands.Return.class,
            RunCommands.Replace.class,
            RunCommands.Skip.class,
            RunCommands.Accept.class,
            RunCommands.Refuse.class,
            RunCommands.TakeIn.class,
            RunCommands.Abandon.class,
            RunCommands.SetAside.class,
            RunCommands.Talk.class,
            RunCommands.Mail.class
        })
final class RunCommands {
    /** What is left of a line behind hop, step and state; the record holds the whole. */
    private static final int SEEN_WIDTH = 58;

    static String words(JsonNode r) {
        StringBuilder text =
                new StringBuilder(
                        "%s  %s   started %s by %s%s%n"
                                .formatted(
                                        r.path("name").asString(),
                                        r.path("state").asString(),
                                        Ago.date(r.path("startedAt")),
                                        r.path("startedBy").asString(),
                                        r.path("finishedAt").isNull()
                                                ? ""
                                                : ", finished " + Ago.date(r.path("finishedAt"))));
        if (!r.path("heldWhy").asString("").isEmpty()) {
            text.append(Output.paragraph("HELD: ", r.path("heldWhy").asString() + "."))
                    .append(
                            "Let it go on: calmstep run resume %s%n"
                                    .formatted(r.path("name").asString()));
        }
        r.path("units")
                .forEach(
                        u -> {
                            text.append(
                                    "%n  %s  %s > %s   %s%n"
                                            .formatted(
                                                    u.path("device").asString(),
                                                    u.path("from").asString(),
                                                    u.path("to").asString(),
                                                    u.path("state").asString()));
                            if (!u.path("copy").isNull()) {
                                text.append("  ")
                                        .append(ShelfCommands.Copies.words(u.path("copy")))
                                        .append(System.lineSeparator());
                            }
                            Table table =
                                    new Table()
                                            .column("hop", 1)
                                            .column("step", 0)
                                            .column("state", 0)
                                            .column("seen", 3);
                            addSteps(u, table);
                            table.text()
                                    .lines()
                                    .forEach(line -> text.append("    ").append(line).append('\n'));
                            addGate(u, text, r);
                            addTurn(u, text);
                            addHeld(u, text, r);
                            addDoubt(u, text, r);
                            addTrouble(u, text, r);
                        });
        return text.toString();
    }

    private static void addTrouble(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode trouble = u.path("trouble");
        if (!trouble.isNull()) {
            text.append("    STUCK at %s%n".formatted(trouble.path("step").asString()))
                    .append(
                            Output.paragraph(
                                    "      expected: ", trouble.path("expected").asString()))
                    .append(Output.paragraph("      seen: ", trouble.path("seen").asString()))
                    .append(Output.paragraph("      to do: ", trouble.path("remedy").asString()));
            trouble.path("lastLines")
                    .forEach(line -> text.append("      | ").append(line.asString()).append('\n'));
            trouble.path("ways")
                    .forEach(
                            way ->
                                    text.append(
                                            "      calmstep run %s %s %s%s%n"
                                                    .formatted(
                                                            way.asString(),
                                                            r.path("name").asString(),
                                                            u.path("device").asString(),
                                                            switch (way.asString()) {
                                                                case "set-aside",
                                                                        "return",
                                                                        "skip" ->
                                                                        " --why" + " WHY";
                                                                case "replace" ->
                                                                        " --serial"
                                                                                + " NUMBER"
                                                                                + " --why"
                                                                                + " WHY";
                                                                default -> "";
                                                            })));
        }
    }

    private static void addDoubt(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode doubt = u.path("doubt");
        if (isDoubtful(u)) {
            text.append(
                    "    WAITS FOR YOUR JUDGEMENT. It was watched, and this is odd:%n".formatted());
            doubt.path("odd")
                    .forEach(odd -> text.append(Output.paragraph("      - ", odd.asString())));
            text.append(
                    "      calmstep run accept %s %s --why WHY%n      calmstep run refuse %1$s %2$s --why WHY%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        } else if (!doubt.isNull()) {
            addAccepted(text, doubt);
        }
    }

    private static void addAccepted(StringBuilder text, JsonNode doubt) {
        text.append(
                Output.paragraph(
                        "    ACCEPTED by %s: ".formatted(doubt.path("by").asString()),
                        "%s (%s)"
                                .formatted(
                                        doubt.path("why").asString(),
                                        String.join(
                                                "; ",
                                                doubt.path("odd")
                                                        .valueStream()
                                                        .map(JsonNode::asString)
                                                        .toList()))));
    }

    private static void addHeld(JsonNode u, StringBuilder text, JsonNode r) {
        if (u.path("held").asBoolean()) {
            text.append(
                    "    HELD by a person. Let it go on: calmstep run resume %s %s%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        }
        if (u.path("state").asString().equals("held")) {
            text.append(
                    "    Say when: calmstep run turn %s %s --begin next-window%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        }
    }

    private static void addTurn(JsonNode u, StringBuilder text) {
        JsonNode turn = u.path("turn");
        if (turn.path("inWork").asBoolean()) {
            String likely =
                    u.path("state").asString().equals("stuck")
                            ? "it waits for a word"
                            : "%d %% likely to end by then"
                                    .formatted(Math.round(100 * turn.path("chance").asDouble()));
            text.append(
                    "    In work until %s; %s.%n".formatted(Ago.date(turn.path("closes")), likely));
        }
        if (!turn.path("waitsFor").asString("").isEmpty()) {
            text.append(Output.paragraph("    WAITS: ", turn.path("waitsFor").asString() + "."));
        }
    }

    private static void addGate(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode gate = u.path("gate");
        if (!gate.isNull() && !gate.path("open").asBoolean()) {
            text.append(Output.paragraph("    AT THE GATE: ", gate.path("question").asString()))
                    .append(
                            "    Say go with: calmstep run go %s %s%n"
                                    .formatted(
                                            r.path("name").asString(),
                                            u.path("device").asString()));
        }
    }

    private static void addSteps(JsonNode u, Table table) {
        u.path("steps")
                .forEach(
                        s -> {
                            String seen =
                                    s.path("waiting").asString("").isEmpty()
                                            ? s.path("seen").asString("")
                                            : s.path("waiting").asString();
                            table.row(
                                    s.path("hop").asInt(),
                                    s.path("name").asString(),
                                    s.path("state").asString(),
                                    seen.length() > SEEN_WIDTH
                                            ? seen.substring(0, SEEN_WIDTH - 1) + "…"
                                            : seen);
                        });
    }

    /** Whether something odd about it waits for a person. */
    static boolean isDoubtful(JsonNode unit) {
        return !unit.path("doubt").isNull() && unit.path("doubt").path("by").isNull();
    }

    static int exitCode(JsonNode run) {
        return run.path("units")
                        .valueStream()
                        .anyMatch(
                                u ->
                                        List.of("stuck", "returned", "set-aside")
                                                .contains(u.path("state").asString()))
                ? Problem.STOPS
                : 0;
    }

    @Command(
            name = "start",
            description = "Start a run of an approved plan.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep run start monday"})
    static final class Start implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "PLAN")
        String plan = "";

        @Override
        public Integer call() {
            JsonNode run = common.service().post("/api/runs", Map.of("plan", plan));
            common.out()
                    .print(
                            run,
                            "The run %s is %s with %d units. Watch it with: calmstep run watch %s"
                                    .formatted(
                                            plan,
                                            run.path("state").asString(),
                                            run.path("units").size(),
                                            plan));
            return 0;
        }
    }

    @Command(
            name = "list",
            description = "All runs, newest first.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode runs = common.service().get("/api/runs");
            Table table =
                    new Table()
                            .column("run", 0)
                            .column("state", 1)
                            .column("units", 2)
                            .column("settled", 3)
                            .column("started", 4)
                            .column("by", 5);
            runs.forEach(r -> addRow(r, table));
            common.out()
                    .print(runs, table, "There was no run yet. Start one: calmstep run start PLAN");
            return 0;
        }

        private static void addRow(JsonNode r, Table table) {
            table.row(
                    r.path("name").asString(),
                    r.path("state").asString(),
                    r.path("units").asLong(),
                    r.path("states").path("settled").asLong(),
                    Ago.of(r.path("startedAt")),
                    r.path("startedBy").asString());
        }
    }

    @Command(
            name = "show",
            description = "How a run stands, step by step.",
            mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Override
        public Integer call() {
            JsonNode run = common.service().get("/api/runs/" + Service.encode(name));
            common.out().print(run, words(run));
            return exitCode(run);
        }
    }

    @Command(
            name = "staging",
            description =
                    "How far the images of a run are on their way, device by device, with rate and"
                            + " time left.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Exit code 1 says that one is stuck. Example, on the demo:",
                "  calmstep run staging tonight"
            })
    static final class Staging implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Override
        public Integer call() {
            JsonNode hops =
                    common.service().get("/api/runs/%s/staging".formatted(Service.encode(name)));
            Table table =
                    new Table()
                            .column("device", 0)
                            .column("hop", 2)
                            .column("release", 1)
                            .column("bytes", 3)
                            .column("state", 0)
                            .column("seen", 4);
            hops.forEach(
                    hop ->
                            table.row(
                                    hop.path("device").asString(),
                                    hop.path("hop").asInt(),
                                    hop.path("release").asString(),
                                    Output.bytes(hop.path("sizeBytes").asLong()),
                                    hop.path("state").asString(),
                                    seen(hop)));
            common.out().print(hops, table, "The run %s brings no images.".formatted(name));
            if (common.out().isForPeople()) {
                System.out.printf(
                        "%n%d of %d proven on their devices.%n",
                        hops.valueStream()
                                .filter(hop -> hop.path("state").asString().equals("proven"))
                                .count(),
                        hops.size());
            }
            return hops.valueStream().anyMatch(hop -> hop.path("state").asString().equals("stuck"))
                    ? Problem.STOPS
                    : 0;
        }

        private static String seen(JsonNode hop) {
            String words =
                    hop.path("copy").isNull()
                            ? hop.path("words").asString("")
                            : ShelfCommands.Copies.progress(hop.path("copy"));
            return words.length() > SEEN_WIDTH ? words.substring(0, SEEN_WIDTH - 1) + "…" : words;
        }
    }

    /** A person's word about a run. */
    abstract static class AboutRun implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN", index = "0")
        String name = "";

        Integer say(String what, Map<String, ?> body, String words) {
            JsonNode run =
                    common.service()
                            .post("/api/runs/%s/%s".formatted(Service.encode(name), what), body);
            common.out().print(run, words);
            return 0;
        }
    }

    /** A person's word about one unit of a run. */
    abstract static class AboutUnit extends AboutRun {
        @Parameters(paramLabel = "UNIT", index = "1")
        String unit = "";

        Integer sayOfUnit(String what, Map<String, ?> body, String words) {
            return say(
                    "units/%s/%s".formatted(Service.encode(unit), what),
                    body,
                    words.formatted(unit));
        }
    }

    /** A word about a run, about its units at one site or of one night, or about one of them. */
    abstract static class AboutRunOrUnit extends AboutRun {
        @Parameters(paramLabel = "UNIT", index = "1", arity = "0..1")
        String unit = "";

        @Option(names = "--site", paramLabel = "SITE", description = "all its units at this site")
        String site = "";

        @Option(
                names = "--night",
                paramLabel = "DATE",
                description =
                        "all its units of this night, as \"plan nights\" names it: the evening in"
                                + " which the window opens")
        Optional<LocalDate> night = Optional.empty();

        final boolean isAboutAll() {
            return unit.isEmpty() && site.isEmpty() && night.isEmpty();
        }

        Integer sayOfEither(String what, String words) {
            if (!unit.isEmpty() && !(site.isEmpty() && night.isEmpty())) {
                throw new Problem(
                        Problem.WRONG_CALL, "Expected a unit, or a site or night; saw both.");
            }
            if (!unit.isEmpty()) {
                return say(
                        "units/%s/%s".formatted(Service.encode(unit), what),
                        Map.of(),
                        words.formatted(unit));
            }
            List<String> asked =
                    Stream.concat(
                                    site.isEmpty()
                                            ? Stream.empty()
                                            : Stream.of("site=" + Service.encode(site)),
                                    night.map(date -> "night=" + date).stream())
                            .toList();
            String about =
                    Stream.concat(
                                    site.isEmpty() ? Stream.empty() : Stream.of(site),
                                    night.map("the night of %s"::formatted).stream())
                            .collect(Collectors.joining(", "));
            return isAboutAll()
                    ? say(what, Map.of(), words.formatted(name))
                    : say(
                            "%s?%s".formatted(what, String.join("&", asked)),
                            Map.of(),
                            words.formatted(about));
        }
    }

    @Command(
            name = "go",
            description =
                    "Say go at the gate of a unit: its service will be interrupted as the gate"
                            + " says.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run go monday rt-dunmere-1",
                "  calmstep run go monday --site dunmere"
            })
    static final class Go extends AboutRunOrUnit {
        @Option(names = "--all", description = "all that stand at their gate now")
        boolean all;

        @Override
        public Integer call() {
            if (isAboutAll() && !all) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "Expected for whom: a unit, --site SITE, --night DATE, or --all that stand"
                                + " at their gate.");
            }
            return sayOfEither("go", "Go for %s.");
        }
    }

    @Command(
            name = "hold",
            description =
                    "Hold a run, its units at one site or of one night, or one unit: steps in"
                            + " flight end, nothing new begins.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run hold tonight sw-ostrand-1",
                "  calmstep run hold monday --night 2026-12-07"
            })
    static final class Hold extends AboutRunOrUnit {
        @Override
        public Integer call() {
            return sayOfEither("hold", "%s is held.");
        }
    }

    @Command(
            name = "resume",
            description = "Let a run, its units at one site or of one night, or one unit go on.",
            mixinStandardHelpOptions = true)
    static final class Resume extends AboutRunOrUnit {
        @Override
        public Integer call() {
            return sayOfEither("resumption", "%s goes on.");
        }
    }

    @Command(
            name = "abandon",
            description =
                    "End a run for good: steps in flight end, nothing new begins, each unit stays"
                            + " as it stands.",
            mixinStandardHelpOptions = true)
    static final class Abandon extends AboutRun {
        @Option(names = "--why", required = true, description = "kept in the record")
        String why = "";

        @Override
        public Integer call() {
            return say("abandonment", Map.of("why", why), "%s is abandoned.".formatted(name));
        }
    }

    @Command(
            name = "turn",
            description =
                    "Say when a unit begins its next part, where the plan's night does not fit any"
                            + " more.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run turn tonight rt-dunmere-1 --begin next-window"
            })
    static final class Turn extends AboutUnit {
        @Option(
                names = "--begin",
                required = true,
                paramLabel = "WHEN",
                description =
                        "now, next-window (of its site, long enough for it), or a moment such as"
                                + " 2026-11-24T01:15:00Z")
        String begin = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "turn",
                    Map.of("begins", begin),
                    "%s begins "
                            + (begin.equals("now")
                                    ? "now"
                                    : begin.equals("next-window")
                                            ? "in the next window of its site"
                                            : "at " + begin)
                            + ".");
        }
    }

    @Command(
            name = "retry",
            description = "Try the failed step of a unit again; it looks first.",
            mixinStandardHelpOptions = true)
    static final class Retry extends AboutUnit {
        @Override
        public Integer call() {
            return sayOfUnit("retry", Map.of(), "%s is tried again.");
        }
    }

    @Command(
            name = "rescue",
            description =
                    "Start a device that stopped in its boot loader from memory, over its console"
                            + " line; then it has to start by itself.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run rescue tonight rt-eskholm-1 --with osmer-r6c-2.6.3.img"
            })
    static final class Rescue extends AboutUnit {
        @Option(
                names = "--with",
                paramLabel = "IMAGE",
                description =
                        "an image on the shelf; left out: its maker's recovery image, what it ran"
                                + " before, or what it was to run")
        String image = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "rescue",
                    image.isEmpty() ? Map.of() : Map.of("image", image),
                    "%s is being rescued.");
        }
    }

    /** A word about a unit that needs a reason. */
    abstract static class AboutUnitWithWhy extends AboutUnit {
        @Option(names = "--why", required = true, description = "kept in the record")
        String why = "";

        Integer sayWhy(String what, String words) {
            return sayOfUnit(what, Map.of("why", why), words);
        }
    }

    @Command(
            name = "return",
            description =
                    "Take a unit that is stuck behind its boot choice back to what it ran, its"
                            + " configuration with it.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run return tonight rt-dunmere-1 --why \"the crew office has no"
                        + " telephone on it\""
            })
    static final class Return extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("return", "%s goes back.");
        }
    }

    @Command(
            name = "replace",
            description =
                    "Say that another box stands where a unit is stuck: it is met, brought to the"
                            + " release of the hop, given the backed-up configuration, and proven.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "The new box needs the name's address and login; everything else comes from the"
                        + " run.",
                "",
                "Example, on the demo:",
                "  calmstep run replace tonight rt-dunmere-1 --serial OS-93310 --why \"its power"
                        + " supply burnt\""
            })
    static final class Replace extends AboutUnitWithWhy {
        @Option(
                names = "--serial",
                required = true,
                paramLabel = "NUMBER",
                description = "what the new box says of itself, and its label too")
        String serial = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "replacement",
                    Map.of("serial", serial, "why", why),
                    "Another box takes the place of %s.");
        }
    }

    @Command(
            name = "skip",
            description =
                    "Leave the failed step of a unit out, where nothing behind it builds upon it.",
            mixinStandardHelpOptions = true)
    static final class Skip extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("skip", "%s goes on without that step.");
        }
    }

    @Command(
            name = "accept",
            description = "Bear what was odd about a unit when its watch was over.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run accept tonight wc-dunmere --why \"the access point in the loft was"
                        + " taken down\""
            })
    static final class Accept extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("acceptance", "%s is borne as it is.");
        }
    }

    @Command(
            name = "refuse",
            description =
                    "Do not bear what was odd about a unit: it is stuck then, and can still go"
                            + " back.",
            mixinStandardHelpOptions = true)
    static final class Refuse extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("refusal", "%s is not borne as it is.");
        }
    }

    @Command(
            name = "mail",
            description = "Who is told of a run by mail, site by site, and whether it was sent.",
            mixinStandardHelpOptions = true)
    static final class Mail implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Override
        public Integer call() {
            JsonNode mails =
                    common.service().get("/api/runs/%s/mail".formatted(Service.encode(name)));
            Table table =
                    new Table()
                            .column("site", 0)
                            .column("occasion", 1)
                            .column("contacts", 1)
                            .column("sent", 0)
                            .column("trouble", 3);
            mails.forEach(
                    mail ->
                            table.row(
                                    mail.path("site").asString(),
                                    mail.path("occasion").asString(),
                                    contacts(mail.path("contacts")),
                                    mail.path("sentAt").isNull()
                                            ? "not yet"
                                            : Ago.of(mail.path("sentAt")),
                                    mail.path("trouble").asString()));
            common.out()
                    .print(
                            mails,
                            table,
                            "Nobody is told of %s by mail: its sites have no contacts, or no mail server is set."
                                    .formatted(name));
            return mails.valueStream().anyMatch(mail -> !mail.path("trouble").asString().isEmpty())
                    ? Problem.STOPS
                    : 0;
        }

        /** The first of them, and how many more; {@code --output json} names all. */
        private static String contacts(JsonNode all) {
            return all.isEmpty()
                    ? ""
                    : all.get(0).asString()
                            + (all.size() > 1 ? " and %d more".formatted(all.size() - 1) : "");
        }
    }

    @Command(
            name = "set-aside",
            description = "Take a unit out of the run as it stands.",
            mixinStandardHelpOptions = true)
    static final class SetAside extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("set-aside", "%s is set aside.");
        }
    }

    @Command(
            name = "take-in",
            description =
                    "Take a unit back in that was set aside; it goes on where it stood, and looks"
                            + " first.",
            mixinStandardHelpOptions = true)
    static final class TakeIn extends AboutUnit {
        @Override
        public Integer call() {
            return sayOfUnit("take-in", Map.of(), "%s is back in.");
        }
    }

    @Command(
            name = "talk",
            description = "Everything typed to a unit's device and answered, secrets masked.",
            mixinStandardHelpOptions = true)
    static final class Talk extends AboutUnit {
        @Override
        public Integer call() {
            JsonNode talk =
                    common.service()
                            .get(
                                    "/api/runs/%s/units/%s/talk"
                                            .formatted(Service.encode(name), Service.encode(unit)));
            StringBuilder text = new StringBuilder();
            talk.forEach(t -> addLine(t, text));
            common.out().print(talk, text.toString());
            return 0;
        }

        private static void addLine(JsonNode t, StringBuilder text) {
            text.append(
                    t.path("direction").asString().equals("typed")
                            ? "%s  typed: %s%n"
                                    .formatted(Ago.clock(t.path("at")), t.path("text").asString())
                            : t.path("text").asString().indent(4));
        }
    }
}
