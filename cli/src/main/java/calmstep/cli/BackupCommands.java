package calmstep.cli;

import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(name = "backup", description = "Configurations that were pulled off devices.", mixinStandardHelpOptions = true, subcommands = {BackupCommands.ListAll.class, BackupCommands.Show.class})
final class BackupCommands {
    @Command(name = "list", description = "The backups of a device, newest first.", mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String device = "";

        @Override
        public Integer call() {
            JsonNode backups = common.service().get("/api/devices/%s/backups".formatted(Service.encode(device)));
            Table table = new Table().column("id", 0).column("configuration", 1).column("taken", 2).column("bytes", 4).column("SHA-256", 3);
            backups.forEach(b -> table.row(b.path("id").asLong(), b.path("kind").asString(), Ago.date(b.path("takenAt")), b.path("sizeBytes").asLong(), b.path("sha256").asString().substring(0, 16) + "…"));
            common.out().print(backups, table, "%s has no backup yet; a run makes them.".formatted(device));
            return 0;
        }
    }

    @Command(name = "show", description = "A configuration as it was kept, secrets masked.", mixinStandardHelpOptions = true)
    static final class Show implements Callable<Integer> {
        @Mixin
        Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String device = "";

        @Parameters(paramLabel = "ID", index = "1")
        long id;

        @Override
        public Integer call() {
            System.out.print(common.service().getText("/api/devices/%s/backups/%d/text".formatted(Service.encode(device), id)));
            return 0;
        }
    }
}
