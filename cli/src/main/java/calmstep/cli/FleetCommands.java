package calmstep.cli;

import calmstep.core.fleet.Reading.BootChoice;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
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
            FleetCommands.Show.class,
            FleetCommands.Changes.class,
            FleetCommands.Read.class,
            FleetCommands.Login.class,
            FleetCommands.ForgetKey.class,
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
                            .postText(
                                    "/api/inventory?preview=%s&file=%s"
                                            .formatted(preview, Service.encode(file.toString())),
                                    file.toString().endsWith(".csv")
                                            ? "text/csv"
                                            : "application/yaml",
                                    GivenFile.read(file));
            common.out().print(done, words(done));
            return 0;
        }

        private String words(JsonNode done) {
            return "%sadded: %s%n%schanged: %s%n%sas before: %s"
                    .formatted(
                            would(),
                            names(done.path("added")),
                            would(),
                            names(done.path("changed")),
                            would(),
                            names(done.path("unchanged")));
        }

        /** More are counted; {@code --output json} names them all. */
        private static final int NAMED = 6;

        private String would() {
            return preview ? "would be " : "";
        }

        private static String names(JsonNode list) {
            return list.isEmpty()
                    ? "none"
                    : list.size() > NAMED
                            ? list.size() + " devices"
                            : list.valueStream()
                                    .map(JsonNode::asString)
                                    .collect(Collectors.joining(", "));
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
            name = "show",
            description = "One device as it showed itself last.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet show rt-dunmere-1"})
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            JsonNode device = common.service().get("/api/devices/" + Service.encode(name));
            common.out().print(device, words(device));
            return 0;
        }

        private static String way(JsonNode d) {
            List<String> words = new ArrayList<>();
            if (!d.path("via").isEmpty()) {
                words.add("reached through " + listed(d.path("via"), ", then "));
            }
            if (!d.path("console").isNull()) {
                words.add("its console line at " + d.path("console").asString());
            }
            if (!d.path("oldAlgorithms").isEmpty()) {
                words.add("allowed with it, though old: " + listed(d.path("oldAlgorithms"), ", "));
            }
            return String.join("; ", words);
        }

        private static String listed(JsonNode list, String between) {
            return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(between));
        }

        private static String words(JsonNode d) {
            StringBuilder text = head(d);
            text.append(
                    "at %s:%d, login %s, host key %s%n"
                            .formatted(
                                    d.path("address").asString(),
                                    d.path("port").asInt(),
                                    listed(d.path("logins"), ", then "),
                                    d.path("hostKey").asString("").isEmpty()
                                            ? "not seen yet"
                                            : d.path("hostKey").asString()));
            if (!d.path("via").isEmpty()
                    || !d.path("oldAlgorithms").isEmpty()
                    || !d.path("console").isNull()) {
                text.append(way(d)).append(System.lineSeparator());
            }
            addSilence(d, text);
            JsonNode reading = d.path("reading");
            if (reading.isNull()) {
                return text.append(
                                "Never read. Read it with: calmstep fleet read %s"
                                        .formatted(d.path("name").asString()))
                        .toString();
            }
            JsonNode boot = reading.path("boot");
            addRunning(text, reading, boot, d);
            reading.path("components").properties().stream()
                    .filter(c -> !c.getKey().equals("system"))
                    .forEach(c -> addComponent(c, text, reading));
            parts(reading.path("parts"), text);
            reading.path("volumes").forEach(v -> addVolume(v, text, boot));
            text.append("\n");
            reading.path("facts")
                    .forEach(
                            f ->
                                    text.append(
                                            "  %-10s %-16s %s%n"
                                                    .formatted(
                                                            f.path("kind").asString(),
                                                            f.path("name").asString(),
                                                            f.path("value").asString())));
            return text.toString();
        }

        private static void addVolume(JsonNode v, StringBuilder text, JsonNode boot) {
            text.append(
                    "%n  %s: %,d bytes, %,d free%n"
                            .formatted(
                                    v.path("name").asString(),
                                    v.path("sizeBytes").asLong(),
                                    v.path("freeBytes").asLong()));
            v.path("files").forEach(f -> addFile(f, text, boot));
        }

        private static void addFile(JsonNode f, StringBuilder text, JsonNode boot) {
            text.append(
                    "    %-30s %,12d  %s%n"
                            .formatted(
                                    f.path("name").asString(),
                                    f.path("sizeBytes").asLong(),
                                    role(boot, f.path("name").asString())));
        }

        private static void addComponent(
                Map.Entry<String, JsonNode> c, StringBuilder text, JsonNode reading) {
            text.append(
                    "  %-9s %s%s%n"
                            .formatted(
                                    c.getKey(),
                                    c.getValue().asString(),
                                    reading.path("waiting").has(c.getKey())
                                            ? "; takes over %s at the next restart"
                                                    .formatted(
                                                            reading.path("waiting")
                                                                    .path(c.getKey())
                                                                    .asString())
                                            : ""));
        }

        private static void addRunning(
                StringBuilder text, JsonNode reading, JsonNode boot, JsonNode d) {
            text.append(
                    "%n  runs      %s  (%s)%n  next      %s%s%n  fallback  %s%n"
                            .formatted(
                                    reading.path("components").path("system").asString(),
                                    boot.path("running").asString(),
                                    boot.path("next").asString(),
                                    boot.path("saved").asBoolean() ? ", saved" : ", NOT saved",
                                    boot.path("fallback").asString("").isEmpty()
                                            ? "none"
                                            : boot.path("fallback").asString()));
            addSettings(text, reading, d);
        }

        private static void addSettings(StringBuilder text, JsonNode reading, JsonNode d) {
            text.append(
                    "  settings  %s%n  started   %s%n  read      %s%n"
                            .formatted(
                                    reading.path("unsavedChanges").asBoolean()
                                            ? "unsaved changes"
                                            : "saved",
                                    reading.path("bootMark").asString(),
                                    Ago.of(d.path("readAt"))));
        }

        private static void addSilence(JsonNode d, StringBuilder text) {
            if (!d.path("silent").isNull()) {
                text.append(
                        "silent since %s. Expected: %s. Seen: %s. %s%n"
                                .formatted(
                                        Ago.date(d.path("silent").path("at")),
                                        d.path("silent").path("expected").asString(),
                                        d.path("silent").path("seen").asString(),
                                        d.path("silent").path("remedy").asString()));
            }
        }

        private static StringBuilder head(JsonNode d) {
            StringBuilder text =
                    new StringBuilder(
                            "%s  %s, %s%s, serial %s, %s (%s)%n"
                                    .formatted(
                                            d.path("name").asString(),
                                            d.path("title").asString(),
                                            d.path("model").asString(),
                                            d.path("revision").asString("").isEmpty()
                                                    ? ""
                                                    : " revision " + d.path("revision").asString(),
                                            d.path("serial").asString(),
                                            d.path("siteTitle").asString(),
                                            d.path("zone").asString()));
            return text;
        }

        private static void parts(JsonNode parts, StringBuilder text) {
            if (parts.isEmpty()) {
                return;
            }
            text.append("\n");
            int widest =
                    parts.valueStream()
                            .mapToInt(shown -> shown.path("part").path("name").asString().length())
                            .max()
                            .orElse(0);
            parts.forEach(
                    shown -> {
                        JsonNode part = shown.path("part");
                        String runs =
                                part.path("runs").properties().stream()
                                        .map(
                                                c ->
                                                        "%s %s"
                                                                .formatted(
                                                                        c.getKey(),
                                                                        c.getValue().asString()))
                                        .collect(Collectors.joining(", "));
                        text.append(
                                ("  %-10s %-" + Math.max(3, widest) + "s %-8s %-9s %-8s %-14s %s%n")
                                        .formatted(
                                                part.path("kind")
                                                        .asString()
                                                        .toLowerCase(Locale.ROOT)
                                                        .replace('_', '-'),
                                                part.path("name").asString(),
                                                shown.path("role").asString(),
                                                shown.path("state").asString(),
                                                part.path("model").asString(),
                                                part.path("serial").asString(),
                                                runs));
                    });
        }

        private static String role(JsonNode boot, String file) {
            return List.of("running", "next", "fallback").stream()
                    .filter(role -> BootChoice.filesOf(boot.path(role).asString("")).contains(file))
                    .collect(Collectors.joining(", "));
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
            return "%d read, %d silent.%s"
                    .formatted(
                            job.path("done").asInt() - failed,
                            failed,
                            failed == 0 ? "" : " calmstep fleet list says why.");
        }
    }

    @Command(
            name = "login",
            description =
                    "Set the user and password, or private key, that open devices; neither is ever"
                            + " shown again.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet login steward --user steward",
                "  calmstep fleet login hosts --user calm --key ~/.ssh/id_ed25519",
                "  calmstep fleet login far --user calm --agent",
                "  calmstep fleet login reads --snmp v2c"
            })
    static final class Login implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "LOGIN", description = "the name that the inventory uses")
        String name = "";

        @Option(names = "--user", description = "not for SNMP v2c")
        String user = "";

        @Option(
                names = "--key",
                paramLabel = "FILE",
                description =
                        "a private key in place of a password; the password is its passphrase then,"
                                + " empty for none")
        @Nullable Path key;

        @Option(
                names = "--agent",
                description = "whatever keys the service's SSH agent holds, in place of a password")
        boolean agent;

        @Option(
                names = "--snmp",
                paramLabel = "VERSION",
                description =
                        "v2c or v3: a login for SNMP; the password is the community, or the"
                                + " authentication password")
        String snmp = "";

        @Option(
                names = "--authentication",
                paramLabel = "HOW",
                description = "SNMP v3: sha1, sha256 or sha512 (default: sha256)",
                defaultValue = "sha256")
        String authentication = "sha256";

        @Option(
                names = "--privacy",
                paramLabel = "HOW",
                description =
                        "SNMP v3: none, aes128 or aes256 (default: aes128); its password is asked"
                                + " for second",
                defaultValue = "aes128")
        String privacy = "aes128";

        @Option(
                names = "--password-stdin",
                description =
                        "read the password from standard input, and a second one from its next"
                                + " line")
        boolean passwordStdin;

        @Override
        public Integer call() {
            if (user.isEmpty() != snmp.equals("v2c")) {
                throw new Problem(
                        Problem.WRONG_CALL, "Expected --user NAME, or --snmp v2c without a user.");
            }
            if (agent) {
                common.service()
                        .put(
                                "/api/logins/" + Service.encode(name),
                                Map.of("user", user, "password", "", "agent", true));
                System.err.printf(
                        "The login %s is set: the keys of the service's SSH agent.%n", name);
                return 0;
            }
            List<String> asked =
                    new ArrayList<>(
                            List.of(
                                    snmp.equals("v2c")
                                            ? "Community: "
                                            : key != null
                                                    ? "Passphrase of the key: "
                                                    : "Password of the devices: "));
            if (snmp.equals("v3") && !privacy.equals("none")) {
                asked.add("Privacy password: ");
            }
            List<String> passwords = PeopleCommands.passwords(passwordStdin, asked);
            Map<String, Object> login =
                    new LinkedHashMap<>(Map.of("user", user, "password", passwords.getFirst()));
            if (key != null) {
                login.put("key", GivenFile.read(key));
            }
            if (!snmp.isEmpty()) {
                login.put(
                        "snmp",
                        Map.of(
                                "version",
                                snmp,
                                "authentication",
                                authentication,
                                "privacy",
                                privacy,
                                "privacyPassword",
                                passwords.size() > 1 ? passwords.get(1) : ""));
            }
            common.service().put("/api/logins/" + Service.encode(name), login);
            System.err.printf("The login %s is set.%n", name);
            return 0;
        }
    }

    @Command(
            name = "forget-key",
            description =
                    "Forget the host key of a device, jump host or console server that was"
                            + " replaced; the next one is believed.",
            mixinStandardHelpOptions = true)
    static final class ForgetKey implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE|HOST:PORT")
        String name = "";

        @Override
        public Integer call() {
            common.service()
                    .delete(
                            "/api/%s/%s/host-key"
                                    .formatted(
                                            name.contains(":") ? "stops" : "devices",
                                            Service.encode(name)));
            return 0;
        }
    }
}
