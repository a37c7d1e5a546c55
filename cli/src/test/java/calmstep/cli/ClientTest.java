package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

class ClientTest {
    private static final String CATALOGUE = "../demo/catalogue/osmer-r6.yaml";
    private static final String INVENTORY = "../demo/inventory.yaml";

    private record Said(int exitCode, String out, String err) {}

    private static Said run(String... words) {
        PrintStream out = System.out;
        PrintStream err = System.err;
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        ByteArrayOutputStream complained = new ByteArrayOutputStream();
        try {
            System.setOut(new PrintStream(said, true, StandardCharsets.UTF_8));
            System.setErr(new PrintStream(complained, true, StandardCharsets.UTF_8));
            return new Said(
                    Main.commandLine(words).execute(words),
                    said.toString(StandardCharsets.UTF_8),
                    complained.toString(StandardCharsets.UTF_8));
        } finally {
            System.setOut(out);
            System.setErr(err);
        }
    }

    private static Said path(String device, String... more) {
        List<String> words =
                new ArrayList<>(
                        List.of(
                                "path",
                                device,
                                "--catalogue",
                                CATALOGUE,
                                "--inventory",
                                INVENTORY));
        words.addAll(List.of(more));
        return run(words.toArray(String[]::new));
    }

    @Test
    void aTableLosesColumnsAndNeverLines() {
        Table table = new Table().column("device", 0).column("what to know", 9).column("site", 1);
        table.row("rt-1", "x".repeat(90), "Dunmere").row("rt-2", "", "Eskholm");
        assertThat(table.text()).isEqualTo("device  site\nrt-1    Dunmere\nrt-2    Eskholm\n");
        assertThat(table.csv())
                .startsWith("device,what to know,site\r\nrt-1,xxx")
                .endsWith("rt-2,,Eskholm\r\n");
        assertThat(new Table().column("a", 0).row("say \"no\", then\ngo").csv())
                .isEqualTo("a\r\n\"say \"\"no\"\", then\ngo\"\r\n");
    }

    @Test
    void aParagraphFitsAndKeepsItsWords() {
        String text = "word ".repeat(60).strip();
        String paragraph = Output.paragraph("  seen: ", text);
        assertThat(paragraph.lines()).allMatch(line -> line.length() <= 100).hasSizeGreaterThan(2);
        assertThat(paragraph.replaceAll("\\s+", " ").strip()).isEqualTo("seen: " + text);
        assertThat(Output.paragraph("  - ", "y".repeat(150)))
                .as("a word that fits nowhere stands alone")
                .isEqualTo("  - " + "y".repeat(150) + "\n");
    }

    @Test
    void everyCommandHelpsWithinAHundredColumnsAndExamplesNameRealCommands() {
        CommandLine top = Main.commandLine();
        List<CommandLine> all = new ArrayList<>(List.of(top));
        for (int i = 0; i < all.size(); i++) {
            all.addAll(all.get(i).getSubcommands().values());
        }
        assertThat(all).hasSizeGreaterThan(30);
        for (CommandLine command : all) {
            StringWriter help = new StringWriter();
            command.usage(new PrintWriter(help));
            assertThat(help.toString().lines().filter(line -> !line.contains("--catalogue demo")))
                    .as(command.getCommandName())
                    .allMatch(line -> line.length() <= 100);
            help.toString()
                    .lines()
                    .map(String::strip)
                    .filter(line -> line.startsWith("calmstep "))
                    .forEach(
                            example -> {
                                CommandLine at = top;
                                String[] words = example.split(" ");
                                for (int i = 1;
                                        i < words.length
                                                && at.getSubcommands().containsKey(words[i]);
                                        i++) {
                                    at = at.getSubcommands().get(words[i]);
                                }
                                assertThat(at).as(example).isNotSameAs(top);
                            });
        }
    }

