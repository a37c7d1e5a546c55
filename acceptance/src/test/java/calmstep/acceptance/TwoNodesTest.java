package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.time.Duration;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * Two nodes on one database: when one dies in mid-restart, the other goes on, and no device is
 * driven twice.
 */
class TwoNodesTest {
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(6);
        house.prepared(house.demoFile("inventory.yaml"));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    @Test
    void theOtherNodeGoesOnWhereOneDied() throws Exception {
        house.startOtherNode();
        house.approvedPlan("two-nodes", "2.8.2", "rt-dunmere-1", "rt-eskholm-1");
        house.start("two-nodes");
        for (String router : new String[] {"rt-dunmere-1", "rt-eskholm-1"}) {
            house.awaitGate("two-nodes", router);
            house.go("two-nodes", router);
        }
        Await.until(
                Duration.ofSeconds(30),
                "a restart is ordered",
                () -> !house.machine("rt-dunmere-1").restarts().isEmpty());
        house.killService();

        assertThat(house.awaitEnd("two-nodes", "rt-dunmere-1", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.awaitEnd("two-nodes", "rt-eskholm-1", Duration.ofMinutes(2)))
                .isEqualTo("settled");
        assertThat(house.machine("rt-dunmere-1").restarts()).hasSize(2);
        assertThat(house.machine("rt-eskholm-1").restarts()).hasSize(1);
        assertThat(house.get("/api/records/two-nodes").path("chainWhole").asBoolean()).isTrue();
        assertThat(house.ask("select count(*) from lease where until > now()"))
                .as("leases left")
                .isEqualTo("0");
    }
}
