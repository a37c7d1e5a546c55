package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Devices that nobody wrote down are found by greeting and by SNMP, only where a range allows it,
 * and come into the fleet by a person's word alone.
 */
class FindingTest {
    private static House house;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(7);
        house.importNorthmere();
        house.setStewardLogin();
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/reads",
                        Map.of(
                                "user",
                                "",
                                "password",
                                "northmere-reads",
                                "snmp",
                                Map.of("version", "v2c"))));
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/watcher",
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
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    @BeforeEach
    void nothingFoundYet() throws Exception {
        try (var connection = house.database()) {
            connection
                    .createStatement()
                    .execute(
                            "delete from candidate; delete from device where name in"
                                    + " ('rt-gullness-quay-2', 'sw-gullness-quay-2')");
        }
    }

    private static void range(
            String name, List<String> within, List<String> except, String snmp, int perSecond) {
        House.must(
                house.call(
                        "PUT",
                        "/api/discovery/ranges/" + name,
                        Map.of(
                                "within",
                                within.stream().map(house::own).toList(),
                                "except",
                                except.stream().map(house::own).toList(),
                                "site",
                                "gullness-quay",
                                "login",
                                "steward",
                                "snmpLogin",
                                snmp,
                                "sshPort",
                                Integer.parseInt(house.own("2022")),
                                "snmpPort",
                                Integer.parseInt(house.own("2061")),
                                "perSecond",
                                perSecond)));
    }

    private static long begin(String range) {
        return House.must(
                        house.call(
                                "POST",
                                "/api/discovery/ranges/%s/searches".formatted(range),
                                Map.of()))
                .json()
                .path("id")
                .asLong();
    }

    private static void search(String range) {
        long job = begin(range);
        Await.until(
                Duration.ofSeconds(60),
                "the range is searched",
                () -> house.get("/api/jobs/" + job).path("state").asString().equals("finished"));
    }

    private static JsonNode candidate(String address) {
        return house.get("/api/discovery/candidates?dropped=true")
                .valueStream()
                .filter(c -> c.path("address").asString().equals(house.own(address)))
                .findFirst()
                .orElseThrow();
    }

    private static List<String> addresses() {
        return house.get("/api/discovery/candidates")
                .valueStream()
                .map(c -> c.path("address").asString())
                .sorted()
                .toList();
    }

    @Test
    void tellsWhatAnswersAndOfWhichFamilyItIs() {
        range(
                "quay",
                List.of("127.40.29.0/27", "127.40.29.30-127.40.29.31"),
                List.of(),
                "reads",
                200);
        search("quay");
        assertThat(addresses())
                .containsExactlyInAnyOrder(
                        house.own("127.40.29.9"),
                        house.own("127.40.29.8"),
                        house.own("127.40.29.30"));
        JsonNode router = candidate("127.40.29.9");
        assertThat(
                        List.of("family", "model", "revision", "serial", "release", "name", "state")
                                .stream()
                                .map(key -> router.path(key).asString()))
                .containsExactly(
                        "osmer-r6",
                        "R6-2",
                        "C",
                        "OS6-10503",
                        "2.6.3",
                        "rt-gullness-quay-2",
                        "found");
        JsonNode greets = candidate("127.40.29.8");
        assertThat(
                        List.of(
                                greets.path("family").asString(),
                                greets.path("release").asString(),
                                greets.path("toKnow").asString()))
                .as("by its greeting alone")
                .containsExactly("tarnel-t2", "5.4.3b", "it tells no name; say one");
        assertThat(candidate("127.40.29.30").path("toKnow").asString())
                .contains("no dialect knows \"SSH-2.0-harbour-camera_3\"");

        range("quay", List.of("127.40.29.31"), List.of(), "watcher", 200);
        search("quay");
        assertThat(candidate("127.40.29.31").path("serial").asString())
                .as("told by SNMP v3, signed and enciphered")
                .isEqualTo("SK-40981");
        aWrongPasswordGetsNothing();
    }

    private void aWrongPasswordGetsNothing() {
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/stranger",
                        Map.of(
                                "user",
                                "watcher",
                                "password",
                                "not-the-word",
                                "snmp",
                                Map.of("version", "v3", "privacyPassword", "not-the-word"))));
        range("strange", List.of("127.40.4.1"), List.of(), "stranger", 200);
        search("strange");
        assertThat(candidate("127.40.4.1").path("serial").asString())
                .as("a wrong password gets nothing but the greeting")
                .isEmpty();
        assertThat(candidate("127.40.4.1").path("device").asString()).isEqualTo("rt-eskholm-1");
    }

    private static House.Answer accept(List<Map<String, String>> candidates) {
        return house.call("POST", "/api/discovery/accepted", Map.of("candidates", candidates));
    }

    @Test
    void acceptsAllOrNoneThroughTheChecksOfAnInventory() {
        range("quay", List.of("127.40.29.8-127.40.29.30"), List.of(), "reads", 200);
        search("quay");
        House.Answer refused =
                accept(
                        List.of(
                                Map.of("address", house.own("127.40.29.9")),
                                Map.of("address", house.own("127.40.29.30"))));
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.details()).contains("127.67.29.30: it needs a family, a name; say it.");
        assertThat(house.call("GET", "/api/devices/rt-gullness-quay-2", null).status())
                .as("none of them came in")
                .isEqualTo(404);

        House.must(
                accept(
                        List.of(
                                Map.of("address", house.own("127.40.29.9")),
                                Map.of(
                                        "address",
                                        house.own("127.40.29.8"),
                                        "name",
                                        "sw-gullness-quay-2",
                                        "family",
                                        "tarnel-t2",
                                        "model",
                                        "T2-24"))));
        assertThat(house.get("/api/devices/rt-gullness-quay-2").path("serial").asString())
                .isEqualTo("OS6-10503");
        assertThat(candidate("127.40.29.9").path("state").asString()).isEqualTo("in-fleet");
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/discovery/accepted",
                                        Map.of(
                                                "candidates",
                                                List.of(
                                                        Map.of(
                                                                "address",
                                                                "127.67.29.77",
                                                                "name",
                                                                "rt-gullness-quay-2",
                                                                "family",
                                                                "osmer-r6",
                                                                "site",
                                                                "dunmere",
                                                                "login",
                                                                "steward"))))
                                .details())
                .contains("there is a device rt-gullness-quay-2 already");

        whatWasDroppedStaysDropped();
    }

    private void whatWasDroppedStaysDropped() {
        House.must(
                house.call(
                        "POST",
                        "/api/discovery/dropped",
                        Map.of(
                                "addresses",
                                List.of(house.own("127.40.29.30")),
                                "why",
                                "a camera")));
        search("quay");
        assertThat(addresses())
                .as("what was dropped stays dropped")
                .doesNotContain(house.own("127.40.29.30"));
        assertThat(candidate("127.40.29.30").path("toKnow").asString())
                .isEqualTo("dropped: a camera");
    }

    /**
     * Listens beside the range and in it: only what the range gives is touched, and not faster than
     * it says.
     */
    @Test
    void touchesOnlyTheGivenAddressesAtTheGivenPace() throws Exception {
        AtomicInteger inside = new AtomicInteger();
        AtomicInteger outside = new AtomicInteger();
        int port = Integer.parseInt(house.own("2061"));
        try (DatagramSocket _ = counted("127.67.50.3", port, outside);
                DatagramSocket _ = counted("127.67.50.17", port, outside);
                DatagramSocket _ = counted("127.67.50.5", port, inside)) {
            range(
                    "careful",
                    List.of("127.40.50.0/28"),
                    List.of("127.40.50.2-127.40.50.4"),
                    "reads",
                    10);
            long began = System.nanoTime();
            search("careful");
            assertThat(Duration.ofNanos(System.nanoTime() - began))
                    .as("11 addresses at 10 a second")
                    .isGreaterThan(Duration.ofMillis(950));
            assertThat(inside.get()).isPositive();
            assertThat(outside.get()).isZero();
        }
    }

    private static DatagramSocket counted(String address, int port, AtomicInteger count)
            throws Exception {
        DatagramSocket socket =
                new DatagramSocket(new InetSocketAddress(InetAddress.getByName(address), port));
        Thread.ofVirtual()
                .start(
                        () -> {
                            try {
                                while (true) {
                                    socket.receive(new DatagramPacket(new byte[2000], 2000));
                                    count.incrementAndGet();
                                }
                            } catch (java.io.IOException closed) {
                                // Closed at the end of the test.
                            }
                        });
        return socket;
    }

    @Test
    void aCancelledSearchKeepsWhatItFound() {
        range("long", List.of("127.40.29.8-127.40.29.9", "127.40.51.0/24"), List.of(), "", 4);
        long job = begin("long");
        Await.until(Duration.ofSeconds(30), "both answered", () -> addresses().size() == 2);
        House.must(house.call("DELETE", "/api/jobs/" + job, null));
        int done = house.get("/api/jobs/" + job).path("done").asInt();
        assertThat(done).isLessThan(100);
        Await.pass(Duration.ofMillis(1500), "nothing else is asked");
        assertThat(house.get("/api/jobs/" + job).path("done").asInt())
                .as("no further address is begun")
                .isLessThanOrEqualTo(done + 8);
        assertThat(house.get("/api/jobs/" + job).path("state").asString()).isEqualTo("cancelled");
        assertThat(addresses()).hasSize(2);
    }

    @Test
    void aRangeIsRefusedWithEveryReason() {
        House.Answer refused =
                house.call(
                        "PUT",
                        "/api/discovery/ranges/wrong",
                        Map.of(
                                "within",
                                List.of("127.67.1.1/16", "10.0.0.0/8"),
                                "site",
                                "atlantis",
                                "perSecond",
                                9000));
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.details())
                .contains("which is 127.67.0.0/16")
                .contains("no site \\\"atlantis\\\"")
                .contains("saw 9000");
        assertThat(
                        house.call(
                                        "PUT",
                                        "/api/discovery/ranges/wrong",
                                        Map.of(
                                                "within",
                                                List.of("127.67.1.1"),
                                                "snmpLogin",
                                                "steward"))
                                .detail())
                .contains("opens a command line");
    }
}
