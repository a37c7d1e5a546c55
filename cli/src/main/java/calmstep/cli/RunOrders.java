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

/** What a person says to a run or to one unit of it while it goes on. */
final class RunOrders {
    private RunOrders() {}

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

    /** A word about a unit that needs a reason. */
    abstract static class AboutUnitWithWhy extends AboutUnit {
        @Option(names = "--why", required = true, description = "kept in the record")
        String why = "";

        Integer sayWhy(String what, String words) {
            return sayOfUnit(what, Map.of("why", why), words);
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
            common.out().print(sayOfMany(what), words.formatted(isAboutAll() ? name : about()));
            return 0;
        }

        private String about() {
            return Stream.concat(
                            site.isEmpty() ? Stream.empty() : Stream.of(site),
                            night.map("the night of %s"::formatted).stream())
                    .collect(Collectors.joining(", "));
        }

        /** Of the whole run, or of its units at one site or of one night. */
        final JsonNode sayOfMany(String what) {
            List<String> asked =
                    Stream.concat(
                                    site.isEmpty()
                                            ? Stream.empty()
                                            : Stream.of("site=" + Service.encode(site)),
                                    night.map(date -> "night=" + date).stream())
                            .toList();
            return common.service()
                    .post(
                            "/api/runs/%s/%s%s"
                                    .formatted(
                                            Service.encode(name),
                                            what,
                                            asked.isEmpty() ? "" : "?" + String.join("&", asked)),
                            Map.of());
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
            return unit.isEmpty() ? goForMany() : sayOfEither("go", "Go for %s.");
        }

        /** How many went, and who still waits: they may have come to their gate meanwhile. */
        private int goForMany() {
            JsonNode before = common.service().get("/api/runs/%s".formatted(Service.encode(name)));
            List<String> waited = atGate(before);
            JsonNode after = sayOfMany("go");
            List<String> wait = atGate(after);
            List<String> went = waited.stream().filter(one -> !wait.contains(one)).toList();
            common.out().print(after, words(went, wait));
            return 0;
        }

        private static String words(List<String> went, List<String> wait) {
            return "Go for %s: %s. %s"
                    .formatted(
                            went.size(),
                            String.join(", ", went),
                            wait.isEmpty()
                                    ? "Nobody waits at a gate."
                                    : "At their gate wait: %s.".formatted(String.join(", ", wait)));
        }

        private static List<String> atGate(JsonNode run) {
            return run.path("units")
                    .valueStream()
                    .filter(
                            u ->
                                    !u.path("gate").isNull()
                                            && !u.path("gate").path("open").asBoolean())
                    .filter(
                            u ->
                                    !List.of("settled", "returned", "set-aside")
                                            .contains(u.path("state").asString()))
                    .map(u -> u.path("device").asString())
                    .toList();
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
            name = "end",
            description =
                    "End a run of which nothing is open any more: its last unit was set aside, and"
                            + " none is taken back in.",
            mixinStandardHelpOptions = true)
    static final class End extends AboutRun {
        @Override
        public Integer call() {
            return say("end", Map.of(), "%s is finished.".formatted(name));
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

        @Option(
                names = "--why",
                description = "why it begins outside the windows of its site; needed where it does",
                defaultValue = "")
        String why = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "turn",
                    Map.of("begins", begin, "why", why),
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
            name = "write-contacts",
            description =
                    "Write something for the contacts of the sites that a unit concerns; it stands"
                            + " in their next mail. Any other reason stays with colleagues.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run write-contacts tonight rt-dunmere-1 --text \"The part comes on"
                        + " Monday.\""
            })
    static final class WriteContacts extends AboutUnit {
        @Option(names = "--text", required = true, description = "as they are to read it")
        String text = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "word-for-contacts", Map.of("text", text), "The next mail about %s has it.");
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
            description =
                    "Everything typed to a unit's device and answered, and what it said on its"
                            + " console line while it restarted; secrets masked.",
            mixinStandardHelpOptions = true)
    static final class Talk extends AboutUnit {
        private static final int LOOKS_EVERY_MS = 1_000;

        @Option(
                names = "--follow",
                description = "go on while something is done to the unit, or it waits at its gate")
        boolean follow;

        private String before = "";

        @Override
        public Integer call() throws InterruptedException {
            int told = 0;
            while (follow && isUnderWay()) {
                List<JsonNode> talk = talk().valueStream().toList();
                talk.subList(told, talk.size()).forEach(this::tell);
                told = talk.size();
                Thread.sleep(LOOKS_EVERY_MS);
            }
            if (follow) {
                talk().valueStream().skip(told).forEach(this::tell);
            } else {
                JsonNode talk = talk();
                StringBuilder text = new StringBuilder();
                talk.forEach(t -> addLine(t, text));
                common.out().print(talk, text.toString());
            }
            return 0;
        }

        private JsonNode talk() {
            return common.service()
                    .get(
                            "/api/runs/%s/units/%s/talk"
                                    .formatted(Service.encode(name), Service.encode(unit)));
        }

        private boolean isUnderWay() {
            return common.service()
                    .get("/api/runs/%s".formatted(Service.encode(name)))
                    .path("units")
                    .valueStream()
                    .filter(u -> u.path("device").asString().equals(unit))
                    .anyMatch(
                            u ->
                                    !WatchCommand.waitsForAPerson(u.path("state").asString())
                                            && !RunWords.isDoubtful(u));
        }

        private void tell(JsonNode line) {
            StringBuilder text = new StringBuilder();
            addLine(line, text);
            System.out.print(common.out().isForPeople() ? text : line + "\n");
        }

        /** What is answered behind what was overheard must not be taken for more of that. */
        private void addLine(JsonNode t, StringBuilder text) {
            String said = t.path("text").asString();
            String direction = t.path("direction").asString();
            String at = Ago.clock(t.path("at"));
            text.append(
                    switch (direction) {
                        case "typed" -> "%s  typed: %s%n".formatted(at, said);
                        case "overheard" ->
                                "%s  on its console line:%n%s".formatted(at, said.indent(4));
                        default ->
                                before.equals("overheard")
                                        ? "%s  answered:%n%s".formatted(at, said.indent(4))
                                        : said.indent(4);
                    });
            before = direction;
        }
    }
}
