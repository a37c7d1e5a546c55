package calmstep.cli;

import calmstep.core.evidence.EventChain;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;

@Command(
        name = "record",
        description = "The finished accounts of runs.",
        mixinStandardHelpOptions = true,
        subcommands = {
            RecordCommands.ListAll.class,
            RecordCommands.Show.class,
            RecordCommands.Save.class,
            RecordCommands.Verify.class,
            RecordCommands.Trail.class
        })
final class RecordCommands {
    @Command(
            name = "list",
            description = "All records, newest first.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode records = common.service().get("/api/records");
            Table table =
                    new Table()
                            .column("run", 0)
                            .column("settled", 1)
                            .column("made", 2)
                            .column("SHA-256", 3);
            records.forEach(r -> addRow(r, table));
            common.out()
                    .print(records, table, "No run is finished yet; a record is made when one is.");
            return 0;
        }

        private static void addRow(JsonNode r, Table table) {
            table.row(
                    r.path("run").asString(),
                    "%s of %s".formatted(r.path("settled").asInt(), r.path("units").asInt()),
                    Ago.date(r.path("madeAt")),
                    r.path("sha256").asString().substring(0, 16) + "…");
        }
    }

    @Command(
            name = "show",
            description = "What a run came to, device by device.",
            mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Override
        public Integer call() {
            JsonNode record = common.service().get("/api/records/" + Service.encode(name));
            JsonNode account =
                    common.service().get("/api/records/%s/account".formatted(Service.encode(name)));
            StringBuilder text =
                    new StringBuilder(
                            "%s   %s %s, approved by %s%s%n%n"
                                    .formatted(
                                            name,
                                            account.path("state").asString(),
                                            Ago.date(record.path("outcome").path("finishedAt")),
                                            record.path("plan").path("approvedBy").asString(),
                                            account.path("endedWhy").isNull()
                                                    ? ""
                                                    : "; " + account.path("endedWhy").asString()));
            units(account, record)
                    .lines()
                    .forEach(line -> text.append("  ").append(line).append('\n'));
            exceptions(account, text);
            text.append(
                    "%n  The chain of its %s events %s.%n"
                            .formatted(
                                    record.path("events").size(),
                                    record.path("chainWhole").asBoolean()
                                            ? "is whole"
                                            : "IS BROKEN"));
            common.out().print(record, text.toString());
            return 0;
        }

        private static String units(JsonNode account, JsonNode record) {
            Table table =
                    new Table()
                            .column("device", 0)
                            .column("before", 1)
                            .column("wanted", 3)
                            .column("after", 1)
                            .column("outcome", 0)
                            .column("dark", 4)
                            .column("backups", 5)
                            .column("how it stands", 0);
            for (int i = 0; i < account.path("units").size(); i++) {
                JsonNode unit = account.path("units").get(i);
                table.row(
                        unit.path("device").asString(),
                        unit.path("before").asString(),
                        unit.path("wanted").asString(),
                        unit.path("after").asString("-"),
                        unit.path("state").asString(),
                        dark(unit),
                        record.path("units").path(i).path("backups").size(),
                        standing(unit));
            }
            return table.text();
        }

        private static String dark(JsonNode unit) {
            String planned = Output.minutes(unit.path("plannedDark").asLong());
            return unit.path("seenDark").isNull()
                    ? planned
                    : "%s, planned %s"
                            .formatted(Output.minutes(unit.path("seenDark").asLong()), planned);
        }

        private static String standing(JsonNode unit) {
            if (unit.path("readAt").isNull()) {
                return "not read afterwards";
            }
            if (!unit.path("readBefore").asBoolean()) {
                return "not read before";
            }
            int lost = unit.path("lost").size();
            return lost == 0 ? "nothing lost" : lost + " to look at";
        }

        private static void exceptions(JsonNode account, StringBuilder text) {
            if (!account.path("exceptions").isEmpty()) {
                text.append("%n  Exceptions:%n".formatted());
            }
            for (JsonNode one : account.path("exceptions")) {
                String device = one.path("device").asString();
                text.append(
                        Output.paragraph(
                                "  %s: ".formatted(device.isEmpty() ? "the plan" : device),
                                one.path("what").asString()
                                        + given(" · ", one.path("by"))
                                        + given(": ", one.path("why"))));
            }
        }

        private static String given(String sign, JsonNode what) {
            return what.isNull() ? "" : sign + what.asString();
        }
    }

    @Command(
            name = "save",
            description =
                    "Save a record: as a page (.html), as JSON (.json), its table (.csv), or all of"
                            + " it with its evidence (.zip).",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep record save tonight --to tonight.zip"
            })
    static final class Save implements Callable<Integer> {
        private static final Map<String, String> FORMS =
                Map.of(
                        "html",
                        "/page",
                        "json",
                        "",
                        "csv",
                        "/units",
                        "zip",
                        "/evidence",
                        "pdf",
                        "/pdf");

        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RUN")
        String name = "";

        @Option(names = "--to", required = true, paramLabel = "FILE")
        Path file = Path.of("");

        @Override
        public Integer call() {
            String form = file.toString().substring(file.toString().lastIndexOf('.') + 1);
            if (!FORMS.containsKey(form)) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "Expected a file that ends in .html, .pdf, .json, .csv or .zip, saw \"%s\"."
                                .formatted(file));
            }
            String path = "/api/records/%s%s".formatted(Service.encode(name), FORMS.get(form));
            if (form.equals("zip") || form.equals("pdf")) {
                common.service().getForFile(path, file);
            } else {
                GivenFile.write(file, common.service().getText(path));
            }
            System.err.printf("Written to %s.%n", file);
            return 0;
        }
    }

    @Command(
            name = "trail",
            description =
                    "What was done outside of runs, and by whom; proves that nobody altered it.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep record trail --last 20"})
    static final class Trail implements Callable<Integer> {
        @Mixin Common common = new Common();

        private static final int WIDEST = 44;

        @Option(
                names = "--last",
                paramLabel = "COUNT",
                description =
                        "so many of the newest; 40 where nobody says, and all of them for --output"
                                + " json, yaml or csv")
        int last = 40;

        @Option(
                names = "--last-hash",
                paramLabel = "HASH",
                description =
                        "a hash that the trail ended with at some time: it must still be in it")
        String lastHash = "";

        @Override
        public Integer call() {
            ArrayNode trail = JsonMapper.shared().createArrayNode();
            for (JsonNode page = common.service().get("/api/trail?after=0");
                    !page.isEmpty();
                    page =
                            common.service()
                                    .get(
                                            "/api/trail?after="
                                                    + page.get(page.size() - 1)
                                                            .path("id")
                                                            .asLong())) {
                page.forEach(trail::add);
            }
            List<EventChain.Link> chain = trail.valueStream().map(EvidenceFile::link).toList();
            List<String> problems = new ArrayList<>();
            EventChain.trailBrokenAt(chain)
                    .ifPresent(
                            at ->
                                    problems.add(
                                            "Event %s of %s does not follow from those before it: \"%s\"."
                                                    .formatted(
                                                            at,
                                                            chain.size(),
                                                            chain.get(at - 1).text())));
            if (!lastHash.isEmpty()
                    && chain.stream().noneMatch(link -> link.hash().equals(lastHash))) {
                problems.add(
                        "None of its events has the hash %s: the trail was cut, or made anew."
                                .formatted(lastHash));
            }
            boolean people = common.out().isForPeople();
            Table table =
                    new Table()
                            .column("at", 0)
                            .column("who", 0)
                            .column("about", 1)
                            .column("words", 0);
            trail.valueStream()
                    .skip(people ? Math.max(0, trail.size() - last) : 0)
                    .forEach(
                            event ->
                                    table.row(
                                            Ago.date(event.path("at")),
                                            event.path("who").asString(),
                                            event.path("subject").asString(),
                                            people
                                                    ? Output.shortened(
                                                            event.path("text").asString(), WIDEST)
                                                    : event.path("text").asString()));
            common.out().print(trail, table, "Nothing was done outside of runs yet.");
            (people ? System.out : System.err).print(verdict(chain, problems));
            return problems.isEmpty() ? 0 : Problem.STOPS;
        }

        private static String verdict(List<EventChain.Link> chain, List<String> problems) {
            String what =
                    problems.isEmpty()
                            ? "%nThe trail is whole: %s events, each follows from the one before. It ends with%n%s%n"
                                    .formatted(
                                            chain.size(),
                                            chain.isEmpty() ? "no event" : chain.getLast().hash())
                            : "%nThe trail is NOT what it was.%n".formatted();
            return problems.stream()
                            .map(problem -> Output.paragraph("  ", problem))
                            .collect(Collectors.joining())
                    + what;
        }
    }

    @Command(
            name = "verify",
            description =
                    "Prove an evidence archive: each file against its manifest, and the chain of"
                            + " the run's events. No service is needed.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep record verify tonight.zip"})
    static final class Verify implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Option(
                names = "--last-hash",
                paramLabel = "HASH",
                description = "the chain's last hash as it was written down when the run ended")
        String lastHash = "";

        @Override
        public Integer call() {
            EvidenceFile.Verdict verdict = EvidenceFile.verify(file, lastHash);
            StringBuilder text = new StringBuilder();
            verdict.problems().forEach(problem -> text.append(Output.paragraph("  ", problem)));
            text.append(
                    verdict.problems().isEmpty()
                            ? "%s is whole: %s files as its manifest says, %s events of the run %s in an unbroken chain.%n"
                                    .formatted(
                                            file, verdict.files(), verdict.events(), verdict.run())
                            : "%s is NOT what it was: %s problems.%n"
                                    .formatted(file, verdict.problems().size()));
            text.append("The chain ends with %s.%n".formatted(verdict.lastHash()));
            addHint(verdict, text);
            common.out().print(JsonMapper.shared().<JsonNode>valueToTree(verdict), text.toString());
            return verdict.problems().isEmpty() ? 0 : Problem.STOPS;
        }

        private void addHint(EvidenceFile.Verdict verdict, StringBuilder text) {
            if (lastHash.isEmpty() && verdict.problems().isEmpty()) {
                text.append(
                        Output.paragraph(
                                "",
                                "Compare that hash with the one that was written down when the run"
                                    + " ended, or say it with --last-hash: a chain that somebody"
                                    + " made anew as a whole ends with another one."));
            }
        }
    }
}
