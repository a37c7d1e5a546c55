package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.check.Sweep;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * A run of many units on two nodes that are killed again and again at moments by chance, now one,
 * now the other, now both; once PostgreSQL is restarted under them. {@code CALMSTEP_KILLS} and
 * {@code CALMSTEP_SEED} ask for more of it than a check has time for: fewer are let through their
 * gates with each kill then, so that the run lasts.
 */
@Order(3)
class ManyKillsTest {
    private static final int KILLS =
            Integer.parseInt(
                    System.getenv()
                            .getOrDefault("CALMSTEP_KILLS", String.valueOf(Sweep.count(4, 100))));
    private static final long SEED = Sweep.ofTheDay();
    private static final int UNITS = Sweep.count(16, 40);
    private static final List<String> NAMES =
            IntStream.range(0, UNITS).mapToObj(n -> "rt-%s".formatted(100 + n)).toList();
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        Routers routers =
                new Routers(NAMES, name -> hops(name) == 2 ? "2.4.0" : "2.6.3", 480, 24_000);
        house = House.of(16, routers.fleet());
        house.prepared(
                house.own(
                        "inventory: 1\n"
                            + "sites: [{ name: dunmere, title: Dunmere, zone: Europe/Lisbon }]\n"
                            + "devices:\n"
                                + routers.devices(_ -> "dunmere")));
        House.must(
                house.call(
                        "PUT",
                        "/api/windows?file=windows.yaml",
                        """
                        windows: 1
                        open: [{ name: always, rule: FREQ=DAILY, from: "00:00", until: "00:00" }]
                        limits: { at-once: 40, at-once-a-site: 40, at-once-a-family: 40, pilots: 0, watch: 2 min }
                        """));
        house.startOtherNode();
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    /** Every fourth one has two hops before it. */
    private static int hops(String name) {
        return NAMES.indexOf(name) % 4 == 0 ? 2 : 1;
    }

