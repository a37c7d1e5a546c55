package calmstep.cli;

import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "releases",
        description = "What the makers published.",
        mixinStandardHelpOptions = true,
        subcommands = {ReleasesCommands.Import.class, ReleasesCommands.ListAll.class})
final class ReleasesCommands {
    @Command(
            name = "import",
            description =
                    "Import a catalogue file; refused as a whole when anything is wrong in it.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep releases import demo/catalogue/osmer-r6.yaml"
            })
    static final class Import implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Override
        public Integer call() {
            JsonNode done =
                    common.service()
                            .postText(
                                    "/api/catalogues?file=" + Service.encode(file.toString()),
                                    "application/yaml",
                                    GivenFile.read(file));
            common.out().print(done, words(done));
            return 0;
        }

        private static String words(JsonNode done) {
            return "%s: %s releases, %s rules, issued %s"
                    .formatted(
                            done.path("title").asString(),
                            done.path("releases").asInt(),
                            done.path("rules").asInt(),
                            done.path("issued").asString());
        }
    }

    @Command(
            name = "list",
            description = "All releases, newest first.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode releases = common.service().get("/api/releases");
            Table table =
                    new Table()
                            .column("family", 2)
                            .column("release", 0)
                            .column("channel", 1)
                            .column("date", 3)
                            .column("to know", 6)
                            .column("on shelf", 4)
                            .column("may rest", 5);
            releases.forEach(
                    r ->
                            table.row(
                                    r.path("family").asString(),
                                    r.path("version").asString(),
                                    r.path("channel").asString()
                                            + (r.path("recommended").asBoolean()
                                                    ? ", recommended"
                                                    : ""),
                                    r.path("date").asString(),
                                    r.path("notes")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .findFirst()
                                            .orElse(""),
                                    "%s of %s"
                                            .formatted(
                                                    r.path("images")
                                                            .valueStream()
                                                            .filter(
                                                                    i ->
                                                                            i.path("onShelf")
                                                                                    .asBoolean())
                                                            .count(),
                                                    r.path("images").size()),
                                    r.path("mayRest").asBoolean() ? "yes" : "no"));
            common.out()
                    .print(
                            releases,
                            table,
                            "No catalogue is here. Import one: calmstep releases import FILE");
            return 0;
        }
    }
}
