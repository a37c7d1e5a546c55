package calmstep.cli;

import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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
            RunOrders.Go.class,
            RunOrders.Hold.class,
            RunOrders.Resume.class,
            RunOrders.Turn.class,
            StuckOrders.Retry.class,
            StuckOrders.Again.class,
            StuckOrders.TakeOver.class,
            StuckOrders.Rescue.class,
            StuckOrders.Return.class,
            StuckOrders.Replace.class,
            StuckOrders.ReplaceMember.class,
            StuckOrders.Without.class,
            StuckOrders.Skip.class,
            RunOrders.Accept.class,
            RunOrders.Refuse.class,
            RunOrders.TakeIn.class,
            StuckOrders.AnswerOnce.class,
            RunOrders.WriteContacts.class,
            RunOrders.End.class,
            RunOrders.Abandon.class,
            RunOrders.SetAside.class,
            RunOrders.Talk.class,
            RunCommands.Mail.class
        })
final class RunCommands {
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
                            "The run %s is %s with %s units. Watch it with: calmstep run watch %s"
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
            common.out().print(run, RunWords.words(run));
            return RunWords.exitCode(run);
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
                        "%n%s of %s proven on their devices.%n",
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
            return words.length() > RunWords.SEEN_WIDTH
                    ? words.substring(0, RunWords.SEEN_WIDTH - 1) + "…"
                    : words;
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
                            + (all.size() > 1 ? " and %s more".formatted(all.size() - 1) : "");
        }
    }
}
