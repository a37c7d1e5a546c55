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
import tools.jackson.databind.JsonNode;

/**
 * Pairs whose active side is drained before it hands over, through the service: what the plan says,
 * a crash and a hold in the middle, a flow that does not go away, and whoever sets it aside.
 */
class DrainedPairTest {
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        House.writeImages("practice-images.yaml");
        house = House.of(19, Files.readString(House.TOP.resolve("demo/practice-brannoch-b2.yaml")));
        house.importNorthmere();
        house.setStewardLogin();
        House.must(
                house.call(
                        "PUT",
                        "/api/shelf/images/b2-11.2-418.pkg",
                        house.image("b2-11.2-418.pkg")));
        house.client(house.adminPassword(), "sign-in", "--name", "admin", "--password-stdin");
        house.client("", "fleet", "read", "--where", "family:brannoch-b2");
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static House.Said drafted(String plan, String device, String roles) throws Exception {
        House.Said said =
                house.client(
                        "",
                        "plan",
                        "draft",
                        plan,
                        device,
                        "--to",
                        "newest-general",
                        "--begin",
                        "now",
                        "--roles",
                        roles);
        house.acknowledge(plan);
        House.must(house.call("POST", "/api/plans/%s/approval".formatted(plan), Map.of()));
        return said;
    }

    private static void toTheGate(String plan, String device) {
        house.start(plan);
        house.awaitGate(plan, device);
    }

    private static List<String> roles(String device) throws Exception {
        house.client("", "fleet", "read", device);
        return house.get("/api/devices/" + device)
                .path("reading")
                .path("parts")
                .valueStream()
                .map(part -> part.path("role").asString())
                .toList();
    }

    private static long said(String words) {
        return Long.parseLong(
                house.ask("select count(*) from talk where text like '%%%s%%'".formatted(words)));
    }

    @Test
    void nobodyIsCutOffThroughACrashAndAHoldAndTheRolesAreAsBefore() throws Exception {
        String pair = "fw-millhaven";
        assertThat(drafted("quiet-swap", pair, "as-before").out().replaceAll("\\s+", " "))
                .contains("roles as before", "4 s dark")
                .contains(
                        "its left side is drained: nothing goes over it any more before it hands"
                                + " over")
                .contains("its right side is drained: nothing goes over it any more before")
                .contains("its right side hands over to its left side");
        toTheGate("quiet-swap", pair);
        assertThat(house.unit("quiet-swap", pair).path("gate").path("question").asString())
                .contains("drained before it hands over", "whoever is active now is so again");
        house.fleet().add(pair, Fault.KEEPS_A_FLOW);
        house.go("quiet-swap", pair);
        Await.until(Duration.ofMinutes(2), "left is told to drain", () -> said("spare left") > 0);
        assertThat(house.client("", "run", "hold", "quiet-swap", pair).exitCode()).isZero();
        house.killService();
        house.fleet().clearFaults(pair);
        house.startService();
        assertThat(house.unit("quiet-swap", pair).path("held").asBoolean()).isTrue();
        assertThat(house.client("", "run", "resume", "quiet-swap", pair).exitCode()).isZero();
        assertThat(house.awaitEnd("quiet-swap", pair, Duration.ofMinutes(3)))
                .as(house.client("", "run", "show", "quiet-swap").out())
                .isEqualTo("settled");
        assertThat(said("is active from now on")).as("there and back").isEqualTo(2);
        assertThat(said("flows cut")).isZero();
        assertThat(house.step("quiet-swap", pair, "un-drain").path("state").asString())
                .isEqualTo("done");
        assertThat(roles(pair)).containsExactly("active", "standby");
        assertThat(house.fleet().member(pair, 1).restarts()).hasSize(1);
        assertThat(house.fleet().member(pair, 2).restarts()).hasSize(1);
    }

    @Test
    void aFlowThatStaysIsAPersonsMatterAndWhoeverSetsThePairAsideHearsThatItIsDrained()
            throws Exception {
        String pair = "fw-dunmere";
        drafted("one-stays", pair, "as-they-come");
        toTheGate("one-stays", pair);
        house.fleet().add(pair, Fault.KEEPS_A_FLOW);
        house.go("one-stays", pair);
        assertThat(house.awaitEnd("one-stays", pair, Duration.ofMinutes(3))).isEqualTo("stuck");
        assertThat(house.client("", "run", "show", "one-stays").out().replaceAll("\\s+", " "))
                .contains("nothing goes over member left within 20 min")
                .contains("left, 1 flows, spared")
                .contains("leave the step out, and what is left is cut off");
        assertThat(
                        house.unit("one-stays", pair)
                                .path("trouble")
                                .path("ways")
                                .valueStream()
                                .map(JsonNode::asString))
                .contains("retry", "skip", "return", "set-aside");
        assertThat(house.fleet().member(pair, 1).restarts()).as("the active side").isEmpty();
        house.client(
                "", "run", "set-aside", "one-stays", pair, "--why", "the tunnel of the harbour");
        assertThat(house.client("", "run", "show", "one-stays").out().replaceAll("\\s+", " "))
                .contains("it was told to give its traffic away, and not yet to take it back");
    }
}
