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

/** Plans as files, and copies of plans. */
final class PlanFileCommands {
    private PlanFileCommands() {}

    @Command(
            name = "export",
            description = "What was asked of a plan, as a plan file.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep plan export winter --to winter.yaml"
            })
    static final class Export implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(
                names = "--to",
                paramLabel = "FILE",
                description = "written; what is there is replaced (default: printed)")
        @Nullable Path file;

        @Override
        public Integer call() {
            String text =
                    common.service().getText("/api/plans/%s/file".formatted(Service.encode(name)));
            if (file == null) {
                System.out.print(text);
                return 0;
            }
            GivenFile.write(file, text);
            return 0;
        }
    }

    @Command(
            name = "import",
            description = "Work out what a plan file asks for.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep plan import winter.yaml"})
    static final class Import implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Override
        public Integer call() {
            return PlanCommands.tell(
                    common,
                    common.service()
                            .postText(
                                    "/api/plans/file?file=" + Service.encode(file.toString()),
                                    "application/yaml",
                                    GivenFile.read(file)));
        }
    }

    @Command(
            name = "copy",
            description = "The same plan under another name, worked out from what is known now.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep plan copy winter winter-again"})
    static final class Copy implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME", index = "0")
        String name = "";

        @Parameters(paramLabel = "NEW-NAME", index = "1")
        String under = "";

        @Override
        public Integer call() {
            return PlanCommands.tell(
                    common,
                    common.service()
                            .post(
                                    "/api/plans/%s/copies".formatted(Service.encode(name)),
                                    Map.of("name", under)));
        }
    }

    @Command(
            name = "work-out",
            description =
                    "The nights of a plan file from files alone, without a service: as the"
                            + " inventory knows its devices.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, with the demo's files:",
                "  calmstep plan work-out winter.yaml --inventory demo/northmere.yaml --windows"
                        + " demo/windows.yaml --catalogue demo/catalogue/*.yaml"
            })
    static final class WorkOut implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Option(names = "--inventory", required = true, paramLabel = "FILE")
        Path inventory = Path.of("");

        @Option(
                names = "--windows",
                paramLabel = "FILE",
                description = "needed unless the plan begins now or at a moment")
        @Nullable Path windows;

        @Option(names = "--catalogue", required = true, paramLabel = "FILE", arity = "1..*")
        List<Path> catalogues = List.of();

        @Mixin NightCommands.Shown shown = new NightCommands.Shown();

        @Override
        public Integer call() {
            NightsFromFiles worked = NightsFromFiles.read(file, inventory, windows, catalogues);
            return NightCommands.tell(common, worked.nights(), shown, worked.left());
        }
    }
}
