package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.Fault;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * Two vessels' radios behind one base, through the service: one copy for both over the air, what
 * each missed for itself, and a crash of ours meanwhile.
 */
class FedRadiosTest {
    private static final List<String> RADIOS = List.of("rl-patient-heron", "rl-slow-curlew");
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        House.writeImages("practice-images.yaml");
        house = House.of(13, Files.readString(House.TOP.resolve("demo/practice-skelda-l4.yaml")));
        house.importNorthmere();
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/radio",
                        Map.of(
                                "user",
                                "watcher",
                                "password",
                                "practice-only-7714",
                                "snmp",
                                Map.of(
                                        "version",
                                        "v3",
                                        "authentication",
                                        "sha256",
                                        "privacy",
                                        "aes128",
                                        "privacyPassword",
                                        "practice-only-8830"))));
        House.must(
                house.call(
                        "PUT",
                        "/api/shelf/images/l4-r48-from-r47-north.rad",
                        house.image("l4-r48-from-r47-north.rad")));
        long job =
                House.must(
                                house.call(
                                        "POST",
                                        "/api/readings",
                                        Map.of(
                                                "devices",
                                                List.of(
                                                        "rl-brae-top",
                                                        "rl-patient-heron",
                                                        "rl-slow-curlew"))))
                        .json()
                        .path("id")
                        .asLong();
        Await.until(
                Duration.ofSeconds(60),
                "the radios are read",
                () -> house.get("/api/jobs/" + job).path("state").asString().equals("finished"));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static long talked(String direction, String words) {
        return Long.parseLong(
                house.ask(
                        "select count(*) from talk where direction = '%s' and text like '%%%s%%'"
                                .formatted(direction, words)));
    }

    private static long typed(String words) {
        return talked("typed", words);
    }

    @Test
    void oneCopyFeedsBothThroughACrashOfOurs() throws Exception {
        house.approvedPlan("air", "r48", RADIOS.toArray(String[]::new));
        RADIOS.forEach(radio -> house.fleet().add(radio, Fault.SLOW_LINK));
        house.start("air");
        Await.until(
                Duration.ofSeconds(30),
                "the base has the file from the shelf and sends",
                () -> talked("answered", " blocks") > 0);
        house.killService();
        house.startService();
        RADIOS.forEach(radio -> house.awaitGate("air", radio));
        assertThat(typed("30.3.0 number 1")).as("copies sent to all").isEqualTo(1);
        assertThat(typed("30.5.0 text rl-patient-heron")).as("what the one missed").isPositive();
        assertThat(typed("30.5.0 text rl-slow-curlew")).as("what the other missed").isPositive();
        assertThat(house.get("/api/runs/air").toString()).contains("sent by rl-brae-top");
        assertThat(house.get("/api/runs/air/staging").valueStream())
                .hasSize(2)
                .allMatch(
                        hop ->
                                hop.path("state").asString().equals("proven")
                                        && hop.path("from").asString().equals("rl-brae-top"));
        RADIOS.forEach(radio -> house.go("air", radio));
        for (String radio : RADIOS) {
            assertThat(house.awaitEnd("air", radio, Duration.ofMinutes(2))).isEqualTo("settled");
            assertThat(house.machine(radio).restarts()).hasSize(1);
            assertThat(house.machine(radio).release()).isEqualTo("r48");
        }
        assertThat(house.machine("rl-brae-top").restarts()).isEmpty();
    }

    @Test
    void aBaseThatNobodyKnowsIsRefused() {
        String line =
                house.own(
                        """
                        inventory: 1
                        sites:
                          - { name: brae-top, zone: Europe/Lisbon }
                        devices:
                          - { name: rl-new, family: skelda-l4, site: brae-top, address: 127.40.39.9, login: radio, fed-by: rl-nowhere }
                        """);
        assertThat(house.call("POST", "/api/inventory", line).detail())
                .contains(
                        "rl-new is to be fed by rl-nowhere; expected a device of its family,"
                                + " skelda-l4, saw no such device");
    }
}
