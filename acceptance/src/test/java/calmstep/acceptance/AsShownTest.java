package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.Fault;
import calmstep.practice.Machine;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * What a device shows goes before what somebody wrote down or remembers: which box it is, what it
 * is configured with right before its change, what it runs afterwards, also while a person holds
 * it.
 */
class AsShownTest {
    private static final List<String> NAMES =
            List.of(
                    "rt-mistaken",
                    "rt-line",
                    "rt-held",
                    "rt-again",
                    "rt-console",
                    "rt-other",
                    "rt-mended",
                    "rt-two",
                    "rt-back");
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        String fleet = TroubleTest.fleet(NAMES);
        int two = fleet.indexOf("- name: rt-two");
        house =
                House.of(
                        17,
                        fleet.substring(0, two)
                                + fleet.substring(two)
                                        .replace(
                                                "running: osmer-r6c-2.6.3",
                                                "running: osmer-r6c-2.4.0"));
        house.prepared(TroubleTest.inventory(house, NAMES));
        house.client(house.adminPassword(), "sign-in", "--name", "admin", "--password-stdin");
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static void toTheGate(String device) {
        house.approvedPlan("of-" + device, "2.8.2", device);
        house.start("of-" + device);
        house.awaitGate("of-" + device, device);
    }

    /** Its inventory line says revision B, the box says C: B's image would be the wrong one. */
    @Test
    void aBoxThatIsNotTheWrittenOneIsFoundBeforeAnythingIsDoneToIt() throws Exception {
        House.must(
                house.call(
                        "POST",
                        "/api/inventory?file=mistaken.yaml",
                        TroubleTest.inventory(house, NAMES)
                                .replaceFirst(
                                        "(name: rt-mistaken, .*?)revision: C", "$1revision: B")));
        assertThat(house.client("", "path", "rt-mistaken", "--to", "2.8.2").out())
                .contains("revision C (the device says so)")
                .contains("osmer-r6c-2.8.2.img")
                .doesNotContain("osmer-r6b-2.8.2.img │");
        House.Said plan =
                house.client("", "plan", "draft", "mistaken", "rt-mistaken", "--to", "2.8.2");
        assertThat(plan.exitCode()).as("a stop").isEqualTo(1);
        assertThat(plan.out().replaceAll("\\s+", " "))
                .contains("revision B is written, revision C is shown")
                .contains("calmstep fleet as-read rt-mistaken");
        assertThat(house.client("", "fleet", "list", "--where", "is:not-as-written").out())
                .contains("rt-mistaken")
                .doesNotContain("rt-other");
        assertThat(
                        house.client(
                                        "",
                                        "fleet",
                                        "as-read",
                                        "rt-mistaken",
                                        "--why",
                                        "exchanged in May")
                                .exitCode())
                .isZero();
        assertThat(house.client("", "plan", "again", "mistaken").out())
                .doesNotContain("is written")
                .contains("ready");
        assertThat(house.get("/api/devices/rt-mistaken").path("revision").asString())
                .isEqualTo("C");
    }

