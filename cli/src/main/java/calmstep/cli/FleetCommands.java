package calmstep.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "fleet",
        description = "The devices: as they are described, and as they show themselves.",
        mixinStandardHelpOptions = true,
        subcommands = {
            FleetCommands.Import.class,
            FleetCommands.Export.class,
            FleetCommands.ListAll.class,
            FleetCommands.Exposure.class,
            FleetDevice.Show.class,
            FleetCommands.Changes.class,
            FleetCommands.Read.class,
            FleetSetup.Login.class,
            FleetSetup.ForgetKey.class,
            FleetSetup.AsRead.class,
            FleetByHand.Set.class,
            FleetByHand.Site.class,
            FleetByHand.Undo.class,
            FleetByHand.Rename.class,
            FleetByHand.Retire.class,
            DiscoveryCommands.Range.class,
            DiscoveryCommands.Ranges.class,
            DiscoveryCommands.Search.class,
            DiscoveryCommands.Found.class,
            DiscoveryCommands.Accept.class,
            DiscoveryCommands.Drop.class,
            DiscoveryCommands.ForgetRange.class,
            ReachCommand.class,
            NightCommands.Windows.class,
            CheckCommands.class,
            FleetCommands.History.class
        })
final class FleetCommands {
    /** What a selection means, for the help of every command that takes one. */
    static final String WHERE =
            "which devices, as in: family:osmer-r6 site:dunmere,eskholm runs:<2.8 not tag:spare";

