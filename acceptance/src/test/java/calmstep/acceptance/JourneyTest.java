package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The whole job with the command-line client, from an empty house to the record. */
@Order(6)
class JourneyTest {
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(4);
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static String done(String... words) throws Exception {
        House.Said said = house.client("", words);
        assertThat(said.exitCode()).as("%s: %s", String.join(" ", words), said.err()).isZero();
        return said.out();
    }

    private static String inOneLine(String wrapped) {
        return wrapped.replaceAll("\\s+", " ");
    }

    private static Path file(String name) throws Exception {
        return Files.writeString(
                house.home().resolve(name.replace("/", "-")), house.demoFile(name));
    }

    @Test
    void fromTheInventoryFileToTheRecord() throws Exception {
        assertThat(house.client("", "fleet", "list").exitCode()).as("not signed in").isEqualTo(3);
        assertThat(
                        house.client(
                                        house.adminPassword() + "\n",
                                        "sign-in",
                                        "--name",
                                        "admin",
                                        "--password-stdin")
                                .exitCode())
                .isZero();

        assertThat(done("fleet", "import", file("inventory.yaml").toString(), "--preview"))
                .contains("would be added: rt-dunmere-1, rt-eskholm-1");
        assertThat(done("fleet", "list")).contains("The fleet is empty");
        assertThat(done("fleet", "import", file("inventory.yaml").toString()))
                .contains("added: rt-dunmere-1, rt-eskholm-1");
        assertThat(done("fleet", "import", file("inventory.yaml").toString()))
                .contains("as before: rt-dunmere-1, rt-eskholm-1");
        assertThat(
                        house.client(
                                        House.DEVICE_PASSWORD + "\n",
                                        "fleet",
                                        "login",
                                        "steward",
                                        "--user",
                                        "steward",
                                        "--password-stdin")
                                .exitCode())
                .isZero();
        done("releases", "import", file("catalogue/osmer-r6.yaml").toString());
        assertThat(done("fleet", "read")).contains("2 read, 0 silent");
        assertThat(done("fleet", "show", "rt-eskholm-1"))
                .contains("unsaved changes")
                .contains("osmer-r6c-2.6.3.img")
                .contains("running, next")
                .contains("fallback");
        assertThat(
                        done(
                                "shelf",
                                "add",
                                house.image("osmer-r6c-2.6.3.img").toString(),
                                house.image("osmer-r6c-2.8.2.img").toString()))
                .contains("SHA-256 as published");
        assertThat(done("fleet", "list").lines()).allMatch(line -> line.length() <= 100);

        readsThePath();
        plansAndApproves();
        runs();
        readsTheRecord();
        putsABackupBack();
    }

    private static void readsThePath() throws Exception {
        String path = done("path", "rt-dunmere-1", "--to", "2.8.2");
        assertThat(inOneLine(path))
                .contains(
                        "2.8.2 cannot be reached from 2.4.0 directly: 2.8 takes over settings only"
                                + " from 2.6.3 or later")
                .contains("osmer/settings-28")
                .contains("2.6.3 is the stepping stone");
        assertThat(path.lines()).allMatch(line -> line.length() <= 100);
        String withoutService =
                done(
                        "path",
                        "rt-dunmere-1",
                        "--to",
                        "2.8.2",
                        "--catalogue",
                        file("catalogue/osmer-r6.yaml").toString(),
                        "--inventory",
                        file("inventory.yaml").toString(),
                        "--url",
                        "http://127.0.0.1:1");
        assertThat(hops(withoutService)).isEqualTo(hops(path));
        assertThat(house.client("", "path", "rt-dunmere-1", "--to", "2.8.0").exitCode())
                .as("refused")
                .isEqualTo(1);
        assertThat(
                        house.client(
                                        "",
                                        "path",
                                        "rt-dunmere-1",
                                        "--to",
                                        "2.8.2",
                                        "--url",
                                        "http://127.0.0.1:1")
                                .exitCode())
                .as("not reachable")
                .isEqualTo(4);
        assertThat(house.client("", "path", "nobody", "--to", "2.8.2").err())
                .contains("There is no device \"nobody\" here");
    }

    private static String hops(String path) {
        return path.substring(path.indexOf("  hop"));
    }

    private static void plansAndApproves() throws Exception {
        assertThat(done("plan", "draft", "tonight", "--to", "recommended"))
                .contains("rt-eskholm-1/unsaved-changes: save-first or leave-out");
        House.Said early = house.client("", "plan", "approve", "tonight");
        assertThat(early.exitCode()).isEqualTo(1);
        assertThat(early.err()).contains("not ready").contains("changes that were not saved");
        done(
                "plan",
                "acknowledge",
                "tonight",
                "rt-eskholm-1/unsaved-changes",
                "--choice",
                "save-first",
                "--reason",
                "the way stays");
        assertThat(house.client("", "plan", "findings", "tonight", "--only", "open").out())
                .contains("0 of ");
        assertThat(done("plan", "findings", "tonight", "--only", "caution", "--about", "ESKHOLM"))
                .contains("acknowledged: save-first")
                .contains("1 of ");
        assertThat(house.client("", "plan", "findings", "tonight", "--only", "worst").exitCode())
                .as("no such severity")
                .isEqualTo(2);
        rehearses();
        done("plan", "approve", "tonight");
    }

