package calmstep.cli;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
        name = "plan",
        description = "Draft, read, acknowledge, approve.",
        mixinStandardHelpOptions = true,
        subcommands = {
            PlanCommands.Draft.class,
            PlanCommands.ListAll.class,
            PlanCommands.Show.class,
            PlanCommands.Findings.class,
            PlanCommands.Acknowledge.class,
            PlanCommands.Approve.class,
            PlanCommands.Again.class,
            PlanCommands.Compare.class,
            NightCommands.Nights.class,
            NightCommands.Wish.class,
            NightCommands.Calendar.class,
            PlanFileCommands.Export.class,
            PlanFileCommands.Import.class,
            PlanFileCommands.Copy.class,
            PlanFileCommands.WorkOut.class,
            PlanCommands.Drop.class
        })
final class PlanCommands {
    static int tell(Common common, JsonNode plan) {
        common.out().print(plan, PlanWords.words(plan));
        return plan.path("findings")
                        .valueStream()
                        .anyMatch(f -> f.path("severity").asString().equals("stop"))
                ? Problem.STOPS
                : 0;
    }

    @Command(
            name = "draft",
            description =
                    "Draft a plan for the devices named, or those of a selection; neither means"
                            + " all.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan draft monday rt-dunmere-1 rt-eskholm-1 --to recommended"
            })
    static final class Draft implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME", description = "name of the plan")
        String name = "";

        @Parameters(paramLabel = "DEVICE", arity = "0..*", index = "1..*")
        List<String> devices = List.of();

        @Option(
                names = "--to",
                paramLabel = "TARGET",
                description =
                        "recommended, newest-general, one-behind, aged-90 (days), clears:ADVISORY,"
                                + " or a release (default: recommended)",
                defaultValue = "recommended")
        String target = "recommended";

        @Option(names = "--where", paramLabel = "SELECTION", description = FleetCommands.WHERE)
        String where = "";

        @Option(
                names = "--begin",
                paramLabel = "WHEN",
                description =
                        "next-window (default), now, or a moment such as 2026-11-24T01:15:00Z",
                defaultValue = "next-window")
        String begins = "next-window";

        @Option(
                names = "--prefer",
                paramLabel = "WHAT",
                description =
                        "what each path is to be good at: fewest-restarts (default), shortest-dark"
                                + " or proven",
                defaultValue = "fewest-restarts")
        String prefer = "fewest-restarts";

        @Option(
                names = "--alternative",
                paramLabel = "NUMBER",
                description = "one of the other paths that \"calmstep path\" names, from 1",
                defaultValue = "0")
        int alternative;

        @Option(
                names = "--roles",
                paramLabel = "WHICH",
                description =
                        "which member of a unit is active when all is done: as-they-come (default),"
                                + " or as-before, with one more hand-over",
                defaultValue = "as-they-come")
        String roles = "as-they-come";

        @Override
        public Integer call() {
            JsonNode plan =
                    common.service()
                            .post(
                                    "/api/plans",
                                    Map.of(
                                            "name",
                                            name,
                                            "devices",
                                            devices,
                                            "where",
                                            where,
                                            "target",
                                            target,
                                            "begins",
                                            begins,
                                            "prefer",
                                            prefer,
                                            "alternative",
                                            alternative,
                                            "roles",
                                            roles));
            return tell(common, plan);
        }
    }

    @Command(
            name = "list",
            description = "All plans, newest first.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode plans = common.service().get("/api/plans");
            Table table = columns();
            plans.forEach(p -> addRow(p, table));
            common.out()
                    .print(
                            plans,
                            table,
                            "There is no plan. Draft one: calmstep plan draft NAME DEVICE… --to"
                                    + " TARGET");
            return 0;
        }

        private static void addRow(JsonNode p, Table table) {
            table.row(
                    p.path("name").asString(),
                    p.path("state").asString(),
                    p.path("target").asString(),
                    p.path("units").size(),
                    p.path("findings").size(),
                    Ago.of(p.path("writtenAt")),
                    p.path("writtenBy").asString());
        }

        private static Table columns() {
            Table table =
                    new Table()
                            .column("plan", 0)
                            .column("state", 1)
                            .column("target", 2)
                            .column("units", 3)
                            .column("findings", 4)
                            .column("written", 5)
                            .column("by", 6);
            return table;
        }
    }

    @Command(
            name = "show",
            description = "One plan with its findings.",
            mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Override
        public Integer call() {
            JsonNode plan = common.service().get("/api/plans/" + Service.encode(name));
            common.out().print(plan, PlanWords.words(plan));
            return 0;
        }
    }

    @Command(
            name = "findings",
            description =
                    "The findings of a plan, or those that are open, of a severity, or about"
                            + " something.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Examples, on the demo:",
                "  calmstep plan findings winter --only open",
                "  calmstep plan findings winter --only caution --about eskholm"
            })
    static final class Findings implements Callable<Integer> {
        private static final List<String> ONLY = List.of("all", "open", "stop", "caution", "note");

        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(
                names = "--only",
                defaultValue = "all",
                description = "open (nobody said anything to them yet), stop, caution or note")
        String only = "";

        @Option(
                names = "--about",
                defaultValue = "",
                description = "words of the device or of the finding")
        String about = "";

        @Override
        public Integer call() {
            if (!ONLY.contains(only)) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "Expected --only %s, saw \"%s\"."
                                .formatted(String.join(", ", ONLY.subList(1, ONLY.size())), only),
                        List.of());
            }
            JsonNode all =
                    common.service().get("/api/plans/" + Service.encode(name)).path("findings");
            List<JsonNode> shown = all.valueStream().filter(this::isAsked).toList();
            Table table =
                    new Table()
                            .column("severity", 0)
                            .column("finding", 0)
                            .column("said", 1)
                            .column("fact", 2);
            shown.forEach(
                    f ->
                            table.row(
                                    f.path("severity").asString(),
                                    f.path("key").asString(),
                                    f.path("answer").isNull()
                                            ? ""
                                            : f.path("answer").path("choice").asString()
                                                    + " by "
                                                    + f.path("answer").path("by").asString(),
                                    f.path("fact").asString()));
            if (common.out().isForPeople()) {
                shown.forEach(f -> System.out.print(PlanWords.finding(f)));
                System.out.printf("%s of %s findings%n", shown.size(), all.size());
            } else {
                common.out().print(JsonMapper.shared().valueToTree(shown), table, "");
            }
            return 0;
        }

        private boolean isAsked(JsonNode finding) {
            boolean open =
                    !finding.path("severity").asString().equals("note")
                            && finding.path("answer").isNull();
            boolean asked =
                    only.equals("all")
                            || (only.equals("open")
                                    ? open
                                    : finding.path("severity").asString().equals(only));
            return asked
                    && (finding.path("device").asString() + " " + finding.path("fact").asString())
                            .toLowerCase(Locale.ROOT)
                            .contains(about.toLowerCase(Locale.ROOT));
        }
    }

    @Command(
            name = "acknowledge",
            description = "Say to a caution what is to be done about it.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan acknowledge monday rt-eskholm-1/unsaved-changes --choice"
                        + " save-first --reason \"the new way stays\""
            })
    static final class Acknowledge implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME", index = "0")
        String name = "";

        @Parameters(
                paramLabel = "FINDING",
                index = "1",
                description = "its key, as plan show prints it")
        String finding = "";

        @Option(
                names = "--choice",
                required = true,
                description = "save-first, accept or leave-out")
        String choice = "";

        @Option(names = "--reason", description = "kept with the plan", defaultValue = "")
        String reason = "";

        @Override
        public Integer call() {
            JsonNode plan =
                    common.service()
                            .post(
                                    "/api/plans/%s/acknowledgements"
                                            .formatted(Service.encode(name)),
                                    Map.of("finding", finding, "choice", choice, "reason", reason));
            common.out().print(plan, PlanWords.words(plan));
            return 0;
        }
    }

    @Command(
            name = "approve",
            description = "Approve a plan that is ready.",
            mixinStandardHelpOptions = true)
    static final class Approve implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Override
        public Integer call() {
            JsonNode plan =
                    common.service()
                            .post(
                                    "/api/plans/%s/approval".formatted(Service.encode(name)),
                                    Map.of());
            common.out()
                    .print(
                            plan,
                            "%s is approved by %s."
                                    .formatted(name, plan.path("approvedBy").asString()));
            return 0;
        }
    }

    @Command(
            name = "again",
            description =
                    "Work a plan out again from what is known now; what was said to findings that"
                            + " are the same stays.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep plan again monday"})
    static final class Again implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Override
        public Integer call() {
            JsonNode plan =
                    common.service()
                            .post("/api/plans/%s/again".formatted(Service.encode(name)), Map.of());
            return tell(common, plan);
        }
    }

    @Command(
            name = "compare",
            description = "What differs between two plans.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep plan compare tonight~1 tonight"})
    static final class Compare implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(index = "0", paramLabel = "NAME")
        String one = "";

        @Parameters(index = "1", paramLabel = "OTHER")
        String other = "";

        @Override
        public Integer call() {
            JsonNode changes =
                    common.service()
                            .get(
                                    "/api/plans/%s/compared-with/%s"
                                            .formatted(Service.encode(one), Service.encode(other)));
            StringBuilder text = new StringBuilder();
            changes.forEach(c -> text.append(Output.paragraph("- ", c.asString())));
            common.out()
                    .print(changes, text.isEmpty() ? "Both come to the same." : text.toString());
            return 0;
        }
    }

    @Command(
            name = "drop",
            description = "Drop a plan that was not used.",
            mixinStandardHelpOptions = true)
    static final class Drop implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Override
        public Integer call() {
            common.service().delete("/api/plans/" + Service.encode(name));
            return 0;
        }
    }
}