    @Command(
            name = "import",
            description =
                    "Import an inventory file (YAML, JSON, or CSV by its name), as a whole or not"
                            + " at all.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet import demo/inventory.yaml --preview"
            })
    static final class Import implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Option(names = "--preview", description = "only say what would be added and changed")
        boolean preview;

        @Override
        public Integer call() {
            JsonNode done =
                    common.service()
                            .postBytes(
                                    "/api/inventory?preview=%s&file=%s"
                                            .formatted(preview, Service.encode(file.toString())),
                                    file.toString().endsWith(".csv")
                                            ? "text/csv"
                                            : "application/yaml",
                                    GivenFile.bytes(file));
            common.out().print(done, ImportedWords.of(done, preview));
            return 0;
        }
    }

    @Command(
            name = "export",
            description =
                    "Write the inventory of a selection, as a file that can be imported again.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet export --as csv --where site:dunmere"
            })
    static final class Export implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(
                names = "--as",
                paramLabel = "FORMAT",
                description =
                        "yaml, csv or json (default: yaml); a table has no room for the parts of a"
                                + " device",
                defaultValue = "yaml")
        String as = "yaml";

        @Option(names = "--where", paramLabel = "SELECTION", description = WHERE)
        String where = "";

        @Override
        public Integer call() {
            System.out.print(
                    common.service()
                            .getText(
                                    "/api/inventory?as=%s&where=%s"
                                            .formatted(Service.encode(as), Service.encode(where))));
            return 0;
        }
    }

    @Command(
            name = "list",
            description =
                    "The fleet: who is behind a policy and by how much, who is exposed, who does"
                            + " not answer.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet list --where \"standing:behind exposed:*\""
            })
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(names = "--where", paramLabel = "SELECTION", description = WHERE)
        String where = "";

        @Option(
                names = "--policy",
                paramLabel = "POLICY",
                description =
                        "recommended, newest-general, one-behind, aged-90 (days), clears:ADVISORY,"
                                + " or a release (default: recommended)",
                defaultValue = "recommended")
        String policy = "recommended";

        @Override
        public Integer call() {
            JsonNode devices =
                    common.service()
                            .get(
                                    "/api/devices?where=%s&policy=%s"
                                            .formatted(
                                                    Service.encode(where), Service.encode(policy)));
            Table table =
                    new Table()
                            .column("device", 0)
                            .column("family", 6)
                            .column("site", 5)
                            .column("runs", 1)
                            .column("standing", 2)
                            .column("by", 3)
                            .column("way", 4)
                            .column("exposed to", 7)
                            .column("read", 8)
                            .column("to know", 9)
                            .told("to know");
            devices.forEach(
                    d ->
                            table.row(
                                    d.path("name").asString(),
                                    d.path("title").asString(),
                                    d.path("siteTitle").asString(),
                                    d.path("runs").asString("-"),
                                    d.path("standing").asString(),
                                    d.path("behindBy").asInt() == 0
                                            ? ""
                                            : d.path("behindBy").asInt(),
                                    d.path("way")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .collect(Collectors.joining(" > ")),
                                    d.path("exposed")
                                            .valueStream()
                                            .map(e -> e.path("id").asString())
                                            .collect(Collectors.joining(", ")),
                                    d.path("asWritten").asBoolean()
                                            ? "never"
                                            : Ago.of(d.path("readAt")),
                                    d.path("toKnow")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .collect(Collectors.joining("; "))));
            common.out()
                    .print(
                            devices,
                            table,
                            where.isEmpty()
                                    ? "The fleet is empty. Import an inventory file: calmstep fleet"
                                            + " import FILE"
                                    : "No device is meant by \"%s\".".formatted(where));
            return 0;
        }
    }

    @Command(
            name = "exposure",
            description = "Who is exposed to which advisory, and the smallest move out of it.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet exposure --where family:osmer-r6"
            })
    static final class Exposure implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(names = "--where", paramLabel = "SELECTION", description = WHERE)
        String where = "";

        @Override
        public Integer call() {
            JsonNode advisories =
                    common.service().get("/api/advisories?where=" + Service.encode(where));
            StringBuilder text = new StringBuilder();
            advisories.forEach(a -> addAdvisory(a, text));
            common.out()
                    .print(
                            advisories,
                            text.isEmpty()
                                    ? "No advisory is in the catalogues of these devices."
                                    : text.toString());
            return advisories.valueStream().anyMatch(a -> !a.path("devices").isEmpty())
                    ? Problem.STOPS
                    : 0;
        }

        private static void addAdvisory(JsonNode a, StringBuilder text) {
            head(text, a);
            Table table =
                    new Table()
                            .column("device", 0)
                            .column("site", 3)
                            .column("runs", 1)
                            .column("smallest way out", 0)
                            .column("restarts", 2)
                            .column("dark", 2)
                            .column("in the way", 4)
                            .told("in the way");
            a.path("devices").forEach(d -> addDevice(d, table));
            text.append(a.path("devices").isEmpty() ? "nobody has it\n" : table.text())
                    .append('\n');
        }

        private static void head(StringBuilder text, JsonNode a) {
            text.append(
                    Output.paragraph(
                            "%s  %s  "
                                    .formatted(
                                            a.path("id").asString(), a.path("severity").asString()),
                            "%s, of %s: %s. %s"
                                    .formatted(
                                            a.path("title").asString(),
                                            a.path("published").asString(),
                                            a.path("name").asString(),
                                            a.path("sentence").asString())));
        }

        private static void addDevice(JsonNode d, Table table) {
            table.row(
                    d.path("device").asString(),
                    d.path("siteTitle").asString(),
                    d.path("runs").asString(),
                    d.path("cure").isNull()
                            ? "none"
                            : d.path("way")
                                    .valueStream()
                                    .map(JsonNode::asString)
                                    .collect(Collectors.joining(" > ")),
                    d.path("cure").isNull() ? "" : d.path("restarts").asInt(),
                    d.path("cure").isNull() ? "" : Output.minutes(d.path("darkSeconds").asLong()),
                    d.path("obstacles")
                            .valueStream()
                            .map(JsonNode::asString)
                            .collect(Collectors.joining("; ")));
        }
    }

    @Command(
            name = "history",
            description =
                    "What was done to a device, newest first: copies, restarts, releases that were"
                            + " proven, who said go.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet history rt-eskholm-1"})
    static final class History implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            JsonNode entries =
                    common.service().get("/api/devices/%s/history".formatted(Service.encode(name)));
            Table table =
                    new Table()
                            .column("at", 0)
                            .column("run", 1)
                            .column("what", 0)
                            .column("took", 2)
                            .column("who", 0)
                            .column("words", 0);
            entries.forEach(e -> addRow(e, table));
            common.out().print(entries, table, "Nothing was done to %s yet.".formatted(name));
            return 0;
        }

        private static void addRow(JsonNode e, Table table) {
            table.row(
                    Ago.date(e.path("at")),
                    e.path("run").asString(),
                    e.path("what").asString(),
                    e.path("seconds").isNull() ? "" : e.path("seconds").asLong() + " s",
                    e.path("who").asString(),
                    Output.shortened(e.path("words").asString(), WORDS_WIDTH));
        }

        private static final int WORDS_WIDTH = 40;
    }

    @Command(
            name = "changes",
            description = "What changed on a device from one reading to the next.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet changes rt-dunmere-1"})
    static final class Changes implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            JsonNode all =
                    common.service().get("/api/devices/%s/changes".formatted(Service.encode(name)));
            StringBuilder text = new StringBuilder();
            all.forEach(c -> tellChanges(c, text));
            common.out()
                    .print(
                            all,
                            text.isEmpty()
                                    ? "Nothing changed between its readings, or it was read once at"
                                            + " most."
                                    : text.toString());
            return 0;
        }

        private static void tellChanges(JsonNode c, StringBuilder text) {
            text.append(
                    "%s, since %s%n"
                            .formatted(Ago.exactly(c.path("at")), Ago.exactly(c.path("since"))));
            c.path("changes")
                    .forEach(change -> text.append(Output.paragraph("  - ", change.asString())));
        }
    }

    @Command(
            name = "read",
            description =
                    "Read devices now: those named, or those of a selection; neither means all."
                            + " Ctrl-C ends it early and keeps what was read.",
            mixinStandardHelpOptions = true)
    static final class Read implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", arity = "0..*")
        List<String> names = List.of();

        @Option(names = "--where", paramLabel = "SELECTION", description = WHERE)
        String where = "";

        @Override
        public Integer call() throws InterruptedException {
            Service service = common.service();
            JsonNode job =
                    FollowedJob.toItsEnd(
                            service,
                            service.post("/api/readings", Map.of("devices", names, "where", where)),
                            "read");
            int failed = job.path("failed").asInt();
            common.out().print(job, words(job, failed));
            return failed == 0 ? 0 : Problem.STOPS;
        }

        private static String words(JsonNode job, int failed) {
            return "%s read, %s silent.%s"
                    .formatted(
                            job.path("done").asInt() - failed,
                            failed,
                            failed == 0 ? "" : " calmstep fleet list says why.");
        }
    }
}