    private static void rehearses() throws Exception {
        assertThat(done("rehearse", "--faults"))
                .contains("stops-in-boot-loader")
                .contains("copies take ten times as long");
        assertThat(house.client("", "rehearse", "tonight", "--fault", "rt-dunmere-1=melts").err())
                .contains("does not know the fault \"melts\"");
        House.Said said =
                house.client(
                        "",
                        "rehearse",
                        "tonight",
                        "--pace",
                        "60",
                        "--fault",
                        "rt-eskholm-1=stops-in-boot-loader");
        assertThat(said.exitCode()).as("one would be stuck: %s", said.err()).isEqualTo(1);
        assertThat(inOneLine(said.out()))
                .contains("1 of 2 units settled")
                .contains("rt-eskholm-1 is stuck at come-back")
                .contains("seen: it stands in its boot loader")
                .containsAnyOf("in time", "late, inside its window");
        assertThat(said.out().lines()).allMatch(line -> line.length() <= 100);
        assertThat(done("rehearse", "tonight", "--list", "--output", "csv")).contains("finished");
        assertThat(done("run", "list")).as("no run").doesNotContain("rehearsal");
        assertThat(done("run", "talk", "tonight~rehearsal-1", "rt-dunmere-1"))
                .contains("do restart");
        assertThat(house.machine("rt-dunmere-1").restarts()).as("no device was touched").isEmpty();
        assertThat(done("fleet", "show", "rt-eskholm-1"))
                .as("still as it was read")
                .contains("unsaved changes");
    }

    private static void runs() throws Exception {
        done("run", "start", "tonight");
        assertThat(house.client("", "run", "start", "tonight").exitCode())
                .as("a plan is used once")
                .isEqualTo(1);
        String watched = done("run", "watch", "tonight", "--until-gate");
        assertThat(inOneLine(watched))
                .contains("At the gate: rt-dunmere-1 restarts 2 times")
                .contains("Without network meanwhile: Dunmere ticket hall and quay office");
        assertThat(house.machine("rt-dunmere-1").restarts())
                .as("nothing restarts before the gate")
                .isEmpty();
        done("run", "go", "tonight", "rt-dunmere-1");
        done("run", "go", "tonight", "rt-eskholm-1");
        assertThat(done("run", "watch", "tonight"))
                .contains("Run tonight finished: 2 of 2 units settled");
        assertThat(house.machine("rt-dunmere-1").release()).isEqualTo("2.8.2");
        assertThat(house.machine("rt-eskholm-1").release()).isEqualTo("2.8.2");
    }

    private static void readsTheRecord() throws Exception {
        Path json = house.home().resolve("record.json");
        Path page = house.home().resolve("record.html");
        done("record", "save", "tonight", "--to", json.toString());
        done("record", "save", "tonight", "--to", page.toString());
        JsonNode record = JsonMapper.shared().readTree(Files.readString(json));
        assertThat(record.path("chainWhole").asBoolean()).isTrue();
        JsonNode dunmere = record.path("units").get(0);
        assertThat(dunmere.path("before").path("components").path("system").asString())
                .isEqualTo("2.4.0");
        assertThat(dunmere.path("after").path("components").path("system").asString())
                .isEqualTo("2.8.2");
        assertThat(dunmere.path("after").path("boot").path("fallback").asString())
                .isEqualTo("osmer-r6c-2.6.3.img");
        assertThat(dunmere.path("backups"))
                .hasSize(4)
                .allSatisfy(
                        backup ->
                                assertThat(backup.path("sha256").asString())
                                        .matches("[0-9a-f]{64}"));
        assertThat(record.path("outcome").path("units").get(0).path("steps"))
                .allSatisfy(step -> assertThat(step.path("finishedAt").asString()).isNotEmpty());
        assertThat(Files.readString(page))
                .contains("What was done in tonight?")
                .contains("Everything typed and answered")
                .contains("do restart")
                .doesNotContain("9c41d07be2");
        assertThat(Files.readString(json))
                .doesNotContain("9c41d07be2")
                .doesNotContain(House.DEVICE_PASSWORD);
        assertThat(done("record", "show", "tonight"))
                .contains("finished", "nothing lost")
                .containsPattern("min, planned 8 min");
        provesTheEvidence();
        String listed = done("record", "list", "--output", "json");
        assertThat(calmstep.core.step.Digests.sha256(Files.readString(json)))
                .isEqualTo(JsonMapper.shared().readTree(listed).get(0).path("sha256").asString());
        assertThat(done("backup", "list", "rt-dunmere-1", "--output", "csv"))
                .startsWith("id,what,taken,bytes,SHA-256\r\n");
        assertThat(done("fleet", "show", "rt-dunmere-1"))
                .as("as the run left it, tidied")
                .contains("osmer-r6c-2.6.3.img")
                .doesNotContain("osmer-r6c-2.4.0.img");
        assertThat(done("fleet", "list"))
                .containsPattern(Pattern.compile("rt-dunmere-1 .*2\\.8\\.2 +there"));
    }

