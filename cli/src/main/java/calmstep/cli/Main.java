package calmstep.cli;

import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** {@code calmstep}. */
@Command(
        name = "calmstep",
        mixinStandardHelpOptions = true,
        version = "calmstep 0.1.0",
        description = "Plans and runs firmware upgrades over a fleet of devices, one calm step at a time.",
        footer = {"", "Example, on the demo:", "  calmstep path rt-dunmere-1 --to 2.8.2", "", "Settings: CALMSTEP_URL, CALMSTEP_TOKEN, CALMSTEP_CONFIG (folder of the sign-in), NO_COLOR."},
        subcommands = {
            PeopleCommands.SignIn.class, FleetCommands.class, ReleasesCommands.class, ShelfCommands.class, PathCommand.class, PlanCommands.class, RunCommands.class,
            BackupCommands.class, RecordCommands.class, PeopleCommands.class, AutoComplete.GenerateCompletion.class
        })
public final class Main {
    private Main() {}

    public static void main(String[] arguments) {
        System.exit(commandLine().execute(arguments));
    }

    static CommandLine commandLine() {
        CommandLine line = new CommandLine(new Main());
        line.setUsageHelpWidth(100);
        line.setUsageHelpAutoWidth(false);
        line.setExecutionExceptionHandler((problem, _, _) -> {
            if (problem instanceof Problem told) {
                System.err.println(told.getMessage());
                told.details().forEach(detail -> System.err.println("  " + detail));
                return told.exitCode();
            }
            throw problem;
        });
        return line;
    }
}
