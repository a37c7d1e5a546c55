package calmstep.cli;

import java.util.List;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** {@code calmstep}. */
@Command(
        name = "calmstep",
        mixinStandardHelpOptions = true,
        version = "calmstep 0.1.0",
        description = "Plans and runs firmware upgrades over a fleet of devices, one calm step at a time.",
        footer = {"", "Example, on the demo:", "  calmstep path rt-dunmere-1 --to 2.8.2", "", "Settings: CALMSTEP_URL, CALMSTEP_TOKEN, CALMSTEP_CONFIG (folder of the sign-in), NO_COLOR."})
public final class Main {
    private static final List<String> NOUNS =
            List.of("sign-in", "fleet", "releases", "shelf", "path", "plan", "run", "backup", "record", "people", "generate-completion");

    private Main() {}

    public static void main(String[] arguments) {
        System.exit(commandLine(arguments).execute(arguments));
    }

    /** Only the noun that is called is built: reading the annotations of all of them would take most of the start. */
    static CommandLine commandLine(String... arguments) {
        CommandLine line = new CommandLine(new Main());
        if (!List.of(arguments).equals(List.of("--version"))) {
            List<String> called = arguments.length > 0 && NOUNS.contains(arguments[0]) ? List.of(arguments[0]) : NOUNS;
            for (String name : called) {
                line.addSubcommand(name, noun(name));
            }
        }
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

    private static Object noun(String name) {
        return switch (name) {
            case "sign-in" -> new PeopleCommands.SignIn();
            case "fleet" -> new FleetCommands();
            case "releases" -> new ReleasesCommands();
            case "shelf" -> new ShelfCommands();
            case "path" -> new PathCommand();
            case "plan" -> new PlanCommands();
            case "run" -> new RunCommands();
            case "backup" -> new BackupCommands();
            case "record" -> new RecordCommands();
            case "people" -> new PeopleCommands();
            default -> new AutoComplete.GenerateCompletion();
        };
    }
}
