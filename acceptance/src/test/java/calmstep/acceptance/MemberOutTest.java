package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.Fault;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.assertj.core.api.InstanceOfAssertFactories;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Stacks of which a member does not come back while its members restart one after the other,
 * through the service: the others go on without it, or another box takes its place.
 */
class MemberOutTest {
    private static final String RUNS = "6.1.0";
    private static final String TO = "6.1.2";

    private static House house;

    @BeforeAll
    static void build() throws Exception {
        House.writeImages("practice-images.yaml");
        house =
                House.of(
                        20,
                        Files.readString(House.TOP.resolve("demo/practice-switches.yaml"))
                                .replace("t2-5.4.3-48.bin", image(RUNS))
                                .replaceAll("loader: '1\\..'", "loader: '1.9'"));
        house.importNorthmere();
        house.setStewardLogin();
        House.must(house.call("PUT", "/api/shelf/images/" + image(TO), house.image(image(TO))));
        house.client(house.adminPassword(), "sign-in", "--name", "admin", "--password-stdin");
        house.client("", "fleet", "read", "--where", "family:tarnel-t2");
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static String image(String release) {
        return "t2-%s-48.bin".formatted(release);
    }

    /** Its last member goes down for its restart, and stays down. */
    private static void stuckWithoutItsLast(String plan, String stack) throws Exception {
        house.client("", "plan", "draft", plan, stack, "--to", TO, "--begin", "now");
        house.acknowledge(plan);
        House.must(house.call("POST", "/api/plans/%s/approval".formatted(plan), Map.of()));
        house.start(plan);
        house.awaitGate(plan, stack);
        house.fleet().add(stack, Fault.DOES_NOT_REJOIN);
        house.go(plan, stack);
        assertThat(house.awaitEnd(plan, stack, Duration.ofMinutes(3))).isEqualTo("stuck");
        assertThat(house.unit(plan, stack).path("trouble").path("expected").asString())
                .contains("back in sync with the others");
    }

    private static List<String> ways(String plan, String stack) {
        return house.unit(plan, stack)
                .path("trouble")
                .path("ways")
                .valueStream()
                .map(JsonNode::asString)
                .toList();
    }

    private static List<String> releases(String stack) throws Exception {
        house.client("", "fleet", "read", stack);
        return house.get("/api/devices/" + stack)
                .path("reading")
                .path("parts")
                .valueStream()
                .map(part -> part.path("part").path("runs").path("system").asString())
                .toList();
    }

    @Test
    void theOthersGoOnWithoutItAndThatItWasMissedIsJudgedAndRecorded() throws Exception {
        String stack = "sw-dunmere-1";
        stuckWithoutItsLast("without-3", stack);
        assertThat(ways("without-3", stack)).contains("without", "replace-member");
        assertThat(house.client("", "run", "show", "without-3").out())
                .contains("calmstep run without without-3 sw-dunmere-1 --why WHY");
        String without = "/api/runs/without-3/units/sw-dunmere-1/without";
        assertThat(house.call("POST", without, Map.of("why", " ")).detail()).contains("Say why");
        house.client(
                "", "run", "without", "without-3", stack, "--why", "the spare comes on Monday");
        assertThat(house.awaitDoubt("without-3", stack))
                .noneMatch(odd -> odd.startsWith("member 3 was"))
                .filteredOn(odd -> odd.startsWith("the unit was changed without"))
                .containsExactly("the unit was changed without member 3, which is away");
        house.client("", "run", "accept", "without-3", stack, "--why", "the spare is ordered");
        assertThat(house.awaitEnd("without-3", stack, Duration.ofMinutes(2))).isEqualTo("settled");
        assertThat(releases(stack)).startsWith(TO, TO).doesNotContain(RUNS);
        assertThat(house.fleet().member(stack, 1).restarts()).hasSize(1);
        assertThat(house.fleet().member(stack, 2).restarts()).hasSize(1);
        assertThat(house.get("/api/devices/sw-dunmere-1/history").toString())
                .contains("go on without member 3: the spare comes on Monday");
        Await.until(
                Duration.ofSeconds(30),
                "the record is made",
                () -> house.client("", "record", "show", "without-3").exitCode() == 0);
        assertThat(house.client("", "record", "show", "without-3").out().replaceAll("\\s+", " "))
                .contains("the unit was changed without member 3");
        assertThat(
                        house.get("/api/records/without-3/account")
                                .path("exceptions")
                                .findValuesAsString("what"))
                .as("told once, by whoever accepted it")
                .filteredOn(what -> what.contains("the unit was changed without member 3"))
                .singleElement(InstanceOfAssertFactories.STRING)
                .contains("admin accepts", "the spare is ordered");
    }

    @Test
    void anotherBoxTakesItsPlaceAndIsBroughtAlong() throws Exception {
        String stack = "sw-millhaven-2";
        stuckWithoutItsLast("swapped-3", stack);
        House.Said tooEarly = swapped(stack, "TA-90001");
        assertThat(tooEarly.exitCode()).as("it is not there yet").isNotZero();
        assertThat(tooEarly.err().replaceAll("\\s+", " "))
                .contains("member 3 in sync with the others", "nothing was changed");
        house.fleet().replaceMember(stack, 3, "TA-90001", image(RUNS));
        Await.until(
                Duration.ofMinutes(1),
                "the new one has joined",
                () -> releases(stack).equals(List.of(RUNS, RUNS, RUNS)));
        Await.until(
                Duration.ofSeconds(30),
                "another one is not taken for it",
                () -> swapped(stack, "TA-90002").err().contains("Seen: serial number TA-90001"));
        assertThat(swapped(stack, "TA-90001").exitCode()).isZero();
        assertThat(house.awaitEnd("swapped-3", stack, Duration.ofMinutes(3)))
                .as(house.client("", "run", "show", "swapped-3").out())
                .isEqualTo("settled");
        assertThat(releases(stack)).containsExactly(TO, TO, TO);
        assertThat(house.fleet().member(stack, 1).restarts()).hasSize(1);
        assertThat(house.fleet().member(stack, 2).restarts()).hasSize(1);
    }

    private static House.Said swapped(String stack, String serial) throws Exception {
        return house.client(
                "",
                "run",
                "replace-member",
                "swapped-3",
                stack,
                "--member",
                "3",
                "--serial",
                serial,
                "--why",
                "its fan stood still");
    }

    @Test
    void nobodyGoesOnWhereTheOneThatIsLeftCouldNotRestart() throws Exception {
        String stack = "sw-ostrand-1";
        stuckWithoutItsLast("only-one-left", stack);
        assertThat(ways("only-one-left", stack)).doesNotContain("without");
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/runs/only-one-left/units/sw-ostrand-1/without",
                                        Map.of("why", "it may"))
                                .status())
                .isEqualTo(409);
        assertThat(house.fleet().member(stack, 1).restarts()).as("it serves").isEmpty();
    }
}