    /** The backup is of the change, not of the preparation. */
    @Test
    void aLineThatAColleagueSavesAfterStagingIsTakenOverByAPersonAndKept() {
        toTheGate("rt-line");
        String line = "way 192.0.2.77/32 by a colleague";
        house.machine("rt-line").changeSettings(line);
        house.machine("rt-line").keepSettings();
        house.go("of-rt-line", "rt-line");
        assertThat(house.awaitEnd("of-rt-line", "rt-line", Duration.ofMinutes(2)))
                .isEqualTo("stuck");
        JsonNode trouble = house.unit("of-rt-line", "rt-line").path("trouble");
        assertThat(trouble.path("step").asString()).isEqualTo("choose-boot");
        assertThat(trouble.path("expected").asString())
                .contains("backed up before its images were brought");
        assertThat(trouble.path("seen").asString()).contains("somebody changed it since");
        assertThat(trouble.path("lastLines").toString()).contains("+ " + line);
        assertThat(trouble.path("ways").toString()).contains("take-over").doesNotContain("return");
        assertThat(house.machine("rt-line").restarts()).isEmpty();
        String takeOver = "/api/runs/of-rt-line/units/rt-line/take-over";
        assertThat(house.call("POST", takeOver, Map.of("why", "")).detail()).contains("Say why");
        House.must(house.call("POST", takeOver, Map.of("why", "the new way stays")));
        assertThat(house.awaitEnd("of-rt-line", "rt-line", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.unit("of-rt-line", "rt-line").path("doubt").isNull())
                .as("the upgrade is not blamed for it")
                .isTrue();
        JsonNode newest =
                house.get("/api/devices/rt-line/backups")
                        .valueStream()
                        .filter(backup -> backup.path("kind").asString().equals("running"))
                        .findFirst()
                        .orElseThrow();
        assertThat(
                        house.call(
                                        "GET",
                                        "/api/devices/rt-line/backups/%s/text"
                                                .formatted(newest.path("id").asLong()),
                                        null)
                                .body())
                .as("what would be put back has the line")
                .contains(line);
    }

    /** Holding stops what is new; what was begun is waited for and proven. */
    @Test
    void aHeldUnitIsWatchedUntilItIsProven() {
        toTheGate("rt-held");
        house.go("of-rt-held", "rt-held");
        Await.until(
                Duration.ofSeconds(30),
                "it went down",
                () ->
                        house.step("of-rt-held", "rt-held", "restart")
                                .path("state")
                                .asString()
                                .equals("done"));
        String held = "/api/runs/of-rt-held/units/rt-held/";
        House.must(house.call("POST", held + "hold", Map.of()));
        Await.until(
                Duration.ofSeconds(60),
                "its watch is over",
                () ->
                        house.step("of-rt-held", "rt-held", "soak")
                                .path("state")
                                .asString()
                                .equals("done"));
        assertThat(house.unit("of-rt-held", "rt-held").path("held").asBoolean()).isTrue();
        assertThat(house.step("of-rt-held", "rt-held", "tidy").path("state").asString())
                .isEqualTo("due");
        House.must(house.call("POST", held + "resumption", Map.of()));
        assertThat(house.awaitEnd("of-rt-held", "rt-held", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.get("/api/devices/rt-held/history").toString())
                .as("each word, with who said it")
                .contains("\"said\"", "holds rt-held", "admin");
    }

    /** What it says there alone, and to nobody who signs in. */
    @Test
    void whatItSaysOnItsConsoleLineAtItsRestartIsHeardKeptAndJudged() throws Exception {
        toTheGate("rt-console");
        house.machine("rt-console").add(Fault.COMPLAINS_AT_ITS_START);
        house.go("of-rt-console", "rt-console");
        String complaint = "settings: line 3 not understood: person steward secret ••••••";
        assertThat(house.awaitDoubt("of-rt-console", "rt-console"))
                .containsExactly("while it started, it said on its console line: " + complaint);
        assertThat(house.client("", "run", "show", "of-rt-console").out())
                .contains("It runs 2.8.2 and was watched to the end, and this is odd:");
        assertThat(house.client("", "run", "talk", "of-rt-console", "rt-console").out())
                .contains("on its console line:", "    going down for a restart")
                .contains("    start: trying osmer-r6c-2.8.2.img", "    " + complaint)
                .as("its answer has its own heading, whether it was heard before it or after it")
                .containsPattern("(typed: do restart|answered:)\\R +do restart")
                .doesNotContain("9c41d07be2");
        assertThat(house.awaitEnd("of-rt-console", "rt-console", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        House.Said followed =
                house.client("", "run", "talk", "of-rt-console", "rt-console", "--follow");
        assertThat(followed.exitCode()).isZero();
        assertThat(followed.out()).as("nothing more is done to it").contains(complaint);
        Path evidence = house.home().resolve("console.zip");
        house.client("", "record", "save", "of-rt-console", "--to", evidence.toString());
        try (FileSystem zip = FileSystems.newFileSystem(evidence);
                Stream<Path> files = Files.walk(zip.getPath("/"))) {
            Path talk =
                    files.filter(file -> file.toString().startsWith("/talk/"))
                            .filter(Files::isRegularFile)
                            .findFirst()
                            .orElseThrow();
            assertThat(Files.readString(talk)).contains(complaint);
        }
    }

    /** A plan may say to go on; then it says that it does, and what was odd is not forgotten. */
    @Test
    void whatIsOddBetweenTwoRestartsIsJudgedAtTheEndWhereThePlanSaysSo() throws Exception {
        Path plan =
                Files.writeString(
                        house.home().resolve("two.yaml"),
                        """
                        plan: 1
                        name: two
                        to: 2.8.2
                        devices: [rt-two]
                        when-odd: go-on
                        """);
        House.Said imported = house.client("", "plan", "import", plan.toString());
        assertThat(imported.out()).as(imported.err()).contains("two");
        assertThat(house.get("/api/plans/two").path("findings").toString())
                .contains("What is odd behind a restart does not stop the next restart");
        house.acknowledge("two");
        House.must(house.call("POST", "/api/plans/two/approval", Map.of()));
        house.start("two");
        house.awaitGate("two", "rt-two");
        assertThat(house.unit("two", "rt-two").path("gate").path("question").asString())
                .contains("What is odd behind one restart does not stop the next");
        house.machine("rt-two").add(Fault.COMPLAINS_AT_ITS_START);
        house.go("two", "rt-two");
        assertThat(house.awaitDoubt("two", "rt-two"))
                .singleElement()
                .asString()
                .contains("settings: line 3 not understood");
        assertThat(house.unit("two", "rt-two").path("doubt").path("stands").asString())
                .isEqualTo("It runs 2.8.2 and was watched to the end");
        assertThat(house.machine("rt-two").restarts()).hasSize(2);
        assertThat(house.get("/api/runs/two/events").toString())
                .contains("goes on although something is odd behind hop 1");
        assertThat(house.awaitEnd("two", "rt-two", Duration.ofMinutes(2))).isEqualTo("settled");
    }

    /** What was lost for a while and is there again, nobody has to have accepted. */
    @Test
    void aLineThatIsBackBeforeTheUnitSettlesIsNotLostInItsRecord() {
        toTheGate("rt-mended");
        Machine machine = house.machine("rt-mended");
        List<String> lines = new ArrayList<>(machine.keptSettings());
        machine.add(Fault.REWRITES_A_LINE);
        house.go("of-rt-mended", "rt-mended");
        assertThat(house.awaitDoubt("of-rt-mended", "rt-mended"))
                .singleElement()
                .asString()
                .startsWith("configuration line dropped or rewritten");
        String unit = "/api/runs/of-rt-mended/units/rt-mended/";
        House.must(house.call("POST", unit + "refusal", Map.of("why", "it is needed")));
        lines.removeAll(machine.keptSettings());
        lines.forEach(machine::changeSettings);
        House.must(house.call("POST", unit + "retry", null));
        assertThat(house.awaitEnd("of-rt-mended", "rt-mended", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.unit("of-rt-mended", "rt-mended").path("doubt").isNull()).isTrue();
        JsonNode line =
                Await.until(
                                Duration.ofSeconds(30),
                                "the record is made",
                                () -> house.call("GET", "/api/records/of-rt-mended/account", null),
                                answer -> answer.status() == 200)
                        .json()
                        .path("units")
                        .get(0);
        assertThat(line.path("lost")).as("of " + lines).isEmpty();
    }

    /**
     * Back to what it ran before the night as far as the catalogue opens the way, and where it does
     * not, the card says so before anybody decides.
     */
    @Test
    void aUnitGoesBackOverAllItsHopsWhereItsCatalogueOpensTheWay() throws Exception {
        toTheGate("rt-back");
        house.go("of-rt-back", "rt-back");
        Await.until(
                Duration.ofMinutes(2),
                "it is behind its first restart",
                () -> house.machine("rt-back").release().equals("2.6.3"));
        house.machine("rt-back").add(Fault.STARTS_THE_OLD_IMAGE);
        assertThat(house.awaitEnd("of-rt-back", "rt-back", Duration.ofMinutes(2)))
                .isEqualTo("stuck");
        assertThat(house.client("", "run", "show", "of-rt-back").out().replaceAll("\\s+", " "))
                .contains(
                        "calmstep run return of-rt-back rt-back --why WHY back to 2.6.3, and no"
                                + " farther: its catalogue opens no way from 2.6.3 to 2.4.0");
        catalogue("osmer-r6c-2.6.3.img", "osmer-r6c-2.6.3-another.img");
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/runs/of-rt-back/units/rt-back/return",
                                        Map.of("why", "it ran before"))
                                .detail())
                .as("what it ran cannot be proven any more")
                .contains("osmer-r6c-2.6.3.img before, and no catalogue publishes it")
                .contains("Go back by hand");
        catalogue(
                "  - id: osmer/open-water",
                "  - { id: osmer/back-to-240, to: 2.4.0, from: 2.6.3, opens-down: true, source:"
                        + " release note 2.6.3, says: 2.6.3 opens the way back }\n"
                        + "  - id: osmer/open-water");
        Await.until(
                Duration.ofSeconds(20),
                "the card says that the way is open",
                () -> house.unit("of-rt-back", "rt-back").path("trouble").path("back").asString(),
                "to 2.4.0 by way of 2.6.3"::equals);
        House.must(
                house.call(
                        "POST",
                        "/api/runs/of-rt-back/units/rt-back/return",
                        Map.of("why", "both or none")));
        assertThat(house.awaitEnd("of-rt-back", "rt-back", Duration.ofMinutes(3)))
                .as(house.client("", "run", "show", "of-rt-back").out())
                .isEqualTo("returned");
        assertThat(house.machine("rt-back").release()).isEqualTo("2.4.0");
        assertThat(house.get("/api/runs/of-rt-back/events").toString())
                .contains("go back to 2.4.0 by way of 2.6.3: both or none");
    }

    /** That of the demo, with another text in the place of one of its own. */
    private static void catalogue(String text, String other) throws Exception {
        House.must(
                house.call(
                        "POST",
                        "/api/catalogues?file=osmer-r6.yaml",
                        house.demoFile("catalogue/osmer-r6.yaml").replace(text, other)));
    }

    /** It came back on what it ran before, and looking again shows nothing else. */
    @Test
    void aUnitThatCameBackOnItsOldReleaseIsRestartedOnceMore() {
        toTheGate("rt-again");
        house.machine("rt-again").add(Fault.STARTS_THE_OLD_IMAGE);
        house.go("of-rt-again", "rt-again");
        assertThat(house.awaitEnd("of-rt-again", "rt-again", Duration.ofMinutes(2)))
                .isEqualTo("stuck");
        String unit = "/api/runs/of-rt-again/units/rt-again/";
        for (JsonNode way : house.unit("of-rt-again", "rt-again").path("trouble").path("ways")) {
            assertThat(way.asString()).isIn("retry", "again", "return", "replace", "set-aside");
        }
        assertThat(house.call("POST", unit + "take-over", Map.of("why", "x")).detail())
                .as("not offered, and refused")
                .contains("stuck at its check");
        House.must(house.call("POST", unit + "again", Map.of("why", "its start was disturbed")));
        assertThat(house.awaitEnd("of-rt-again", "rt-again", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.machine("rt-again").restarts()).hasSize(2);
        assertThat(house.machine("rt-again").release()).isEqualTo("2.8.2");
    }
}
