package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.core.window.Window;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * A run keeps to its plan's nights over real processes: who may begin begins, who may not waits,
 * and a death of the service in between changes nothing.
 */
@Order(8)
class TurnsTest {
    private static final String OPEN = "rt-dunmere-1";
    private static final String SHUT = "rt-eskholm-1";
    private static final ZoneId LISBON = ZoneId.of("Europe/Lisbon");
    private static final Duration OPENED = Duration.ofMinutes(30);
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("HH:mm", Locale.ROOT).withZone(LISBON);

    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(10);
        house.prepared(house.demoFile("inventory.yaml"));
        assertThat(
                        house.client(
                                        house.adminPassword() + "\n",
                                        "sign-in",
                                        "--name",
                                        "admin",
                                        "--password-stdin")
                                .exitCode())
                .isZero();
        Instant now = Instant.now();
        House.must(
                house.call(
                        "PUT",
                        "/api/windows?file=windows.yaml",
                        """
                        windows: 1
                        open:
                          - { name: now, sites: [dunmere], rule: FREQ=DAILY, from: "%s", until: "%s" }
                          - { name: later, sites: [eskholm], rule: FREQ=DAILY, from: "%s", until: "%s" }
                        limits: { pilots: 0 }
                        """
                                .formatted(
                                        CLOCK.format(now.minus(OPENED)),
                                        CLOCK.format(now.plus(Duration.ofHours(5))),
                                        CLOCK.format(now.plus(Duration.ofHours(7))),
                                        CLOCK.format(now.plus(Duration.ofHours(12))))));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static JsonNode unit(String device) {
        return house.get("/api/runs/nights")
                .path("units")
                .valueStream()
                .filter(u -> u.path("device").asString().equals(device))
                .findFirst()
                .orElseThrow();
    }

    private static void await(String what, java.util.function.BooleanSupplier reached) {
        Await.until(Duration.ofMinutes(3), what, reached::getAsBoolean);
    }

    @Test
    void beginsInItsWindowAndWaitsForIt() throws Exception {
        approvesAPlanOfItsNights();
        House.must(house.call("POST", "/api/runs", Map.of("plan", "nights")));
        house.awaitGate("nights", OPEN);
        house.awaitGate("nights", SHUT);
        house.go("nights", OPEN);
        house.go("nights", SHUT);

        await(
                "the one whose window is open begins",
                () ->
                        unit(OPEN).path("turn").path("inWork").asBoolean()
                                || house.machine(OPEN).restarts().size() > 0);
        await(
                "the other one says what it waits for",
                () ->
                        unit(SHUT)
                                .path("turn")
                                .path("waitsFor")
                                .asString("")
                                .startsWith("its turn is at"));
        house.killService();
        house.startService();
        await(
                "the one whose window is open goes on to its first landing",
                () ->
                        house.machine(OPEN).release().equals("2.6.3")
                                || house.machine(OPEN).release().equals("2.8.2"));
        assertThat(house.machine(SHUT).restarts())
                .as("nothing of it restarts before its window")
                .isEmpty();
        assertThat(Instant.parse(unit(SHUT).path("turn").path("begins").asString()))
                .isAfter(Instant.now().plus(Duration.ofHours(5)));

        saysThatTheOtherBeginsNow();
        await(
                "both are settled",
                () ->
                        unit(OPEN).path("state").asString().equals("settled")
                                && unit(SHUT).path("state").asString().equals("settled"));
        assertThat(house.machine(OPEN).restarts()).hasSize(2);
        assertThat(house.machine(SHUT).restarts()).hasSize(1);
        assertThat(
                        house.get("/api/runs/nights/events")
                                .valueStream()
                                .map(e -> e.path("text").asString()))
                .anyMatch(text -> text.contains("says that %s begins at".formatted(SHUT)))
                .anyMatch(text -> text.contains("%s begins outside its windows".formatted(SHUT)));
    }

    private void saysThatTheOtherBeginsNow() throws Exception {
        assertThat(house.client("", "run", "turn", "nights", SHUT, "--begin", "soon").exitCode())
                .as("no moment")
                .isNotZero();
        assertThat(house.client("", "run", "turn", "nights", SHUT, "--begin", "now").err())
                .as("its window is not open")
                .contains("outside the windows of its site");
        House.Said said =
                house.client(
                        "", "run", "turn", "nights", SHUT, "--begin", "now", "--why", "no ferry");
        assertThat(said.exitCode()).as(said.err()).isZero();
    }

    private void approvesAPlanOfItsNights() {
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                "nights",
                                "devices",
                                List.of(OPEN, SHUT),
                                "target",
                                "recommended")));
        // Around midnight the two windows are of two nights, and a plan takes as few as it can.
        House.must(
                house.call(
                        "POST",
                        "/api/plans/nights/nights",
                        Map.of(
                                "pin",
                                Map.of(
                                        OPEN,
                                        Window.nightOf(Instant.now().minus(OPENED), LISBON)
                                                .toString()))));
        house.acknowledge("nights");
        House.must(house.call("POST", "/api/plans/nights/approval", null));
    }
}
