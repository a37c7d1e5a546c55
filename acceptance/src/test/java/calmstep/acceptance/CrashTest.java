package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.check.Sweep;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * The service is killed at every step of a unit, and the database goes away in mid-run. The devices
 * decide how it goes on.
 */
@Order(1)
class CrashTest {
    /**
     * Those of a router that stands alone, is not wiped or drained, has no board that follows, and
     * takes no detour.
     */
    private static final List<StepName> STEPS =
            Stream.of(StepName.values())
                    .filter(
                            step ->
                                    !UnitPlan.FURTHER.contains(step)
                                            && !Set.of(
                                                            StepName.SECOND_RESTART,
                                                            StepName.COME_BACK_AGAIN,
                                                            StepName.PUT_BACK,
                                                            StepName.RETURN,
                                                            StepName.RESCUE,
                                                            StepName.REPLACE)
                                                    .contains(step))
                    .toList();

    private static final Duration WITHOUT_DATABASE = Duration.ofSeconds(Sweep.count(15, 60));

    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(1);
        house.prepared(house.demoFile("inventory.yaml"));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    @Test
    void goesOnFromWhatTheDeviceShowsAfterAKillAtEveryStep() throws Exception {
        writeSlowly();
        house.approvedPlan("killed", "2.8.2", "rt-dunmere-1");
        house.start("killed");
        int caught = 0;
        List<StepName> struck = Sweep.of("kills at steps", 5, STEPS);
        boolean through = false;
        for (StepName step : struck) {
            if (!through && step.compareTo(StepName.QUIET) >= 0) {
                house.awaitService();
                house.awaitGate("killed", "rt-dunmere-1");
                house.go("killed", "rt-dunmere-1");
                through = true;
            }
            caught += killIn(step == StepName.SOAK || step == StepName.TIDY ? 2 : 1, step) ? 1 : 0;
            // The next step may begin before the service answers anybody, and is not to be missed.
            house.launchService();
        }
        house.awaitService();
        assertThat(caught)
                .as("steps that were cut off in the middle")
                .isGreaterThanOrEqualTo(struck.size() / 2);
        if (!through) {
            house.awaitGate("killed", "rt-dunmere-1");
            house.go("killed", "rt-dunmere-1");
        }
        assertThat(house.awaitEnd("killed", "rt-dunmere-1", Duration.ofMinutes(2)))
                .isEqualTo("settled");

        assertThat(house.machine("rt-dunmere-1").release()).isEqualTo("2.8.2");
        assertThat(house.machine("rt-dunmere-1").restarts())
                .as("one restart for each of the two hops")
                .hasSize(2);
        JsonNode backups = house.get("/api/devices/rt-dunmere-1/backups");
        assertThat(
                        backups.valueStream()
                                .map(b -> b.path("kind").asString())
                                .filter("running"::equals)
                                .count())
                .isGreaterThanOrEqualTo(2);
        assertThat(
                        house.call(
                                        "GET",
                                        "/api/devices/rt-dunmere-1/backups/%s/text"
                                                .formatted(backups.get(0).path("id").asLong()),
                                        null)
                                .body())
                .startsWith("name rt-dunmere-1")
                .contains("-- end of settings");
        assertThat(house.get("/api/records/killed").path("chainWhole").asBoolean()).isTrue();
    }

    /**
     * Each state of a step lasts long enough to be seen: what comes next is written down, but not
     * there yet, while we kill.
     */
    private static void writeSlowly() throws Exception {
        try (Connection database = house.database();
                Statement statement = database.createStatement()) {
            statement.execute(
                    "create function takes_its_time() returns trigger language plpgsql as $$ begin"
                            + " perform pg_sleep(0.3); return new; end $$");
            statement.execute(
                    "create trigger slow before update on run_step for each row when (old.state is"
                            + " distinct from new.state) execute function takes_its_time()");
        }
    }

    /**
     * Kills the service while a step is under way: as soon as its row says so. On a busy machine a
     * quick step may be over before we look; then the cut falls behind it, which must be borne as
     * well.
     *
     * @return whether it was caught in the middle
     */
    private static boolean killIn(int hop, StepName step) throws Exception {
        try (Connection database = house.database();
                PreparedStatement query =
                        database.prepareStatement(
                                """
                                select s.state from run_step s join run_unit u on u.id = s.unit_id join run r on r.id = u.run_id
                                where r.name = 'killed' and s.hop = ? and s.name = ?\
                                """)) {
            query.setInt(1, hop);
            query.setString(2, step.toString());
            long deadline = System.nanoTime() + Duration.ofSeconds(60).toNanos() * Await.PATIENCE;
            while (true) {
                String state;
                try (ResultSet rows = query.executeQuery()) {
                    rows.next();
                    state = rows.getString(1);
                }
                if (!state.equals("due")) {
                    house.killService();
                    return List.of("looking", "acting", "proving").contains(state);
                }
                assertThat(System.nanoTime())
                        .as("time in which %s should begin", step)
                        .isLessThan(deadline);
                Await.pass(Duration.ofMillis(20), "the next step begins");
            }
        }
    }

    @Test
    void waitsForTheDatabaseAndGoesOnWhenItIsBack() throws Exception {
        house.approvedPlan("without-store", "2.8.2", "rt-eskholm-1");
        house.start("without-store");
        house.awaitGate("without-store", "rt-eskholm-1");
        house.go("without-store", "rt-eskholm-1");
        Await.until(
                Duration.ofSeconds(30),
                "the restart is ordered",
                () -> !house.machine("rt-eskholm-1").restarts().isEmpty());

        house.stopPostgres();
        House.Answer meanwhile = house.call("GET", "/api/devices", null);
        Await.pass(WITHOUT_DATABASE, "the database is away");
        house.startPostgres();
        Await.until(
                Duration.ofMinutes(1),
                "the service has its database back",
                () -> house.call("GET", "/api/devices", null).status() == 200);

        assertThat(meanwhile.status()).isEqualTo(503);
        assertThat(meanwhile.detail())
                .contains("database does not answer")
                .contains("goes on when it is back");
        assertThat(house.awaitEnd("without-store", "rt-eskholm-1", Duration.ofMinutes(1)))
                .isEqualTo("settled");
        assertThat(house.machine("rt-eskholm-1").restarts()).hasSize(1);
    }
}
