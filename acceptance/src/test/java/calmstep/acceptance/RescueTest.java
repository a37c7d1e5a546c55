package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.Fault;
import calmstep.practice.Machine;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Devices that stop in their boot loader: started from memory over the console line and our TFTP
 * server, and proven to start by themselves.
 */
@Order(4)
class RescueTest {
    private static final String ROUTER = "rt-dunmere-1";
    private static final String OTHER = "rt-eskholm-1";
    private static final String THIRD = "rt-aldwick-pier-1";
    private static final String CONTROLLER = "wc-dunmere";
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        String fleet = Files.readString(House.TOP.resolve("demo/practice-fleet.yaml"));
        house =
                House.of(
                        14,
                        fleet.replaceFirst(
                                "\nmachines:\n",
                                "\nmachines:\n"
                                        + of("practice-ivrel-c5", CONTROLLER)
                                        + of("practice-osmer-r6", THIRD)));
        house.importNorthmere();
        house.setStewardLogin();
        for (String image :
                new String[] {
                    "osmer-r6c-2.6.3.img",
                    "osmer-r6c-2.8.2.img",
                    "c5-8.5.3.fw",
                    "c5-8.4.0-rescue.fw"
                }) {
            House.must(house.call("PUT", "/api/shelf/images/" + image, house.image(image)));
        }
        long job =
                House.must(
                                house.call(
                                        "POST",
                                        "/api/readings",
                                        Map.of(
                                                "devices",
                                                List.of(ROUTER, OTHER, THIRD, CONTROLLER))))
                        .json()
                        .path("id")
                        .asLong();
        Await.until(
                Duration.ofSeconds(60),
                "they are read",
                () -> house.get("/api/jobs/" + job).path("state").asString().equals("finished"));
    }

    /** A machine of another of the demo's fleet files. */
    private static String of(String file, String machine) throws Exception {
        String machines = Files.readString(House.TOP.resolve("demo/%s.yaml".formatted(file)));
        int begins = machines.indexOf("  - name: " + machine + "\n");
        return machines.substring(begins, machines.indexOf("\n  - name: ", begins) + 1);
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static String stuck(String run, String device, String target) {
        house.approvedPlan(run, target, device);
        house.machine(device).add(Fault.STOPS_IN_BOOT_LOADER);
        house.start(run);
        house.awaitGate(run, device);
        house.go(run, device);
        assertThat(house.awaitEnd(run, device, Duration.ofMinutes(2))).isEqualTo("stuck");
        JsonNode trouble = house.unit(run, device).path("trouble");
        assertThat(trouble.path("seen").asString()).contains("boot loader");
        assertThat(trouble.path("lastLines").toString()).contains("loader>");
        assertThat(trouble.path("ways").toString()).contains("rescue");
        return "/api/runs/%s/units/%s/rescue".formatted(run, device);
    }

    private static long typed(String words) {
        return Long.parseLong(
                house.ask(
                        "select count(*) from talk where direction = 'typed' and text like '%%%s%%'"
                                .formatted(words)));
    }

    @Test
    void aRouterIsStartedFromMemoryThroughACrashOfOursAndThenByItself() throws Exception {
        assertThat(
                        house.call("POST", "/api/runs/nobody/units/" + ROUTER + "/rescue", Map.of())
                                .status())
                .isEqualTo(404);
        String rescue = stuck("router", ROUTER, "2.6.3");
        assertThat(house.call("POST", rescue, Map.of("image", "osmer-r6c-2.4.0.img")).detail())
                .contains(
                        "no image of Osmer R6 for this hardware that lies on the shelf",
                        "osmer-r6c-2.6.3.img");
        Machine machine = house.machine(ROUTER);
        machine.add(Fault.SLOW_LINK);
        House.must(house.call("POST", rescue, Map.of()));
        Await.until(
                Duration.ofSeconds(30),
                "its loader is told to load",
                () -> typed("load tftp://") > 0);
        house.killService();
        assertThat(machine.power()).isEqualTo(Machine.Power.IN_BOOT_LOADER);
        machine.clearFaults();
        house.startService();
        assertThat(house.awaitEnd("router", ROUTER, Duration.ofMinutes(3))).isEqualTo("settled");
        assertThat(typed("start memory")).isEqualTo(1);
        assertThat(machine.release()).isEqualTo("2.6.3");
        assertThat(machine.restarts()).as("the planned one, and the one that proves").hasSize(2);
        JsonNode steps = house.unit("router", ROUTER).path("steps");
        assertThat(
                        steps.valueStream()
                                .filter(step -> step.path("name").asString().equals("come-back"))
                                .map(step -> step.path("state").asString()))
                .containsExactly("skipped", "done");
        assertThat(
                        steps.valueStream()
                                .filter(step -> step.path("name").asString().equals("rescue"))
                                .map(step -> step.path("seen").asString()))
                .singleElement()
                .asString()
                .contains("it runs 2.6.3, from memory");
        assertThat(
                        house.get("/api/devices/" + ROUTER)
                                .path("reading")
                                .path("boot")
                                .path("fallback")
                                .asString())
                .as("what it ran before, not what was in memory")
                .isEqualTo("osmer-r6c-2.4.0.img");
    }

    private static void cannotGoBackWhileItIsSilent(String goBack) {
        assertThat(house.call("POST", goBack, Map.of("why", "it is dead")).detail())
                .contains("nothing was changed");
        assertThat(house.unit("back", OTHER).path("trouble").path("ways").toString())
                .as("and the word took no other way away")
                .contains("retry", "replace")
                .doesNotContain("return", "skip");
    }

    /**
     * Silent after its restart, found dead in the morning and switched on by hand: it runs the new
     * release, and nobody wants that any more.
     */
    @Test
    void aRouterGoesBackWithItsConfigurationThroughACrashOfOurs() throws Exception {
        Machine machine = house.machine(OTHER);
        house.approvedPlan("back", "2.8.2", OTHER);
        house.start("back");
        house.awaitGate("back", OTHER);
        String goBack = "/api/runs/back/units/%s/return".formatted(OTHER);
        assertThat(house.call("POST", goBack, Map.of("why", "changed my mind")).detail())
                .contains("not stuck behind a boot choice");
        machine.add(Fault.STAYS_SILENT);
        house.go("back", OTHER);
        assertThat(house.awaitEnd("back", OTHER, Duration.ofMinutes(2))).isEqualTo("stuck");
        cannotGoBackWhileItIsSilent(goBack);
        house.fleet().powerCycle(OTHER, 1);
        Await.until(Duration.ofSeconds(30), "it is up", () -> machine.release().equals("2.8.2"));
        machine.changeSettings("way 192.0.2.99/32 by nobody");
        assertThat(house.call("POST", goBack, Map.of("why", " ")).detail()).contains("Say why");
        House.must(
                house.call(
                        "POST", goBack, Map.of("why", "the crew office has no telephone on it")));
        Await.until(
                Duration.ofSeconds(30),
                "it is told to go down",
                () -> machine.restarts().size() == 2);
        house.killService();
        house.startService();
        assertThat(house.awaitEnd("back", OTHER, Duration.ofMinutes(2)))
                .as("%s", house.unit("back", OTHER))
                .isEqualTo("returned");
        assertThat(machine.release()).isEqualTo("2.6.3");
        assertThat(machine.restarts()).as("the planned one, and the one back").hasSize(2);
        assertThat(
                        house.unit("back", OTHER)
                                .path("steps")
                                .valueStream()
                                .filter(step -> step.path("name").asString().equals("prove"))
                                .map(step -> step.path("state").asString()))
                .containsSubsequence("done", "skipped");
        assertThat(house.get("/api/runs/back").path("state").asString()).isEqualTo("finished");
        assertThat(house.get("/api/runs/back/events").toString())
                .contains("go back to 2.6.3: the crew office has no telephone on it");
        assertThat(
                        house.get("/api/devices/" + OTHER)
                                .path("reading")
                                .path("unsavedChanges")
                                .asBoolean())
                .isFalse();
        assertThat(
                        house.get("/api/devices/%s/backups".formatted(OTHER))
                                .valueStream()
                                .map(backup -> backup.path("kind").asString())
                                .filter("running"::equals))
                .as("before it, and before its way back")
                .hasSize(2);
    }

    /**
     * Dead behind its restart; the box that is plugged in instead runs the old release and knows
     * its address and our login.
     */
    @Test
    void anotherBoxTakesThePlaceOfADeadRouterThroughACrashOfOurs() throws Exception {
        house.approvedPlan("burnt", "2.6.3", THIRD);
        house.start("burnt");
        house.awaitGate("burnt", THIRD);
        String replacement = "/api/runs/burnt/units/%s/replacement".formatted(THIRD);
        Map<String, String> said = Map.of("serial", "OS-77001", "why", "its power supply burnt");
        assertThat(house.call("POST", replacement, said).detail())
                .contains("replaced within a run where it is stuck");
        List<String> settings = house.machine(THIRD).keptSettings();
        house.machine(THIRD).add(Fault.STAYS_SILENT);
        house.go("burnt", THIRD);
        assertThat(house.awaitEnd("burnt", THIRD, Duration.ofMinutes(2))).isEqualTo("stuck");
        assertThat(house.unit("burnt", THIRD).path("trouble").path("ways").toString())
                .contains("replace");
        wrongBoxesAreNotBelieved(replacement, said);
        house.fleet().replace(THIRD, "OS-77001", "osmer-r6c-2.6.0.img");
        House.must(house.call("POST", replacement, said));
        Machine box = house.machine(THIRD);
        Await.until(
                Duration.ofSeconds(60), "it is told to go down", () -> box.restarts().size() == 1);
        house.killService();
        house.startService();
        assertThat(house.awaitEnd("burnt", THIRD, Duration.ofMinutes(3)))
                .as("%s", house.unit("burnt", THIRD))
                .isEqualTo("settled");
        assertThat(box.release()).isEqualTo("2.6.3");
        assertThat(box.restarts()).hasSize(1);
        assertThat(box.keptSettings())
                .as("what the old one was configured with")
                .isEqualTo(settings);
        assertThat(
                        house.unit("burnt", THIRD)
                                .path("steps")
                                .valueStream()
                                .filter(step -> step.path("state").asString().equals("skipped"))
                                .map(step -> step.path("name").asString()))
                .containsExactly("come-back", "prove", "un-quiet");
        assertThat(house.get("/api/devices/" + THIRD).path("serial").asString())
                .isEqualTo("OS-77001");
        assertThat(house.get("/api/runs/burnt/events").toString())
                .contains(
                        "box with serial number OS-77001 take the place of " + THIRD,
                        "its power supply burnt");
        isReadWithTheKeyThatItShowed();
    }

    private void isReadWithTheKeyThatItShowed() {
        long job =
                House.must(house.call("POST", "/api/readings", Map.of("devices", List.of(THIRD))))
                        .json()
                        .path("id")
                        .asLong();
        Await.until(
                Duration.ofSeconds(30),
                "it is read with the key that it showed",
                () -> house.get("/api/jobs/" + job).path("state").asString().equals("finished"));
        assertThat(house.get("/api/devices/" + THIRD).path("standing").asString())
                .doesNotContain("silent");
    }

    private void wrongBoxesAreNotBelieved(String replacement, Map<String, String> said)
            throws Exception {
        String serial = house.get("/api/devices/" + THIRD).path("serial").asString();
        assertThat(house.call("POST", replacement, said).detail()).contains("could not be read");
        house.fleet().replace(THIRD, "OS-77002", "osmer-r6c-2.6.0.img");
        assertThat(
                        house.call("POST", replacement, Map.of("serial", "OS-77002", "why", " "))
                                .detail())
                .contains("Say why");
        assertThat(house.call("POST", replacement, said).detail())
                .contains("Expected: serial number OS-77001. Seen: serial number OS-77002");
        house.fleet().replace(THIRD, "OS-77003", "osmer-r6c-2.4.0.img");
        assertThat(
                        house.call(
                                        "POST",
                                        replacement,
                                        Map.of(
                                                "serial",
                                                "OS-77003",
                                                "why",
                                                "its power supply burnt"))
                                .detail())
                .contains("Expected: it runs 2.6.0 or 2.6.3. Seen: it runs 2.4.0");
        assertThat(house.get("/api/devices/" + THIRD).path("serial").asString())
                .as("a box that is not the one is not believed")
                .isEqualTo(serial);
    }

    @Test
    void aControllerIsRescuedWithWhatItsMakerMadeForIt() {
        String rescue = stuck("controller", CONTROLLER, "8.5.3");
        house.machine(CONTROLLER).add(Fault.DAMAGES_NEXT_COPY);
        House.must(house.call("POST", rescue, Map.of()));
        assertThat(house.awaitEnd("controller", CONTROLLER, Duration.ofMinutes(1)))
                .isEqualTo("stuck");
        assertThat(house.unit("controller", CONTROLLER).path("trouble").path("remedy").asString())
                .contains("damaged; nothing was started");
        House.must(house.call("POST", "/api/runs/controller/units/" + CONTROLLER + "/retry", null));
        assertThat(house.awaitEnd("controller", CONTROLLER, Duration.ofMinutes(3)))
                .isEqualTo("settled");
        assertThat(house.get("/api/runs/controller").toString())
                .contains("c5-8.4.0-rescue.fw runs from its memory");
        assertThat(house.machine(CONTROLLER).release()).isEqualTo("8.5.3");
    }
}
