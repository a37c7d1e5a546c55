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

@Command(name = "fleet", description = "The devices: as they are described, and as they show themselves.", mixinStandardHelpOptions = true,
        subcommands = {FleetCommands.Import.class, FleetCommands.ListAll.class, FleetCommands.Show.class, FleetCommands.Read.class, FleetCommands.Login.class, FleetCommands.ForgetKey.class})
final class FleetCommands {
    @Command(name = "import", description = "Import an inventory file, as a whole or not at all.", mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet import demo/inventory.yaml --preview"})
    static final class Import implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Option(names = "--preview", description = "only say what would be added and changed")
        boolean preview;

        @Override
        public Integer call() {
            JsonNode done = common.service().postText("/api/inventory?preview=%s&file=%s".formatted(preview, Service.encode(file.toString())), "application/yaml", GivenFile.read(file));
            common.out().print(done, "%sadded: %s%n%schanged: %s%n%sas before: %s".formatted(would(), names(done.path("added")), would(), names(done.path("changed")), would(), names(done.path("unchanged"))));
            return 0;
        }

        private String would() {
            return preview ? "would be " : "";
        }

        private static String names(JsonNode list) {
            return list.isEmpty() ? "none" : list.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
        }
    }

    @Command(name = "list", description = "The fleet: who is behind the maker's recommendation, and who does not answer.", mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Override
        public Integer call() {
            JsonNode devices = common.service().get("/api/devices");
            Table table = new Table().column("device", 0).column("family", 5).column("site", 4).column("runs", 1).column("standing", 2).column("way", 3)
                    .column("to know", 6).column("read", 7);
            devices.forEach(d -> table.row(d.path("name").asString(), d.path("title").asString(), d.path("siteTitle").asString(), d.path("runs").asString("-"), d.path("standing").asString(),
                    d.path("way").valueStream().map(JsonNode::asString).collect(Collectors.joining(" > ")), d.path("toKnow").valueStream().map(JsonNode::asString).collect(Collectors.joining("; ")),
                    Ago.of(d.path("readAt"))));
            common.out().print(devices, table, "The fleet is empty. Import an inventory file: calmstep fleet import FILE");
            return 0;
        }
    }

    @Command(name = "show", description = "One device as it showed itself last.", mixinStandardHelpOptions = true, footer = {"", "Example, on the demo:", "  calmstep fleet show rt-dunmere-1"})
    static final class Show implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            JsonNode device = common.service().get("/api/devices/" + Service.encode(name));
            common.out().print(device, words(device));
            return 0;
        }

        private static String words(JsonNode d) {
            StringBuilder text = new StringBuilder("%s  %s, %s revision %s, serial %s, %s (%s)%n".formatted(d.path("name").asString(), d.path("title").asString(), d.path("model").asString(),
                    d.path("revision").asString(), d.path("serial").asString(), d.path("siteTitle").asString(), d.path("zone").asString()));
            text.append("at %s:%d, login %s, host key %s%n".formatted(d.path("address").asString(), d.path("port").asInt(), d.path("login").asString(),
                    d.path("hostKey").asString("").isEmpty() ? "not seen yet" : d.path("hostKey").asString()));
            if (!d.path("silent").isNull()) {
                text.append("silent since %s. Expected: %s. Seen: %s. %s%n".formatted(Ago.date(d.path("silent").path("at")), d.path("silent").path("expected").asString(),
                        d.path("silent").path("seen").asString(), d.path("silent").path("remedy").asString()));
            }
            JsonNode reading = d.path("reading");
            if (reading.isNull()) {
                return text.append("Never read. Read it with: calmstep fleet read %s".formatted(d.path("name").asString())).toString();
            }
            JsonNode boot = reading.path("boot");
            text.append("%n  runs      %s  (%s)%n  next      %s%s%n  fallback  %s%n".formatted(reading.path("components").path("system").asString(), boot.path("running").asString(),
                    boot.path("next").asString(), boot.path("saved").asBoolean() ? ", saved" : ", NOT saved", boot.path("fallback").asString("").isEmpty() ? "none" : boot.path("fallback").asString()));
            text.append("  settings  %s%n  started   %s%n  read      %s%n".formatted(reading.path("unsavedChanges").asBoolean() ? "unsaved changes" : "saved", reading.path("bootMark").asString(), Ago.of(d.path("readAt"))));
            reading.path("volumes").forEach(v -> {
                text.append("%n  %s: %,d bytes, %,d free%n".formatted(v.path("name").asString(), v.path("sizeBytes").asLong(), v.path("freeBytes").asLong()));
                v.path("files").forEach(f -> text.append("    %-30s %,12d  %s%n".formatted(f.path("name").asString(), f.path("sizeBytes").asLong(), role(boot, f.path("name").asString()))));
            });
            text.append("\n");
            reading.path("facts").forEach(f -> text.append("  %-10s %-16s %s%n".formatted(f.path("kind").asString(), f.path("name").asString(), f.path("value").asString())));
            return text.toString();
        }

        private static String role(JsonNode boot, String file) {
            return List.of("running", "next", "fallback").stream().filter(role -> boot.path(role).asString("").equals(file)).collect(Collectors.joining(", "));
        }
    }

    @Command(name = "read", description = "Read devices now; none named means all.", mixinStandardHelpOptions = true)
    static final class Read implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "DEVICE", arity = "0..*")
        List<String> names = List.of();

        @Override
        public Integer call() throws InterruptedException {
            Service service = common.service();
            JsonNode job = service.post("/api/readings", Map.of("devices", names));
            boolean terminal = System.console() != null && System.console().isTerminal();
            while (job.path("state").asString().equals("under-way")) {
                Thread.sleep(150);
                job = service.get("/api/jobs/" + job.path("id").asLong());
                if (terminal) {
                    System.err.printf("\r%d of %d read", job.path("done").asInt(), job.path("total").asInt());
                }
            }
            if (terminal) {
                System.err.println();
            }
            int failed = job.path("failed").asInt();
            common.out().print(job, "%d read, %d silent.%s".formatted(job.path("done").asInt() - failed, failed, failed == 0 ? "" : " calmstep fleet list says why."));
            return failed == 0 ? 0 : Problem.STOPS;
        }
    }

    @Command(name = "login", description = "Set the user and password that open devices; the password is never shown again.", mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet login steward --user steward"})
    static final class Login implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "LOGIN", description = "the name that the inventory uses")
        String name = "";

        @Option(names = "--user", required = true)
        String user = "";

        @Option(names = "--password-stdin", description = "read the password from standard input")
        boolean passwordStdin;

        @Override
        public Integer call() {
            common.service().put("/api/logins/" + Service.encode(name), Map.of("user", user, "password", PeopleCommands.password(passwordStdin, "Password of the devices: ")));
            System.err.printf("The login %s is set.%n", name);
            return 0;
        }
    }

    @Command(name = "forget-key", description = "Forget the host key of a device that was replaced; the next one is believed.", mixinStandardHelpOptions = true)
    static final class ForgetKey implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            common.service().delete("/api/devices/%s/host-key".formatted(Service.encode(name)));
            return 0;
        }
    }
}
