package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.Fault;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Devices that misbehave, each in its own way. Every message says what was expected, what was seen
 * and what to do.
 */
@Order(7)
class TroubleTest {
    private static final List<String> NAMES =
            List.of(
                    "rt-good",
                    "rt-asks",
                    "rt-loader",
                    "rt-old",
                    "rt-forgets",
                    "rt-full",
                    "rt-silent",
                    "rt-key",
                    "rt-password",
                    "rt-changed",
                    "rt-damaged",
                    "rt-damages",
                    "rt-cut",
                    "rt-unreached",
                    "rt-link",
                    "rt-gone");
    private static final long FREE_FOR_ONE = 40_000_000;
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.of(2, fleet(NAMES));
        house.prepared(inventory(house, NAMES));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    /** Routers alike, of these names. */
    static String fleet(List<String> names) throws Exception {
        String demo = java.nio.file.Files.readString(House.TOP.resolve("demo/practice-fleet.yaml"));
        StringBuilder text =
                new StringBuilder(demo.substring(0, demo.indexOf("machines:")))
                        .append("machines:\n");
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i);
            text.append(
                    """
                      - name: %s
                        family: osmer-r6
                        address: 127.40.9.%s
                        model: R6-4
                        revision: C
                        serial: OS6-2%s
                        user: steward
                        password: %s
                        flash-bytes: %s
                        files: [osmer-r6c-2.4.0.img, osmer-r6c-2.6.3.img]
                        other-files: { notes.txt: %s }
                        running: osmer-r6c-2.6.3.img
                        fallback: osmer-r6c-2.4.0.img
                        starts-in: 120 s
                        copies-at-bytes-per-second: 200000
                        links: { ge0: up, ge1: up }
                        neighbours: { sw-1: up }
                        settings: |-
                          name %s
                          people
                            person steward secret 9c41d07be2
                    """
                            .formatted(
                                    name,
                                    i + 1,
                                    100 + i,
                                    name.equals("rt-password")
                                            ? "another-one-7719"
                                            : House.DEVICE_PASSWORD,
                                    FREE_FOR_ONE,
                                    name.equals("rt-full") ? 15_000_000 : 1000,
                                    name));
        }
        return text.toString();
    }

    static String inventory(House house, List<String> names) {
        StringBuilder text =
                new StringBuilder(
                        """
                        inventory: 1
                        sites: [{ name: dunmere, title: Dunmere, zone: Europe/Lisbon }]
                        devices:
                        """);
        for (int i = 0; i < names.size(); i++) {
            text.append(
                    "  - { name: %s, family: osmer-r6, model: R6-4, revision: C, serial: OS6-2%s, site: dunmere, address: 127.40.9.%s, port: 2022, console-port: 2023, login: steward }\n"
                            .formatted(names.get(i), 100 + i, i + 1));
        }
        return house.own(text.toString());
    }

    private JsonNode device(String name) {
        return house.get("/api/devices/" + name);
    }

    /** Runs one device to its gate. */
    private void toTheGate(String device) {
        house.approvedPlan("of-" + device, "2.8.2", device);
        house.start("of-" + device);
        house.awaitGate("of-" + device, device);
    }

    /** Runs one device until it is stuck; gives its trouble. */
    private JsonNode stuck(String device, boolean throughGate) {
        if (throughGate) {
            toTheGate(device);
            house.go("of-" + device, device);
        } else {
            house.approvedPlan("of-" + device, "2.8.2", device);
            house.start("of-" + device);
        }
        assertThat(house.awaitEnd("of-" + device, device, Duration.ofMinutes(2)))
                .isEqualTo("stuck");
        return house.unit("of-" + device, device).path("trouble");
    }

    private static void tells(
            JsonNode trouble, String step, String expected, String seen, String remedy) {
        assertThat(trouble.path("step").asString()).isEqualTo(step);
        assertThat(trouble.path("expected").asString()).contains(expected);
        assertThat(trouble.path("seen").asString()).contains(seen);
        assertThat(trouble.path("remedy").asString()).contains(remedy);
    }

    @Test
    void aDeviceThatDoesNotAnswerIsShownAsSilentWithTheReason() {
        house.fleet().unplug("rt-silent", true);
        house.readAll();
        JsonNode device = device("rt-silent");
        assertThat(device.path("standing").asString()).isEqualTo("silent");
        assertThat(device.path("silent").path("expected").asString())
                .contains("rt-silent")
                .contains("answers on SSH");
        assertThat(device.path("silent").path("remedy").asString()).contains("power");
        assertThat(device.path("reading").isObject()).as("what was read before is kept").isTrue();
    }

    @Test
    void aRefusedPasswordIsNamed() {
        JsonNode silent = device("rt-password").path("silent");
        assertThat(silent.path("expected").asString()).contains("lets \"steward\" in");
        assertThat(silent.path("seen").asString()).contains("refuses the user or the password");
    }

    @Test
    void anotherHostKeyThanLastTimeIsNotSignedInTo() {
        String before = device("rt-key").path("hostKey").asString();
        house.fleet().changeHostKey("rt-key");
        house.readAll();
        JsonNode silent = device("rt-key").path("silent");
        assertThat(silent.path("expected").asString()).contains(before);
        assertThat(silent.path("seen").asString()).contains("SHA256:").doesNotContain(before);
        assertThat(silent.path("remedy").asString()).contains("Nothing was sent");

        House.must(house.call("DELETE", "/api/devices/rt-key/host-key", null));
        house.readAll();
        assertThat(device("rt-key").path("silent").isNull())
                .as("believed again after it was forgotten")
                .isTrue();
    }

    @Test
    void anUnknownQuestionStopsTheStepAndIsAnsweredOnceByAPersonsWord() {
        house.machine("rt-asks").add(Fault.ASKS_SOMETHING_NEW);
        JsonNode trouble = stuck("rt-asks", true);
        tells(
                trouble,
                "restart",
                "question that the dialect of Osmer R6 knows",
                "A colleague is signed in on the console line",
                "Nothing was answered");
        assertThat(house.machine("rt-asks").restarts()).isEmpty();
        assertThat(trouble.path("ways").valueStream().map(JsonNode::asString)).contains("answer");

        house.machine("rt-asks").add(Fault.ASKS_SOMETHING_NEW);
        String path = "/api/runs/of-rt-asks/units/rt-asks/answer";
        assertThat(house.call("POST", path, Map.of("say", "yes", "why", " ")).detail())
                .contains("Say why");
        House.must(house.call("POST", path, Map.of("say", "yes", "why", "it is our own session")));
        Await.until(
                Duration.ofSeconds(60),
                "settled after the colleague was sent away",
                () ->
                        house.unit("of-rt-asks", "rt-asks")
                                .path("state")
                                .asString()
                                .equals("settled"));
        assertThat(house.machine("rt-asks").restarts()).hasSize(1);
        assertThat(house.call("POST", path, Map.of("say", "yes", "why", "again")).status())
                .isEqualTo(409);
        assertThat(
                        house.ask(
                                "select text from event where subject = 'rt-asks' and who <>"
                                        + " 'calm-step' and text like '%once%'"))
                .contains("answered with \"yes\", once: it is our own session");
    }

    @Test
    void aDeviceThatStopsInItsBootLoaderIsFoundOnItsConsoleLine() {
        house.machine("rt-loader").add(Fault.STOPS_IN_BOOT_LOADER);
        JsonNode trouble = stuck("rt-loader", true);
        tells(
                trouble,
                "come-back",
                "answers on its command line",
                "stands in its boot loader",
                "console line");
        assertThat(trouble.path("lastLines").toString())
                .contains("image header does not match board C")
                .contains("loader>");
    }

    @Test
    void aDeviceThatComesBackOnTheOldReleaseIsNotProven() {
        house.machine("rt-old").add(Fault.STARTS_THE_OLD_IMAGE);
        tells(
                stuck("rt-old", true),
                "prove",
                "it runs 2.8.2 from osmer-r6c-2.8.2.img",
                "came back on the old release 2.6.3",
                "did not start the chosen image");
    }

    @Test
    void aBootChoiceThatWasNotKeptBringsTheOldReleaseBack() {
        house.machine("rt-forgets").add(Fault.FORGETS_THE_CHOICE);
        tells(
                stuck("rt-forgets", true),
                "prove",
                "it runs 2.8.2",
                "came back on the old release 2.6.3",
                "old release serves meanwhile");
    }

    @Test
    void aDeviceThatNeverComesBackIsGivenUp() {
        house.machine("rt-gone").add(Fault.STAYS_SILENT);
        tells(
                stuck("rt-gone", true),
                "come-back",
                "given up after 20 min",
                "no answer",
                "not restarted twice");
    }

    @Test
    void noRoomIsFoundInThePlanWithTheFileThatIsInTheWay() {
        House.Answer plan =
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of("name", "full", "devices", List.of("rt-full"), "target", "2.8.2"));
        JsonNode finding =
                plan.json()
                        .path("findings")
                        .valueStream()
                        .filter(f -> f.path("severity").asString().equals("caution"))
                        .findFirst()
                        .orElseThrow();
        assertThat(finding.path("fact").asString())
                .contains("osmer-r6c-2.8.2.img, which takes rt-full to 2.8.2, fits only if")
                .contains("notes.txt (15,000,000 bytes)");
        assertThat(finding.path("choices").toString()).isEqualTo("[\"may-go\",\"leave-out\"]");
        House.Answer approval = house.call("POST", "/api/plans/full/approval", Map.of());
        assertThat(approval.status()).isEqualTo(422);
        assertThat(approval.detail()).contains("not ready");
    }

    @Test
    void aDeviceThatSomebodyChangedAfterApprovalIsNotTouched() {
        house.approvedPlan("of-rt-changed", "2.8.2", "rt-changed");
        house.machine("rt-changed").changeSettings("way 198.51.100.64/27 by 192.0.2.25");
        house.start("of-rt-changed");
        assertThat(house.awaitEnd("of-rt-changed", "rt-changed", Duration.ofMinutes(2)))
                .isEqualTo("stuck");
        tells(
                house.unit("of-rt-changed", "rt-changed").path("trouble"),
                "check",
                "configuration as it was read",
                "another configuration",
                "Somebody changed the device");

        House.Answer without =
                house.call(
                        "POST",
                        "/api/runs/of-rt-changed/units/rt-changed/set-aside",
                        Map.of("why", " "));
        assertThat(without.detail()).contains("Say why");
        House.must(
                house.call(
                        "POST",
                        "/api/runs/of-rt-changed/units/rt-changed/set-aside",
                        Map.of("why", "planned again tomorrow")));
        assertThat(house.call("GET", "/api/records/of-rt-changed", null).status())
                .as("whoever set the last one aside may take it back in")
                .isEqualTo(409);
        House.must(house.call("POST", "/api/runs/of-rt-changed/end", null));
        JsonNode line = house.get("/api/records/of-rt-changed/account").path("units").get(0);
        assertThat(line.path("readAt").isNull()).as("read when it left the run").isFalse();
        assertThat(line.path("seenDark").isNull()).isTrue();
        assertThat(
                        house.get("/api/records/of-rt-changed")
                                .path("outcome")
                                .path("units")
                                .get(0)
                                .path("setAsideWhy")
                                .asString())
                .isEqualTo("planned again tomorrow");
    }

    @Test
    void aDamagedCopyIsFetchedOnceMoreFromScratch() {
        house.machine("rt-damaged").add(Fault.DAMAGES_NEXT_COPY);
        toTheGate("rt-damaged");
        JsonNode stage =
                house.unit("of-rt-damaged", "rt-damaged")
                        .path("steps")
                        .valueStream()
                        .filter(s -> s.path("name").asString().equals("stage"))
                        .findFirst()
                        .orElseThrow();
        assertThat(stage.path("attempts").asInt()).isEqualTo(2);
    }

    @Test
    void aSecondDamagedCopyIsAPersonsMatterAndIsNeverChosen() {
        house.machine("rt-damages").add(Fault.DAMAGES_COPIES);
        tells(
                stuck("rt-damages", false),
                "confirm-image",
                "SHA-256",
                "SHA-256",
                "The image was not chosen");
        assertThat(house.machine("rt-damages").release()).isEqualTo("2.6.3");
    }

    @Test
    void aCutCopyStartsAgainCleanly() {
        house.machine("rt-cut").add(Fault.CUTS_NEXT_COPY);
        toTheGate("rt-cut");
        JsonNode stage =
                house.unit("of-rt-cut", "rt-cut")
                        .path("steps")
                        .valueStream()
                        .filter(step -> step.path("name").asString().equals("stage"))
                        .findFirst()
                        .orElseThrow();
        assertThat(stage.path("attempts").asInt()).as("nobody was asked").isEqualTo(2);
        assertThat(house.get("/api/runs/of-rt-cut/events").toString()).contains("the copy failed");
    }

    @Test
    void aShelfThatTheDeviceDoesNotReachIsFoundBeforeTheCopy() {
        house.machine("rt-unreached").add(Fault.REACHES_NOTHING);
        tells(
                stuck("rt-unreached", false),
                "stage",
                "reaches the shelf at 127.0.0.1",
                "not reached: no answer from",
                "firewall");
    }

    @Test
    void aLinkThatStaysDownAfterTheRestartIsReported() {
        house.machine("rt-link").add(Fault.LOSES_A_LINK);
        toTheGate("rt-link");
        house.go("of-rt-link", "rt-link");
        assertThat(house.awaitEnd("of-rt-link", "rt-link", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        JsonNode proof =
                house.unit("of-rt-link", "rt-link")
                        .path("steps")
                        .valueStream()
                        .filter(s -> s.path("name").asString().equals("prove"))
                        .findFirst()
                        .orElseThrow();
        assertThat(proof.path("seen").asString())
                .contains("look at: interface ge1 was up, is down");
    }

    @Test
    void theStrangersSecretsAreNowhere() throws Exception {
        toTheGate("rt-good");
        for (String secret : List.of(House.DEVICE_PASSWORD, "9c41d07be2", house.adminPassword())) {
            for (String table :
                    List.of(
                            "talk where text",
                            "event where text",
                            "record where body",
                            "run_step where seen",
                            "login where encode(secret, 'escape')",
                            "backup where encode(body, 'escape')",
                            "reading where body",
                            "person where password_hash")) {
                assertThat(
                                house.ask(
                                        "select count(*) from %s like '%%%s%%'"
                                                .formatted(table, secret)))
                        .as("%s in %s", secret, table)
                        .isEqualTo("0");
            }
        }
        assertThat(java.nio.file.Files.readString(house.log()))
                .doesNotContain(House.DEVICE_PASSWORD)
                .doesNotContain("9c41d07be2");
        assertThat(house.call("GET", "/api/runs/of-rt-good/units/rt-good/talk", null).body())
                .contains("person steward secret ••••••");
    }
}
