package calmstep.cli;

import java.util.List;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.IExecutionExceptionHandler;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.ParseResult;

/**
 * {@code calmstep}. The root is put together by hand and only the noun that is called is built:
 * reading annotations costs more than all else in a short call's start.
 */
public final class Main {
    private static final List<String> NOUNS =
            List.of(
                    "sign-in",
                    "fleet",
                    "releases",
                    "shelf",
                    "path",
                    "plan",
                    "rehearse",
                    "run",
                    "backup",
                    "record",
                    "dialect",
                    "notices",
                    "people",
                    "generate-completion");

    private Main() {}

    public static void main(String[] arguments) {
        System.exit(commandLine(arguments).execute(arguments));
    }

    static CommandLine commandLine(String... arguments) {
        CommandLine line = new CommandLine(root());
        if (!List.of(arguments).equals(List.of("--version"))) {
            List<String> called =
                    arguments.length > 0 && NOUNS.contains(arguments[0])
                            ? List.of(arguments[0])
                            : NOUNS;
            for (String name : called) {
                line.addSubcommand(name, noun(name));
            }
        }
        line.setUsageHelpWidth(100);
        line.setUsageHelpAutoWidth(false);
        line.setExecutionExceptionHandler(new TellsProblems());
        return line;
    }

    private static CommandSpec root() {
        CommandSpec root = CommandSpec.create().name("calmstep").version("calmstep 0.1.0");
        root.addOption(
                OptionSpec.builder("-h", "--help")
                        .usageHelp(true)
                        .description("Show this help message and exit.")
                        .build());
        root.addOption(
                OptionSpec.builder("-V", "--version")
                        .versionHelp(true)
                        .description("Print version information and exit.")
                        .build());
        describe(root);
        return root;
    }

    private static void describe(CommandSpec root) {
        root.usageMessage()
                .description(
                        "Plans and runs firmware upgrades over a fleet of devices, one calm step at"
                                + " a time.")
                .footer(
                        "",
                        "Example, on the demo:",
                        "  calmstep path rt-dunmere-1 --to 2.8.2",
                        "",
                        "Settings: CALMSTEP_URL, CALMSTEP_TOKEN, CALMSTEP_CONFIG (folder of the"
                                + " sign-in), NO_COLOR.");
    }

    /** A problem is told in its own words, without a stack trace. */
    private static final class TellsProblems implements IExecutionExceptionHandler {
        @Override
        public int handleExecutionException(Exception problem, CommandLine line, ParseResult call)
                throws Exception {
            if (problem instanceof Problem told) {
                System.err.println(told.getMessage());
                told.details().forEach(detail -> System.err.println("  " + detail));
                return told.exitCode();
            }
            throw problem;
        }
    }

    private static Object noun(String name) {
        return switch (name) {
            case "sign-in" -> new PeopleCommands.SignIn();
            case "dialect" -> new DialectCommands();
            case "fleet" -> new FleetCommands();
            case "releases" -> new ReleasesCommands();
            case "shelf" -> new ShelfCommands();
            case "path" -> new PathCommand();
            case "plan" -> new PlanCommands();
            case "rehearse" -> new RehearseCommand();
            case "run" -> new RunCommands();
            case "backup" -> new BackupCommands();
            case "record" -> new RecordCommands();
            case "notices" -> new NoticesCommands();
            case "people" -> new PeopleCommands();
            default -> new AutoComplete.GenerateCompletion();
        };
    }
}
