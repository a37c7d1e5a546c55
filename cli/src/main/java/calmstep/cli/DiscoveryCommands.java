package calmstep.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Finding devices that nobody wrote down; words under {@code fleet}. */
final class DiscoveryCommands {
    private DiscoveryCommands() {}

    @Command(
            name = "range",
            description =
                    "Say which addresses may be searched, how fast, and what is asked there; kept"
                            + " for next time.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet range quay 127.40.29.0/27 --site gullness-quay --login steward"
                        + " --snmp reads",
                "    --ssh-port 2022 --snmp-port 2061"
            })
    static final class Range implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(index = "0", paramLabel = "NAME")
        String name = "";

        @Parameters(
                index = "1..*",
                arity = "1..*",
                paramLabel = "PREFIX",
                description = "192.0.2.0/24, 192.0.2.10-192.0.2.40, or one address")
        List<String> within = List.of();

        @Option(names = "--except", paramLabel = "PREFIX", description = "leave these alone")
        List<String> except = List.of();

        @Option(names = "--site", description = "where accepted devices stand")
        String site = "";

        @Option(names = "--login", description = "what opens accepted devices")
        String login = "";

        @Option(
                names = "--snmp",
                paramLabel = "LOGIN",
                description = "ask by SNMP as well, with this login")
        String snmp = "";

        @Option(
                names = "--ssh-port",
                paramLabel = "PORT",
                description = "where the SSH greeting is asked for (default: 22)",
                defaultValue = "22")
        int sshPort = 22;

        @Option(
                names = "--snmp-port",
                paramLabel = "PORT",
                description = "default: 161",
                defaultValue = "161")
        int snmpPort = 161;

        @Option(
                names = "--per-second",
                paramLabel = "N",
                description = "how many addresses are touched a second, at most (default: 20)",
                defaultValue = "20")
        int perSecond = 20;

        @Override
        public Integer call() {
            JsonNode range = set();
            common.out()
                    .print(
                            range,
                            String.format(
                                    Locale.ROOT,
                                    "The range %s has %,d addresses; at %s a second a search takes"
                                            + " about %s. Search it with: calmstep fleet search %s",
                                    name,
                                    range.path("addresses").asInt(),
                                    perSecond,
                                    Output.minutes(range.path("addresses").asInt() / perSecond + 3),
                                    name));
            return 0;
        }

        private JsonNode set() {
            JsonNode range =
                    common.service()
                            .put(
                                    "/api/discovery/ranges/" + Service.encode(name),
                                    Map.of(
                                            "within",
                                            within,
                                            "except",
                                            except,
                                            "site",
                                            site,
                                            "login",
                                            login,
                                            "snmpLogin",
                                            snmp,
                                            "sshPort",
                                            sshPort,
                                            "snmpPort",
                                            snmpPort,
                                            "perSecond",
                                            perSecond));
            return range;
        }
    }

    @Command(
            name = "ranges",
            description = "The ranges that were kept.",
            mixinStandardHelpOptions = true)
    static final class Ranges implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode ranges = common.service().get("/api/discovery/ranges");
            Table table = rangeColumns();
            ranges.forEach(r -> addRange(r, table));
            common.out()
                    .print(
                            ranges,
                            table,
                            "No range is kept. Set one with: calmstep fleet range NAME PREFIX…");
            return 0;
        }

        private static Table rangeColumns() {
            Table table =
                    new Table()
                            .column("range", 0)
                            .column("addresses", 0)
                            .column("count", 2)
                            .column("except", 3)
                            .column("site", 3)
                            .column("asks", 2)
                            .column("a second", 4)
                            .column("searched", 1);
            return table;
        }

        private static void addRange(JsonNode r, Table table) {
            table.row(
                    r.path("name").asString(),
                    words(r.path("within")),
                    r.path("addresses").asInt(),
                    words(r.path("except")),
                    r.path("site").asString(),
                    r.path("snmpLogin").asString().isEmpty()
                            ? "SSH greeting"
                            : "SSH greeting, SNMP as " + r.path("snmpLogin").asString(),
                    r.path("perSecond").asInt(),
                    r.path("searchedAt").isNull() ? "never" : Ago.of(r.path("searchedAt")));
        }

        private static String words(JsonNode list) {
            return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
        }
    }

    @Command(
            name = "search",
            description =
                    "Search a range for devices. Ctrl-C ends it early and keeps what was found.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet search quay"})
    static final class Search implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RANGE")
        String name = "";

        @Override
        public Integer call() throws InterruptedException {
            Service service = common.service();
            JsonNode job =
                    FollowedJob.toItsEnd(
                            service,
                            service.post(
                                    "/api/discovery/ranges/%s/searches"
                                            .formatted(Service.encode(name)),
                                    Map.of()),
                            "addresses asked");
            int answered = job.path("done").asInt() - job.path("failed").asInt();
            common.out().print(job, words(job, answered));
            return 0;
        }

        private static String words(JsonNode job, int answered) {
            return "%s of %s addresses asked%s, %s answered. What they are: calmstep fleet found"
                    .formatted(
                            job.path("done").asInt(),
                            job.path("total").asInt(),
                            job.path("state").asString().equals("cancelled")
                                    ? ", then cancelled"
                                    : "",
                            answered);
        }
    }

    @Command(
            name = "found",
            description = "What answered in searches, and which of it is in the fleet already.",
            mixinStandardHelpOptions = true)
    static final class Found implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(names = "--dropped", description = "tell those that were dropped as well")
        boolean dropped;

        @Override
        public Integer call() {
            JsonNode found = common.service().get("/api/discovery/candidates?dropped=" + dropped);
            Table table = foundColumns();
            found.forEach(c -> addFound(c, table));
            common.out()
                    .print(
                            found,
                            table,
                            "Nothing was found yet. Search with: calmstep fleet search RANGE");
            return 0;
        }

        private static Table foundColumns() {
            Table table =
                    new Table()
                            .column("address", 0)
                            .column("is", 0)
                            .column("name", 1)
                            .column("family", 1)
                            .column("model", 3)
                            .column("serial", 4)
                            .column("runs", 2)
                            .column("seen", 5)
                            .column("to know", 9)
                            .told("to know");
            return table;
        }

        private static void addFound(JsonNode c, Table table) {
            table.row(
                    c.path("address").asString(),
                    c.path("state").asString().equals("in-fleet")
                            ? c.path("device").asString()
                            : c.path("state").asString(),
                    c.path("name").asString(),
                    c.path("family").asString(),
                    c.path("model").asString(),
                    c.path("serial").asString(),
                    c.path("release").asString(),
                    Ago.of(c.path("lastSeen")),
                    c.path("toKnow").asString());
        }
    }

    @Command(
            name = "accept",
            description =
                    "Take what was found into the inventory, or add an address by hand; all or"
                            + " none.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Examples, on the demo:",
                "  calmstep fleet accept 127.40.29.9",
                "  calmstep fleet accept 127.40.29.8 --name sw-gullness-quay-2 --family tarnel-t2"
                        + " --model T2-24"
            })
    static final class Accept implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "ADDRESS", arity = "1..*")
        List<String> addresses = List.of();

        @Option(names = "--name", description = "for one address; else the name that it tells")
        String name = "";

        @Option(names = "--family", description = "else the one that a dialect recognises")
        String family = "";

        @Option(names = "--model")
        String model = "";

        @Option(names = "--revision")
        String revision = "";

        @Option(names = "--serial")
        String serial = "";

        @Option(names = "--site", description = "else the range's")
        String site = "";

        @Option(names = "--role")
        String role = "";

        @Option(names = "--login", description = "else the range's")
        String login = "";

        @Override
        public Integer call() {
            if (addresses.size() > 1 && !(name.isEmpty() && serial.isEmpty())) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "A name and a serial belong to one device; accept %s addresses one by one, or without them."
                                .formatted(addresses.size()));
            }
            List<Map<String, String>> candidates = new ArrayList<>();
            for (String address : addresses) {
                Map<String, String> one =
                        new LinkedHashMap<>(
                                Map.of(
                                        "address",
                                        address,
                                        "name",
                                        name,
                                        "family",
                                        family,
                                        "model",
                                        model,
                                        "revision",
                                        revision,
                                        "serial",
                                        serial,
                                        "site",
                                        site,
                                        "role",
                                        role,
                                        "login",
                                        login));
                one.values().removeIf(String::isEmpty);
                candidates.add(one);
            }
            JsonNode done =
                    common.service()
                            .post("/api/discovery/accepted", Map.of("candidates", candidates));
            String names =
                    done.path("added")
                            .valueStream()
                            .map(JsonNode::asString)
                            .collect(Collectors.joining(", "));
            common.out()
                    .print(
                            done,
                            "In the inventory now: %s. Read with: calmstep fleet read %s"
                                    .formatted(names, names.replace(",", "")));
            return 0;
        }
    }

    @Command(
            name = "drop",
            description =
                    "Drop what is none of ours, or does not exist; later searches leave it"
                            + " dropped.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet drop 127.40.29.30 --why \"the harbour's camera\""
            })
    static final class Drop implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "ADDRESS", arity = "1..*")
        List<String> addresses = List.of();

        @Option(names = "--why", required = true)
        String why = "";

        @Override
        public Integer call() {
            common.service()
                    .post("/api/discovery/dropped", Map.of("addresses", addresses, "why", why));
            System.err.printf("Dropped: %s.%n", String.join(", ", addresses));
            return 0;
        }
    }

    @Command(
            name = "forget-range",
            description = "Forget a range; what was found in it stays.",
            mixinStandardHelpOptions = true)
    static final class ForgetRange implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "RANGE")
        String name = "";

        @Override
        public Integer call() {
            common.service().delete("/api/discovery/ranges/" + Service.encode(name));
            return 0;
        }
    }
}
