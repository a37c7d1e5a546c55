package calmstep.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "shelf",
        description = "The store of verified images.",
        mixinStandardHelpOptions = true,
        subcommands = {
            ShelfCommands.Add.class,
            ShelfCommands.ListAll.class,
            ShelfCommands.Copies.class,
            ShelfCommands.Missing.class,
            ShelfCommands.Quarantine.class,
            SourceCommands.Source.class,
            SourceCommands.ListAll.class,
            SourceCommands.News.class,
            SourceCommands.Fetch.class,
            SourceCommands.Forget.class,
            BundleCommands.Make.class,
            BundleCommands.Take.class,
            BundleCommands.Key.class,
            BundleCommands.Trust.class
        })
final class ShelfCommands {
    @Command(
            name = "add",
            description =
                    "Take image files in, or zip archives that hold them; size and SHA-256 must be"
                            + " as a catalogue publishes them.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep shelf add build/demo/images/*.img"})
    static final class Add implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE", arity = "1..*")
        List<Path> files = List.of();

        @Override
        public Integer call() {
            Service service = common.service();
            int refused = 0;
            for (Path file : files) {
                try {
                    JsonNode images =
                            service.putFile(
                                    "/api/shelf/images/"
                                            + Service.encode(file.getFileName().toString()),
                                    file);
                    common.out()
                            .print(
                                    images,
                                    images.valueStream()
                                            .map(
                                                    image ->
                                                            "%s  %s, SHA-256 as published, for %s %s"
                                                                    .formatted(
                                                                            image.path("fileName")
                                                                                    .asString(),
                                                                            Output.bytes(
                                                                                    image.path(
                                                                                                    "sizeBytes")
                                                                                            .asLong()),
                                                                            image.path("family")
                                                                                    .asString(),
                                                                            image.path("release")
                                                                                    .asString()))
                                            .collect(Collectors.joining("\n")));
                } catch (Problem problem) {
                    if (problem.exitCode() != Problem.STOPS) {
                        throw problem;
                    }
                    System.err.println(problem.getMessage());
                    refused++;
                }
            }
            return refused == 0 ? 0 : Problem.STOPS;
        }
    }

    @Command(
            name = "copies",
            description = "The copies to devices that are under way, with rate and time left.",
            mixinStandardHelpOptions = true)
    static final class Copies implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode copies = common.service().get("/api/shelf/copies");
            Table table =
                    new Table()
                            .column("device", 0)
                            .column("file", 1)
                            .column("over", 3)
                            .column("there", 0)
                            .column("of", 2)
                            .column("rate", 0)
                            .column("left", 0);
            copies.forEach(copy -> addRow(copy, table));
            common.out().print(copies, table, "No copy is under way.");
            return 0;
        }

        private static void addRow(JsonNode copy, Table table) {
            table.row(
                    copy.path("device").asString(),
                    copy.path("fileName").asString(),
                    copy.path("over").asString(),
                    share(copy),
                    Output.bytes(copy.path("sizeBytes").asLong()),
                    rate(copy),
                    left(copy));
        }

        static String words(JsonNode copy) {
            return "copying %s over %s: %s"
                    .formatted(
                            copy.path("fileName").asString(),
                            copy.path("over").asString(),
                            progress(copy));
        }

        static String progress(JsonNode copy) {
            return "%s of %s at %s, %s left"
                    .formatted(
                            share(copy),
                            Output.bytes(copy.path("sizeBytes").asLong()),
                            rate(copy),
                            left(copy));
        }

        private static String share(JsonNode copy) {
            return "%s %%"
                    .formatted(
                            100
                                    * copy.path("sentBytes").asLong()
                                    / Math.max(1, copy.path("sizeBytes").asLong()));
        }

        private static String rate(JsonNode copy) {
            long rate = copy.path("bytesPerSecond").asLong();
            return rate < 1_000_000
                    ? "%s kB/s".formatted(Math.round(rate / 1e3))
                    : Output.bytes(rate) + "/s";
        }

        private static String left(JsonNode copy) {
            return copy.path("secondsLeft").isNull()
                    ? "not known yet"
                    : Output.minutes(copy.path("secondsLeft").asLong());
        }
    }

    @Command(
            name = "list",
            description = "The images on the shelf.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode images = common.service().get("/api/shelf/images");
            Table table =
                    new Table()
                            .column("file", 0)
                            .column("family", 2)
                            .column("release", 1)
                            .column("size", 3)
                            .column("taken in", 4)
                            .column("by", 5);
            images.forEach(
                    i ->
                            table.row(
                                    i.path("fileName").asString(),
                                    i.path("family").asString(),
                                    i.path("release").asString(),
                                    Output.bytes(i.path("sizeBytes").asLong()),
                                    Ago.of(i.path("takenInAt")),
                                    i.path("takenInBy").asString()));
            common.out()
                    .print(
                            images,
                            table,
                            "The shelf is empty. Take images in: calmstep shelf add FILE…");
            return 0;
        }
    }

    @Command(
            name = "missing",
            description = "The images that a plan needs and the shelf does not have.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep shelf missing monday"})
    static final class Missing implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "PLAN")
        String plan = "";

        @Override
        public Integer call() {
            JsonNode images =
                    common.service()
                            .get("/api/plans/%s/missing-images".formatted(Service.encode(plan)));
            Table table =
                    new Table()
                            .column("file", 0)
                            .column("family", 2)
                            .column("release", 1)
                            .column("size", 3)
                            .column("in archive", 2)
                            .column("for", 4);
            images.forEach(
                    i ->
                            table.row(
                                    i.path("fileName").asString(),
                                    i.path("family").asString(),
                                    i.path("release").asString(),
                                    Output.bytes(i.path("sizeBytes").asLong()),
                                    i.path("archive").asString(""),
                                    i.path("devices")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .collect(Collectors.joining(", "))));
            common.out()
                    .print(images, table, "Nothing is missing for the plan %s.".formatted(plan));
            return images.isEmpty() ? 0 : Problem.STOPS;
        }
    }

    @Command(
            name = "quarantine",
            description = "Files that were refused, and why.",
            mixinStandardHelpOptions = true)
    static final class Quarantine implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode files = common.service().get("/api/shelf/quarantine");
            Table table =
                    new Table()
                            .column("file", 0)
                            .column("brought", 3)
                            .column("expected", 1)
                            .column("seen", 2);
            files.forEach(file -> addRow(file, table));
            common.out().print(files, table, "Nothing is in quarantine.");
            return 0;
        }

        private static void addRow(JsonNode file, Table table) {
            table.row(
                    file.path("fileName").asString(),
                    Ago.of(file.path("at")) + " by " + file.path("broughtBy").asString(),
                    shortened(file.path("expected").asString()),
                    shortened(file.path("seen").asString()));
        }

        private static String shortened(String text) {
            return text.length() > 24 ? text.substring(0, 24) + "…" : text;
        }
    }
}
