package calmstep.cli;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "dialect",
        description = "How a family of devices is spoken to.",
        mixinStandardHelpOptions = true,
        subcommands = DialectCommands.Check.class)
final class DialectCommands {
    private static final int WIDTH = 100;

    @Command(
            name = "check",
            description =
                    "Check a dialect file, and try it on a recorded session or a live device: what"
                            + " each pattern takes from each answer. Nothing is changed.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "A recorded session is a text: a line that begins with \">> \" was typed, what"
                        + " follows is what came.",
                "",
                "Examples, on the demo:",
                "  calmstep dialect check demo/dialects/tarnel-t2.yaml",
                "  calmstep dialect check demo/dialects/tarnel-t2.yaml --device sw-ostrand-1"
            })
    static final class Check implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @ArgGroup @Nullable On on;

        @Option(names = "--all", description = "Also the commands that the session does not have.")
        boolean all;

        /** What it is tried on. */
        static final class On {
            @Option(names = "--session", paramLabel = "FILE", description = "A recorded session.")
            @Nullable Path session;

            @Option(
                    names = "--device",
                    paramLabel = "DEVICE",
                    description = "A device of the fleet; it is read with this dialect.")
            @Nullable String device;
        }

        @Override
        public Integer call() {
            Map<String, String> tried =
                    new HashMap<>(Map.of("file", file.toString(), "text", GivenFile.read(file)));
            if (on != null && on.session != null) {
                tried.put("session", GivenFile.read(on.session));
            }
            if (on != null && on.device != null) {
                tried.put("device", on.device);
            }
            JsonNode result = common.service().post("/api/dialects/check", tried);
            common.out().print(result, words(result));
            return result.path("good").asBoolean() ? 0 : Problem.STOPS;
        }

        private String words(JsonNode result) {
            StringBuilder text =
                    new StringBuilder(
                            "%s: %s, no mistake in the text.%n"
                                    .formatted(file, result.path("title").asString()));
            if (on == null) {
                return text.append(
                                "Try it on what a device says: --session FILE, or --device DEVICE.")
                        .toString();
            }
            List<JsonNode> recorded =
                    result.path("commands")
                            .valueStream()
                            .filter(c -> c.path("recorded").asBoolean())
                            .toList();
            recorded.forEach(command -> told(command, text));
            List<String> missing =
                    result.path("commands")
                            .valueStream()
                            .filter(c -> !c.path("recorded").asBoolean())
                            .map(
                                    c ->
                                            "  %-22s %s"
                                                    .formatted(
                                                            c.path("use").asString(),
                                                            c.path("send").asString()))
                            .toList();
            if (!missing.isEmpty()) {
                text.append(
                        all
                                ? "%nNot tried, since the session does not have it:%n%s%n"
                                        .formatted(String.join("\n", missing))
                                : "%nNot tried: %s commands that the session does not have; --all names them.%n"
                                        .formatted(missing.size()));
            }
            if (!result.path("unknown").isEmpty()) {
                text.append("%nTyped in the session, and nothing of the dialect:%n".formatted());
                result.path("unknown")
                        .forEach(typed -> text.append("  %s%n".formatted(typed.asString())));
            }
            if (!result.path("trouble").isNull()) {
                JsonNode trouble = result.path("trouble");
                text.append(
                        "%nThe session ended before its time. Expected: %s. Seen: %s. %s%n"
                                .formatted(
                                        trouble.path("expected").asString(),
                                        trouble.path("seen").asString(),
                                        trouble.path("remedy").asString()));
                trouble.path("lastLines")
                        .forEach(line -> text.append("  | %s%n".formatted(line.asString())));
            }
            long bad = recorded.stream().filter(Check::isBad).count();
            return text.append(
                            result.path("good").asBoolean()
                                    ? "%nEverything that was tried works.".formatted()
                                    : "%n%s of %s commands that were tried do not give what a run needs."
                                            .formatted(bad, recorded.size()))
                    .toString();
        }

        private static boolean isBad(JsonNode command) {
            return !command.path("refused").asString("").isEmpty()
                    || command.path("taken")
                            .valueStream()
                            .anyMatch(t -> t.path("missing").asBoolean());
        }

        private static void told(JsonNode command, StringBuilder text) {
            text.append(
                    "%n%s  (%s)%n"
                            .formatted(
                                    command.path("send").asString(),
                                    command.path("use").asString()));
            String refused = command.path("refused").asString("");
            if (!refused.isEmpty()) {
                text.append("  refused: %s%n".formatted(refused));
            }
            command.path("taken").forEach(taken -> tellTaken(taken, text));
        }

        private static void tellTaken(JsonNode taken, StringBuilder text) {
            String what = taken.path("what").asString();
            if (taken.path("values").isEmpty()) {
                text.append(
                        "  %-20s %s%n"
                                .formatted(
                                        what,
                                        taken.path("missing").asBoolean()
                                                ? "NOTHING, and a run needs it"
                                                : "nothing"));
            }
            for (JsonNode value : taken.path("values")) {
                text.append(cut("  %-20s %s".formatted(what, value.asString()))).append('\n');
                what = "";
            }
        }

        private static String cut(String line) {
            return line.length() <= WIDTH ? line : line.substring(0, WIDTH - 1) + "…";
        }
    }
}