    @Test
    void worksOutAPathWithoutAService() {
        Said said = path("rt-dunmere-1", "--to", "recommended");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out())
                .contains("1    2.4.0  2.6.3")
                .contains("2    2.6.3  2.8.2")
                .contains("osmer/settings-28")
                .contains("as the inventory says");
        assertThat(path("rt-dunmere-1", "--to", "2.4.0").out()).contains("Nothing to do");
        assertThat(path("rt-dunmere-1", "--to", "recommended", "--output", "json").out())
                .contains("\"outcome\" : \"found\"");
        assertThat(path("rt-dunmere-1", "--to", "recommended", "--output", "yaml").out())
                .contains("outcome: found");
    }

    @Test
    void answersForHardwareThatNobodyOwnsAndForASelection() {
        Said imagined =
                run(
                        "path",
                        "--family",
                        "osmer-r6",
                        "--model",
                        "R6-4",
                        "--revision",
                        "B",
                        "--runs",
                        "2.6.3",
                        "--to",
                        "2.8.2",
                        "--catalogue",
                        CATALOGUE);
        assertThat(imagined.out())
                .contains("nobody owns it")
                .contains("4 min  osmer-r6b-2.8.2.img")
                .contains(
                        "Not for hop 1: osmer-r6c-2.8.2.img: it is for revision C, this one is"
                                + " revision B.");
        Said selected =
                run(
                        "path",
                        "--where",
                        "site:eskholm",
                        "--to",
                        "2.8.2",
                        "--output",
                        "csv",
                        "--catalogue",
                        CATALOGUE,
                        "--inventory",
                        INVENTORY);
        assertThat(selected.out())
                .startsWith("device,runs,way")
                .contains("rt-eskholm-1,2.6.3,2.8.2,1,")
                .doesNotContain("rt-dunmere-1");
    }

    @Test
    void anAnswerThatIsNoListIsNoCsv() {
        Said said = path("rt-dunmere-1", "--output", "csv");
        assertThat(said.exitCode()).isEqualTo(2);
        assertThat(said.err()).contains("CSV holds lists only");
    }

    @Test
    void saysWhyThereIsNoPathAndHowFarItGoes() {
        Said said = path("rt-dunmere-1", "--to", "2.8.0");
        assertThat(said.exitCode()).isEqualTo(1);
        assertThat(said.out())
                .contains("One thing stands in the way")
                .contains("2.8.0 was withdrawn by its maker")
                .contains("It can reach 2.8.2 today");
    }

    @Test
    void aWrongCallSaysWhatIsWrong() throws Exception {
        assertThat(path("nobody"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(2);
                            assertThat(said.err())
                                    .contains("There is no device \"nobody\" in the inventory");
                        });
        assertThat(path("rt-dunmere-1", "--to", "new").err())
                .contains("Expected a version such as \"2.4.0\", saw \"new\"");
        assertThat(path("rt-dunmere-1", "--prefer", "luck").err())
                .contains("Expected fewest-restarts, shortest-dark or proven");
        assertThat(run("path", "rt-dunmere-1", "--catalogue", CATALOGUE).err())
                .contains("expected --catalogue and --inventory");
        assertThat(run("path", "--catalogue", CATALOGUE, "--inventory", INVENTORY).err())
                .contains("Expected one of: the name of a device");
        assertThat(
                        run(
                                        "path",
                                        "--where",
                                        "standing:behind",
                                        "--catalogue",
                                        CATALOGUE,
                                        "--inventory",
                                        INVENTORY)
                                .err())
                .contains("are the service's to tell");
        assertThat(
                        run(
                                        "path",
                                        "--family",
                                        "tarnel-t2",
                                        "--runs",
                                        "5.4.1",
                                        "--catalogue",
                                        CATALOGUE)
                                .err())
                .contains("None of the catalogues is of the family \"tarnel-t2\"");
        assertThat(
                        run(
                                        "path",
                                        "rt-dunmere-1",
                                        "--catalogue",
                                        "gone.yaml",
                                        "--inventory",
                                        INVENTORY)
                                .err())
                .contains("There is no file gone.yaml here");
    }

    @Test
    void aFileThatCannotBeReadIsTakenApartInWords(@TempDir Path folder) throws Exception {
        Path broken = Files.writeString(folder.resolve("broken.yaml"), "catalogue: 1\nfamly: x\n");
        assertThat(
                        run(
                                "path",
                                "rt-dunmere-1",
                                "--catalogue",
                                broken.toString(),
                                "--inventory",
                                INVENTORY))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(2);
                            assertThat(said.err())
                                    .contains(
                                            "broken.yaml:2:1: The key \"famly\" is not known here;"
                                                    + " did you mean \"family\"?");
                        });
    }

    @Test
    void aServiceThatIsNotThereHasAnExitCodeOfItsOwn() {
        Said said = run("fleet", "list", "--url", "http://127.0.0.1:1");
        assertThat(said.exitCode()).isEqualTo(4);
        assertThat(said.err())
                .contains("The service at http://127.0.0.1:1 is not reachable")
                .contains("CALMSTEP_URL");
    }
}