    @Test
    void endsAsPlannedHoweverOftenItsNodesDie() throws Exception {
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name", "kills", "devices", NAMES, "target", "2.8.2", "begins",
                                "now")));
        house.acknowledge("kills");
        House.must(house.call("POST", "/api/plans/kills/approval", Map.of()));
        house.start("kills");
        SplittableRandom random = new SplittableRandom(SEED);
        int killed = 0;
        while (killed < KILLS) {
            // Some are in work all the while, up to the last kill.
            letThrough(UNITS * (killed + 1) / (KILLS + 1));
            Await.pass(Duration.ofMillis(500 + random.nextInt(5_000)), "a moment by chance");
            int which = random.nextInt(10);
            List<Boolean> dying = which == 0 ? List.of(true, false) : List.of(which < 6);
            for (boolean other : dying) {
                house.killNode(other);
                killed++;
            }
            if (killed / 2 == KILLS / 4) {
                house.stopPostgres();
                Await.pass(Duration.ofMillis(random.nextInt(3_000)), "a moment by chance");
                house.startPostgres();
            }
            Await.pass(Duration.ofMillis(random.nextInt(3_000)), "a moment by chance");
            for (boolean other : dying) {
                house.restartNode(other);
            }
        }
        Await.until(
                Duration.ofMinutes(5),
                "the run is over, or stuck",
                () -> {
                    letThrough(UNITS);
                    return isOver() || waitsForAPerson();
                });
        assertThat(
                        house.get("/api/runs/kills")
                                .path("units")
                                .valueStream()
                                .filter(unit -> !unit.path("state").asString().equals("settled"))
                                .map(
                                        unit ->
                                                unit.path("device").asString()
                                                        + ": "
                                                        + unit.path("trouble")))
                .isEmpty();
        System.out.printf("%s kills with seed %s: finished.%n", killed, SEED);
        eachStepWasDoneAndToldOnce();
        assertThat(house.get("/api/records/kills").path("chainWhole").asBoolean()).isTrue();
        assertThat(house.ask("select count(*) from lease where until > now()"))
                .as("leases left")
                .isEqualTo("0");
        nothingSecretLiesAround();
    }

    private void eachStepWasDoneAndToldOnce() {
        for (String name : NAMES) {
            assertThat(house.machine(name).release()).as(name).isEqualTo("2.8.2");
            assertThat(house.machine(name).restarts())
                    .as("restarts of " + name)
                    .hasSize(hops(name));
            assertThat(
                            house.ask(
                                    "select count(distinct (hop, kind)) from backup where unit_id = (select id from run_unit where name = '%s')"
                                            .formatted(name)))
                    .as("backups of " + name)
                    .isEqualTo(String.valueOf(2 * hops(name)));
        }
        assertThat(
                        house.ask(
                                "select count(*) from (select subject, substring(text from 'hop"
                                        + " [0-9]+, [a-z-]+: (?:done|not-needed)') told from event"
                                        + " where kind = 'step') e where told is not null"))
                .as("each step is told once")
                .isEqualTo(
                        house.ask(
                                "select count(*) from run_step where state in ('done',"
                                        + " 'not-needed')"));
        assertThat(house.ask("select count(*) from event where text like '%is settled.'"))
                .isEqualTo(String.valueOf(UNITS));
    }

    /**
     * In no row, no log and no file: what opens devices, what stands in their configurations, what
     * opens us.
     */
    private static void nothingSecretLiesAround() throws Exception {
        house.shell(
                "PGPASSWORD=$(cat %1$s/postgres/password) pg_dump -h 127.0.0.1 -p %2$s -U calmstep calmstep > %1$s/dump.sql"
                        .formatted(house.home(), house.databasePort()));
        String token =
                House.must(house.call("POST", "/api/tokens", Map.of("label", "planted")))
                        .json()
                        .path("token")
                        .asString();
        List<String> planted =
                List.of(House.DEVICE_PASSWORD, Routers.SECRET, house.adminPassword(), token);
        assertThat(token).hasSizeGreaterThan(15);
        try (Stream<Path> files = Files.walk(house.home())) {
            // The practice fleet is the other side: it may know its own passwords. The first
            // password is told in the log, once, until it is changed.
            for (Path file :
                    files.filter(Files::isRegularFile)
                            .filter(
                                    file ->
                                            !file.startsWith(house.home().resolve("practice"))
                                                    && !file.startsWith(
                                                            house.home().resolve("postgres"))
                                                    && !file.endsWith("fleet.yaml"))
                            .toList()) {
                String text = Files.readString(file, StandardCharsets.ISO_8859_1);
                assertThat(
                                planted.stream()
                                        .filter(
                                                secret ->
                                                        !(secret.equals(house.adminPassword())
                                                                && file.equals(house.log())))
                                        .filter(text::contains))
                        .as("%s".formatted(file))
                        .isEmpty();
            }
        }
        String record =
                house.call("GET", "/api/records/kills", null).body()
                        + house.call("GET", "/api/records/kills/page", null).body();
        assertThat(planted).noneMatch(record::contains);
    }

    /**
     * @param count of those that somebody said go for, with those of before
     */
    private static void letThrough(int count) {
        List<JsonNode> asked =
                house.get("/api/runs/kills")
                        .path("units")
                        .valueStream()
                        .filter(unit -> unit.path("gate").isObject())
                        .toList();
        long open =
                asked.stream().filter(unit -> unit.path("gate").path("open").asBoolean()).count();
        asked.stream()
                .filter(unit -> !unit.path("gate").path("open").asBoolean())
                .limit(Math.max(0, count - open))
                .forEach(unit -> house.go("kills", unit.path("device").asString()));
    }

    private static boolean isOver() {
        return house.get("/api/runs/kills").path("state").asString().equals("finished");
    }

    /** Nothing more happens by itself. */
    private static boolean waitsForAPerson() {
        return house.get("/api/runs/kills")
                .path("units")
                .valueStream()
                .map((JsonNode unit) -> unit.path("state").asString())
                .allMatch(state -> state.equals("settled") || state.equals("stuck"));
    }
}
