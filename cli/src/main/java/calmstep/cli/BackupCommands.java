package calmstep.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
        name = "backup",
        description = "Configurations, and what else was pulled off devices.",
        mixinStandardHelpOptions = true,
        subcommands = {
            BackupCommands.Take.class,
            BackupCommands.ListAll.class,
            BackupCommands.Show.class,
            BackupCommands.Compare.class,
            BackupCommands.PutBack.class,
            BackupCommands.GetOut.class
        })
final class BackupCommands {
    @Command(
            name = "list",
            description = "The backups of a device, newest first.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String device = "";

        @Override
        public Integer call() {
            JsonNode backups =
                    common.service()
                            .get("/api/devices/%s/backups".formatted(Service.encode(device)));
            Table table = columns();
            backups.forEach(b -> addRow(b, table));
            common.out()
                    .print(
                            backups,
                            table,
                            "%s has no backup yet; a run makes them.".formatted(device));
            tellWhatIsNotKept();
            return 0;
        }

        private static Table columns() {
            Table table =
                    new Table()
                            .column("id", 0)
                            .column("what", 1)
                            .column("taken", 2)
                            .column("bytes", 4)
                            .column("SHA-256", 3);
            return table;
        }

        private void tellWhatIsNotKept() {
            if (common.out().isForPeople()) {
                common.service()
                        .get("/api/devices/%s/keeps".formatted(Service.encode(device)))
                        .path("cannotGive")
                        .forEach(
                                what ->
                                        System.out.print(
                                                Output.paragraph(
                                                        "Cannot be kept: ", what.asString())));
            }
        }

        private static void addRow(JsonNode b, Table table) {
            table.row(
                    b.path("id").asLong(),
                    b.path("kind").asString(),
                    Ago.date(b.path("takenAt")),
                    b.path("sizeBytes").asLong(),
                    b.path("sha256").asString().substring(0, 16) + "…");
        }
    }

    @Command(
            name = "show",
            description = "What was kept, with its secrets masked.",
            mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String device = "";

        @Parameters(paramLabel = "ID", index = "1")
        long id;

        @Override
        public Integer call() {
            System.out.print(
                    common.service()
                            .getText(
                                    "/api/devices/%s/backups/%s/text"
                                            .formatted(Service.encode(device), id)));
            return 0;
        }
    }

    @Command(
            name = "take",
            description =
                    "Back up devices now: those named, or those of a selection; neither means all."
                            + " All that its family can give of a device is kept, or nothing.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep backup take --where site:dunmere"})
    static final class Take implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", arity = "0..*")
        List<String> names = List.of();

        @Option(names = "--where", paramLabel = "SELECTION", description = FleetCommands.WHERE)
        String where = "";

        @Override
        public Integer call() throws InterruptedException {
            Service service = common.service();
            JsonNode job =
                    FollowedJob.toItsEnd(
                            service,
                            service.post("/api/backups", Map.of("devices", names, "where", where)),
                            "backed up");
            int failed = job.path("failed").asInt();
            StringBuilder text =
                    new StringBuilder(
                            "%s backed up, %s not."
                                    .formatted(job.path("done").asInt() - failed, failed));
            job.path("troubles").forEach(trouble -> text.append("\n  ").append(trouble.asString()));
            common.out().print(job, text.toString());
            return failed == 0 ? 0 : Problem.STOPS;
        }
    }

    @Command(
            name = "compare",
            description =
                    "A backup against another one, or against what runs now where no other is"
                            + " named. Lines that mean nothing are left out, secrets masked.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Exit code 1 says that they differ. Example, on the demo:",
                "  calmstep backup compare rt-dunmere-1 1"
            })
    static final class Compare implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String device = "";

        @Parameters(paramLabel = "ID", index = "1")
        long id;

        @Parameters(
                paramLabel = "OTHER",
                index = "2",
                arity = "0..1",
                description = "another backup of the device")
        @Nullable Long other;

        @Override
        public Integer call() {
            JsonNode difference = compared();
            common.out()
                    .print(
                            difference,
                            told(
                                    difference,
                                    "Nothing differs.",
                                    other == null ? "what runs now" : "backup " + other));
            return difference.path("same").asBoolean() ? 0 : Problem.STOPS;
        }

        private JsonNode compared() {
            JsonNode difference =
                    common.service()
                            .get(
                                    "/api/devices/%s/backups/%s/comparison%s"
                                            .formatted(
                                                    Service.encode(device),
                                                    id,
                                                    other == null ? "" : "?with=" + other));
            return difference;
        }
    }

    @Command(
            name = "put-back",
            description =
                    "Write a backup into its device, or into the unit that replaces it; a"
                            + " configuration is saved. No run may drive the device meanwhile.",
            mixinStandardHelpOptions = true)
    static final class PutBack implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String device = "";

        @Parameters(paramLabel = "ID", index = "1")
        long id;

        @Option(
                names = "--sure",
                paramLabel = "DEVICE",
                description =
                        "the device's name once more: its whole configuration, or what else the"
                                + " backup holds, is replaced",
                required = true)
        String sure = "";

        @Override
        public Integer call() {
            mustBeSure();
            JsonNode left = putBack();
            common.out()
                    .print(
                            left,
                            told(
                                    left,
                                    "Backup %s is on %s; every line of it is there."
                                            .formatted(id, device),
                                    "what runs on %s now".formatted(device)));
            return left.path("same").asBoolean() ? 0 : Problem.STOPS;
        }

        private JsonNode putBack() {
            JsonNode left =
                    common.service()
                            .post(
                                    "/api/devices/%s/backups/%s/put-back"
                                            .formatted(Service.encode(device), id),
                                    Map.of());
            return left;
        }

        private void mustBeSure() {
            if (!sure.equals(device)) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "Expected --sure %s, saw --sure %s: what %s holds of it is replaced as a whole."
                                .formatted(device, sure, device),
                        List.of());
            }
        }
    }

    @Command(
            name = "get-out",
            description =
                    "What was kept with its secrets in clear, into a file that only its owner may"
                            + " read: for licence keys and certificates that a new unit needs by"
                            + " hand. For admins; the trail tells who did it, and why.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep backup get-out fw-dunmere 7 --to keys.txt --why 'the left side was"
                        + " swapped'"
            })
    static final class GetOut implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String device = "";

        @Parameters(paramLabel = "ID", index = "1")
        long id;

        @Option(names = "--to", paramLabel = "FILE", required = true, description = "a new file")
        Path file = Path.of("");

        @Option(names = "--why", required = true, description = "kept in the trail")
        String why = "";

        @Override
        public Integer call() {
            common.service()
                    .postForSecretFile(
                            "/api/devices/%s/backups/%s/clear-text"
                                    .formatted(Service.encode(device), id),
                            Map.of("why", why),
                            file);
            common.out()
                    .print(
                            JsonMapper.shared()
                                    .valueToTree(
                                            Map.of(
                                                    "device",
                                                    device,
                                                    "backup",
                                                    id,
                                                    "file",
                                                    file.toString())),
                            "The backup %s of %s is in %s, with its secrets in clear; the trail tells of it."
                                    .formatted(id, device, file));
            return 0;
        }
    }

    private static String told(JsonNode difference, String same, String with) {
        if (difference.path("same").asBoolean()) {
            return same;
        }
        StringBuilder text = new StringBuilder("Against %s:".formatted(with));
        difference
                .path("dropped")
                .forEach(line -> text.append("\n  gone  ").append(line.asString()));
        difference.path("added").forEach(line -> text.append("\n  new   ").append(line.asString()));
        return text.toString();
    }
}