    private static void provesTheEvidence() throws Exception {
        Path table = house.home().resolve("units.csv");
        done("record", "save", "tonight", "--to", table.toString());
        assertThat(Files.readString(table))
                .startsWith("device,site,from,wanted,reached,outcome,")
                .contains("rt-dunmere-1,dunmere,2.4.0,2.8.2,2.8.2,settled,2,");
        Path evidence = house.home().resolve("tonight.zip");
        done("record", "save", "tonight", "--to", evidence.toString());
        Path document = house.home().resolve("tonight.pdf");
        done("record", "save", "tonight", "--to", document.toString());
        assertThat(Files.readString(document, StandardCharsets.ISO_8859_1))
                .startsWith("%PDF-")
                .contains("%%EOF");
        assertThat(done("fleet", "history", "rt-dunmere-1"))
                .contains("go", "stage", "come-back", "prove", "tonight");
        assertThat(done("record", "verify", evidence.toString()))
                .contains("is whole")
                .contains("unbroken chain");
        assertThat(
                        house.client(
                                        "",
                                        "record",
                                        "verify",
                                        evidence.toString(),
                                        "--last-hash",
                                        "0".repeat(64))
                                .out())
                .contains("ends with another hash");
        try (FileSystem zip = FileSystems.newFileSystem(evidence)) {
            Path record = zip.getPath("record.json");
            Files.writeString(
                    record, Files.readString(record).replace("said go for", "said no to"));
        }
        House.Said altered = house.client("", "record", "verify", evidence.toString());
        assertThat(altered.exitCode()).isEqualTo(1);
        assertThat(altered.out())
                .contains("record.json was altered")
                .contains("does not follow from those before it")
                .contains("is NOT what it was");
    }

    private static void putsABackupBack() throws Exception {
        assertThat(done("backup", "take", "rt-dunmere-1")).contains("1 backed up, 0 not");
        String id =
                done("backup", "list", "rt-dunmere-1", "--output", "csv")
                        .lines()
                        .filter(line -> line.contains(",running,"))
                        .findFirst()
                        .orElseThrow()
                        .split(",")[0];
        assertThat(done("backup", "compare", "rt-dunmere-1", id)).contains("Nothing differs");
        house.machine("rt-dunmere-1").changeSettings("person stranger secret 5f00d5f00d");
        House.Said differs = house.client("", "backup", "compare", "rt-dunmere-1", id);
        assertThat(differs.exitCode()).isEqualTo(1);
        assertThat(differs.out())
                .contains("new   person stranger secret ••••••")
                .doesNotContain("5f00d5f00d");
        assertThat(
                        house.client(
                                        "",
                                        "backup",
                                        "put-back",
                                        "rt-dunmere-1",
                                        id,
                                        "--sure",
                                        "rt-dunmere")
                                .exitCode())
                .as("another name is no yes")
                .isEqualTo(2);
        assertThat(done("backup", "put-back", "rt-dunmere-1", id, "--sure", "rt-dunmere-1"))
                .contains("every line of it is there");
        assertThat(done("backup", "compare", "rt-dunmere-1", id)).contains("Nothing differs");
        getsABackupOutInClear(id);
        House.Said silent = house.client("", "backup", "compare", "rt-eskholm-1", id);
        assertThat(silent.err())
                .as("a backup is its own device's")
                .contains("There is no backup \"%s\" here".formatted(id));
    }

    private static void getsABackupOutInClear(String id) throws Exception {
        assertThat(done("backup", "show", "rt-dunmere-1", id))
                .contains("person steward secret ••••••");
        Path file = house.home().resolve("in-clear.txt");
        String[] getOut = {
            "backup", "get-out", "rt-dunmere-1", id, "--to", file.toString(), "--why", "a swap"
        };
        assertThat(done(getOut)).contains("with its secrets in clear; the trail tells of it");
        assertThat(file).content().contains("person steward secret 9c41d07be2");
        assertThat(Files.getPosixFilePermissions(file))
                .as("its owner's alone")
                .isEqualTo(PosixFilePermissions.fromString("rw-------"));
        assertThat(house.client("", getOut).err()).contains("There is a file");
        assertThat(
                        house.ask(
                                "select count(*) from event where text like '%got out in clear: a"
                                        + " swap'"))
                .as("what was not got out is not told")
                .isEqualTo("1");
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/devices/rt-dunmere-1/backups/%s/clear-text"
                                                .formatted(id),
                                        Map.of("why", " "))
                                .detail())
                .contains("Say why it is got out in clear");
    }
}
