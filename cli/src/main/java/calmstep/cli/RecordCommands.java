package calmstep.cli;

import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(name = "record", description = "The finished accounts of runs.", mixinStandardHelpOptions = true,
        subcommands = {RecordCommands.ListAll.class, RecordCommands.Show.class, RecordCommands.Save.class})
final class RecordCommands {
    @Command(name = "list", description = "All records, newest first.", mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Override
        public Integer call() {
            JsonNode records = common.service().get("/api/records");
            Table table = new Table().column("run", 0).column("settled", 1).column("made", 2).column("SHA-256", 3);
            records.forEach(r -> table.row(r.path("run").asString(), "%d of %d".formatted(r.path("settled").asInt(), r.path("units").asInt()), Ago.date(r.path("madeAt")), r.path("sha256").asString().substring(0, 16) + "…"));
            common.out().print(records, table, "No run is finished yet; a record is made when one is.");
            return 0;
        }
    }

    @Command(name = "show", description = "What a run came to, device by device.", mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Override
        public Integer call() {
            JsonNode record = common.service().get("/api/records/" + Service.encode(name));
            StringBuilder text = new StringBuilder("%s   approved by %s, finished %s%n%n".formatted(name, record.path("plan").path("approvedBy").asString(), Ago.date(record.path("outcome").path("finishedAt"))));
            Table table = new Table().column("device", 0).column("before", 1).column("wanted", 3).column("after", 1).column("outcome", 0).column("backups", 4).column("changes", 5);
            for (int i = 0; i < record.path("units").size(); i++) {
                JsonNode unit = record.path("units").get(i);
                JsonNode outcome = record.path("outcome").path("units").get(i);
                long cautions = outcome.path("steps").valueStream().flatMap(s -> s.path("changes").valueStream()).filter(c -> c.path("weight").asString().equalsIgnoreCase("caution")).count();
                table.row(unit.path("device").asString(), outcome.path("from").asString(), outcome.path("to").asString(), unit.path("after").path("components").path("system").asString("-"),
                        unit.path("state").asString(), unit.path("backups").size(), cautions == 0 ? "nothing lost" : cautions + " to look at");
            }
            table.text().lines().forEach(line -> text.append("  ").append(line).append('\n'));
            text.append("%n  The chain of its %d events %s.%n".formatted(record.path("events").size(), record.path("chainWhole").asBoolean() ? "is whole" : "IS BROKEN"));
            common.out().print(record, text.toString());
            return 0;
        }
    }

    @Command(name = "save", description = "Save a record as a page (.html) or as JSON (.json).", mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep record save monday --to monday.html"})
    static final class Save implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Option(names = "--to", required = true, paramLabel = "FILE")
        Path file = Path.of("");

        @Override
        public Integer call() {
            boolean page = file.toString().endsWith(".html");
            if (!page && !file.toString().endsWith(".json")) {
                throw new Problem(Problem.WRONG_CALL, "Expected a file that ends in .html or .json, saw \"%s\".".formatted(file));
            }
            String text = common.service().getText("/api/records/%s%s".formatted(Service.encode(name), page ? "/page" : ""));
            GivenFile.write(file, text);
            System.err.printf("Written to %s.%n", file);
            return 0;
        }
    }
}
