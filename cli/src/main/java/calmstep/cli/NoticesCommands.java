package calmstep.cli;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "notices",
        description = "Other systems that are told what happens, by webhook or syslog.",
        mixinStandardHelpOptions = true,
        subcommands = {
            NoticesCommands.ListAll.class,
            NoticesCommands.Add.class,
            NoticesCommands.Try.class,
            NoticesCommands.Remove.class
        })
final class NoticesCommands {
    @Command(
            name = "list",
            description = "Who is told, about what, and how far each is.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode targets = common.service().get("/api/notices");
            Table table =
                    new Table()
                            .column("name", 0)
                            .column("address", 1)
                            .column("about", 2)
                            .column("signed", 5)
                            .column("quieted", 4)
                            .column("told to", 3)
                            .column("trouble", 0);
            targets.forEach(
                    t ->
                            table.row(
                                    t.path("name").asString(),
                                    t.path("address").asString(),
                                    String.join(
                                            " ",
                                            t.path("about")
                                                    .valueStream()
                                                    .map(JsonNode::asString)
                                                    .toList()),
                                    t.path("signed").asBoolean() ? "yes" : "no",
                                    t.path("quiets").asBoolean() ? "yes" : "no",
                                    t.path("toldTo").asLong(),
                                    t.path("trouble").asString()));
            common.out()
                    .print(
                            targets,
                            table,
                            "Nobody is told. Add a system with: calmstep notices add NAME ADDRESS");
            return targets.valueStream().anyMatch(t -> !t.path("trouble").asString().isEmpty())
                    ? Problem.STOPS
                    : 0;
        }
    }

    /** A word about one of them. */
    abstract static class AboutTarget implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(index = "0", paramLabel = "NAME")
        String name = "";

        String path() {
            return "/api/notices/" + Service.encode(name);
        }
    }

    @Command(
            name = "add",
            description = "Have a system told from now on; called again, it is told elsewhere.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep notices add alarms https://127.0.0.1:9443/upgrades --about run --about"
                        + " unit --about gate",
                "  calmstep notices add bell http://127.0.0.1:8454 --quiets",
                "  calmstep notices add loghost udp://127.0.0.1:5514"
            })
    static final class Add extends AboutTarget {
        @Parameters(
                index = "1",
                paramLabel = "ADDRESS",
                description =
                        "https://host/path for a webhook; udp://host:port or tcp://host:port for"
                                + " syslog")
        String address = "";

        @Option(
                names = "--about",
                paramLabel = "KIND",
                description =
                        "run, unit, gate, step, plan, shelf, releases, fleet, backups, people; left"
                                + " out: run, unit, gate")
        List<String> about = List.of();

        @Option(
                names = "--quiets",
                description =
                        "it is an alarm system: it is quieted for what is in work, and rings again"
                                + " afterwards (docs/alarms.md)")
        boolean quiets;

        @Option(
                names = "--secret-stdin",
                description = "read from standard input what notices are signed with")
        boolean secret;

        @Override
        public Integer call() {
            Map<String, Object> target =
                    new HashMap<>(Map.of("address", address, "about", about, "quiets", quiets));
            if (secret) {
                target.put("secret", PeopleCommands.password(true, ""));
            }
            common.service().put(path(), target);
            System.err.printf(
                    "%s is told from now on. Try it: calmstep notices try %s%n", name, name);
            return 0;
        }
    }

    @Command(
            name = "try",
            description = "Bring it one notice that means nothing, now.",
            mixinStandardHelpOptions = true)
    static final class Try extends AboutTarget {
        @Override
        public Integer call() {
            common.service().post(path() + "/trial", Map.of());
            System.err.printf("%s took it.%n", name);
            return 0;
        }
    }

    @Command(name = "remove", description = "Tell it no more.", mixinStandardHelpOptions = true)
    static final class Remove extends AboutTarget {
        @Override
        public Integer call() {
            common.service().delete(path());
            System.err.printf("%s is told no more.%n", name);
            return 0;
        }
    }
}
