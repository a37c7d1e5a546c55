package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.AlarmSystem;
import calmstep.practice.Fault;
import calmstep.practice.Mailbox;
import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Who hears of a night: an alarm system that rings for whatever goes dark unannounced, the contacts
 * of the site, the people who use what stands behind a device, and the one who has to judge.
 */
@Order(2)
class WatchedNightTest {
    private static final List<String> NAMES =
            List.of(
                    "rt-plain",
                    "rt-page",
                    "rt-killed",
                    "rt-loader",
                    "rt-bell",
                    "rt-first",
                    "rt-second");
    private static final String QUAY = "quay@dunmere.example";
    private static final String BAY = "bay@gullness.example";
    private static final String PIER = "pier@eskholm.example";
    private static final String UNSEEN =
            "  - { name: %s, family: osmer-r6, model: R6-4, revision: C, serial: OS6-30%s, site:"
                    + " %s, address: 127.75.9.%s, port: 2022, login: steward, %s }\n";
    private static House house;
    private static final HeldClock ALARM_CLOCK = new HeldClock();
    private static AlarmSystem alarms;
    private static Mailbox mailbox;
    private static HttpServer board;
    private static volatile String boardSays = "Next sailing 14:20";

    /**
     * Stands while a process of ours is away: how long a busy machine takes to start it again is
     * not what is tested, and a quiet would end meanwhile.
     */
    private static final class HeldClock extends Clock {
        private Duration behind = Duration.ZERO;
        private Optional<Instant> standsAt = Optional.empty();

        synchronized void stop() {
            standsAt = Optional.of(instant());
        }

        synchronized void goOn() {
            behind = Duration.between(standsAt.orElseThrow(), Instant.now());
            standsAt = Optional.empty();
        }

        @Override
        public synchronized Instant instant() {
            return standsAt.orElseGet(() -> Instant.now().minus(behind));
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }
    }

    @BeforeAll
    static void build() throws Exception {
        Routers routers = new Routers(NAMES, _ -> "2.6.3", 120, 400_000);
        String devices =
                routers.devices(
                        name ->
                                List.of("rt-plain", "rt-page").contains(name)
                                        ? "dunmere"
                                        : "eskholm");
        house = House.of(15, routers.fleet(), WatchedNightTest::writesMail);
        house.prepared(
                house.own(
                        """
                        inventory: 1
                        sites:
                          - { name: dunmere, title: Dunmere, zone: Europe/Lisbon, contacts: [quay@dunmere.example, crew@dunmere.example] }
                          - { name: eskholm, title: Eskholm, zone: Europe/Lisbon, contacts: [pier@eskholm.example] }
                          - { name: gullness, title: Gullness, zone: Europe/Lisbon, contacts: [bay@gullness.example] }
                        devices:
                        """
                                + devices.replace(
                                        "{ name: rt-plain,",
                                        "{ name: rt-plain, links: [rt-core, rt-bay],")
                                + UNSEEN.formatted("rt-bay", 98, "gullness", 8, "serves: the bay")
                                + UNSEEN.formatted("rt-core", 99, "eskholm", 9, "root: true")));
        alarms = AlarmSystem.open(house.freePort(0), () -> house.fleet().dark(), ALARM_CLOCK);
        mailbox = Mailbox.open(house.freePort(1));
        board = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        board.createContext(
                "/",
                exchange -> {
                    byte[] page = boardSays.getBytes(StandardCharsets.UTF_8);
                    exchange.sendResponseHeaders(200, page.length);
                    exchange.getResponseBody().write(page);
                    exchange.close();
                });
        board.start();
        House.must(
                house.call(
                        "PUT",
                        "/api/notices/bell",
                        Map.of(
                                "address",
                                "http://127.0.0.1:" + house.freePort(0),
                                "quiets",
                                true)));
    }

    private static void writesMail(House house) {
        house.set("CALMSTEP_MAIL_HOST", "127.0.0.1");
        house.set("CALMSTEP_MAIL_PORT", String.valueOf(house.freePort(1)));
    }

    @AfterAll
    static void tearDown() throws Exception {
        board.stop(0);
        mailbox.close();
        alarms.close();
        house.close();
    }

    private static void toTheGate(String run, String... devices) {
        house.approvedPlan(run, "2.8.2", devices);
        house.start(run);
        for (String device : devices) {
            house.awaitGate(run, device);
        }
    }

    private static void rightsItself(String device) {
        Await.until(
                Duration.ofSeconds(20),
                device + " rings again",
                () -> !alarms.quiet().contains(device));
    }

    /**
     * One goes on as it should; behind the other a page says something else afterwards, which is
     * refused, and it goes back. Both are quiet meanwhile, and the contacts are told.
     */
    @Test
    void alarmsAreQuietWhileItIsWorkedOnContactsAreToldAndWhatIsOddIsJudged() {
        givesThePageItsChecks();
        toTheGate("both", "rt-plain", "rt-page");
        assertThat(alarms.quieted())
                .as("nobody is disturbed before the gate")
                .doesNotContain("rt-plain", "rt-page");
        contactsAreToldBefore();
        assertThat(house.call("POST", "/api/runs/both/go?site=eskholm", null).detail())
                .contains("site of this run");
        House.must(house.call("POST", "/api/runs/both/go?site=dunmere", null));
        Await.until(
                Duration.ofMinutes(1),
                "rt-page restarts",
                () -> house.fleet().dark().get("rt-page"));
        assertThat(alarms.quiet()).contains("rt-page");
        boardSays = "Maintenance";
        assertThat(house.awaitDoubt("both", "rt-page"))
                .anyMatch(odd -> odd.equals("check sailings was ok, is another page"));
        assertThat(house.fleet().storage("rt-page").resolve("osmer-r6c-2.4.0.img"))
                .as("nothing is tidied away before it is judged")
                .exists();
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/runs/both/units/rt-page/refusal",
                                        Map.of("why", " "))
                                .detail())
                .contains("Say why");
        House.must(
                house.call(
                        "POST",
                        "/api/runs/both/units/rt-page/refusal",
                        Map.of("why", "nobody sees when the next ferry sails")));
        assertThat(house.unit("both", "rt-page").path("trouble").path("remedy").asString())
                .contains("nobody sees when the next ferry sails");
        boardSays = "Next sailing 14:20";
        House.must(
                house.call(
                        "POST",
                        "/api/runs/both/units/rt-page/return",
                        Map.of("why", "the board is needed")));
        assertThat(house.awaitEnd("both", "rt-page", Duration.ofMinutes(3))).isEqualTo("returned");
        assertThat(house.awaitEnd("both", "rt-plain", Duration.ofMinutes(2))).isEqualTo("settled");
        assertThat(house.step("both", "rt-plain", "soak").path("seen").asString())
                .contains("it went on as it was proven");

        assertThat(alarms.quieted()).as("there and back").filteredOn("rt-page"::equals).hasSize(2);
        assertThat(alarms.quiet()).doesNotContain("rt-plain", "rt-page");
        assertThat(alarms.rang())
                .as("nothing rang that was announced")
                .doesNotContain("rt-plain", "rt-page");
        contactsAreToldAfter();
    }

    private void contactsAreToldAfter() {
        Await.until(
                Duration.ofSeconds(20),
                "the contacts are told after",
                () -> to(QUAY).size() == 2 && to(BAY).size() == 2);
        assertThat(to(QUAY).getLast())
                .contains(
                        "the work on your network is over",
                        "done: runs 2.8.2",
                        "went back to what it ran before, 2.6.3")
                .as("what colleagues wrote for each other stays with them")
                .doesNotContain("the board is needed", "nobody sees when");
        assertThat(to(BAY).getLast()).contains("rt-plain at Dunmere", "done");
        assertThat(
                        house.get("/api/runs/both/mail")
                                .valueStream()
                                .map(
                                        mail ->
                                                mail.path("site").asString()
                                                        + " "
                                                        + mail.path("occasion").asString()))
                .containsExactlyInAnyOrder(
                        "dunmere before", "gullness before", "dunmere after", "gullness after");
    }

    /** What somebody was sent, the first one first. */
    private static List<String> to(String contact) {
        return mailbox.mails().stream()
                .filter(mail -> mail.to().contains(contact))
                .map(Mailbox.Mail::text)
                .toList();
    }

    private void contactsAreToldBefore() {
        Await.until(
                Duration.ofSeconds(20),
                "the contacts are told before",
                () -> to(QUAY).size() == 1 && to(BAY).size() == 1);
        assertThat(to("crew@dunmere.example")).isEqualTo(to(QUAY));
        assertThat(to(BAY).getFirst())
                .as("nothing is changed there, and it has no network meanwhile")
                .contains(
                        "Subject: Gullness: work on your network",
                        "rt-plain at Dunmere, over which rt-bay reaches the network: the bay",
                        "without network for about 4 min")
                .doesNotContain("rt-page", "2.8.2");
        assertThat(to(QUAY).getFirst())
                .contains(
                        "Subject: Dunmere: work on your network",
                        "rt-plain: the ticket hall",
                        "2.6.3 to 2.8.2, without network for about 4 min");
    }

    private void givesThePageItsChecks() {
        House.must(
                house.call(
                        "PUT",
                        "/api/devices/rt-page/checks",
                        Map.of(
                                "checks",
                                List.of(
                                        "sailings: page http://127.0.0.1:%s/ shows Next sailing"
                                                .formatted(board.getAddress().getPort()),
                                        "uplinks: count interface up at least 1",
                                        "board from there: reach http://127.0.0.1:%s/"
                                                .formatted(board.getAddress().getPort())))));
        assertThat(
                        house.call(
                                        "PUT",
                                        "/api/devices/rt-page/checks",
                                        Map.of("checks", List.of("sailings: knock")))
                                .details())
                .contains("NAME: ping ADDRESS");
        assertThat(
                        house.call("POST", "/api/devices/rt-page/checks/trial", null)
                                .json()
                                .valueStream()
                                .map(fact -> fact.path("value").asString()))
                .containsExactly("ok", "ok", "ok");
    }

    /**
     * We are killed while a device is quiet: it goes on, and rings again. One that is set aside in
     * its boot loader rings at once.
     */
    @Test
    void whoeverWasQuietRingsAgainAlsoAfterOurCrashAndWhenItIsSetAside() throws Exception {
        toTheGate("crash", "rt-killed", "rt-loader");
        house.machine("rt-loader").add(Fault.STOPS_IN_BOOT_LOADER);
        house.go("crash", "rt-killed");
        house.go("crash", "rt-loader");
        Await.until(
                Duration.ofMinutes(1),
                "both are quiet",
                () -> alarms.quiet().containsAll(List.of("rt-killed", "rt-loader")));
        ALARM_CLOCK.stop();
        house.killService();
        house.startService();
        ALARM_CLOCK.goOn();
        assertThat(house.awaitEnd("crash", "rt-killed", Duration.ofMinutes(3)))
                .isEqualTo("settled");
        rightsItself("rt-killed");
        assertThat(house.awaitEnd("crash", "rt-loader", Duration.ofMinutes(3))).isEqualTo("stuck");
        assertThat(alarms.rang()).doesNotContain("rt-killed");
        House.must(
                house.call(
                        "POST",
                        "/api/runs/crash/units/rt-loader/set-aside",
                        Map.of("why", "somebody drives there")));
        rightsItself("rt-loader");
        Await.until(
                Duration.ofSeconds(10),
                "it rings, since it is dark",
                () -> alarms.rang().contains("rt-loader"));
    }

    /**
     * Nothing goes dark unannounced because an alarm system does not answer: it is a person's word
     * to go on without.
     */
    @Test
    void anAlarmSystemThatDoesNotAnswerStopsTheStepInWords() {
        toTheGate("bell", "rt-bell");
        alarms.isAway(true);
        try {
            house.go("bell", "rt-bell");
            assertThat(house.awaitEnd("bell", "rt-bell", Duration.ofMinutes(2))).isEqualTo("stuck");
        } finally {
            alarms.isAway(false);
        }
        JsonNode trouble = house.unit("bell", "rt-bell").path("trouble");
        assertThat(trouble.path("step").asString()).isEqualTo("quiet");
        assertThat(trouble.path("expected").asString()).contains("the alarm system bell takes PUT");
        assertThat(trouble.path("seen").asString()).isEqualTo("it answers 503");
        assertThat(trouble.path("ways").valueStream().map(JsonNode::asString)).contains("skip");
        assertThat(house.machine("rt-bell").restarts()).isEmpty();
        House.must(house.call("POST", "/api/runs/bell/units/rt-bell/retry", null));
        assertThat(house.awaitEnd("bell", "rt-bell", Duration.ofMinutes(3))).isEqualTo("settled");
        rightsItself("rt-bell");
    }

    /**
     * The first of its kind gets stuck: the other one of its kind does not begin, and the run is
     * held by itself.
     */
    @Test
    void whatFollowsAPilotThatIsStuckDoesNotBegin() throws Exception {
        limits("pilots: 1, soak: 0 s, stop-at: 1");
        approvedForNow("kind", "rt-first", "rt-second");
        house.machine("rt-first").add(Fault.STOPS_IN_BOOT_LOADER);
        house.machine("rt-second").add(Fault.STOPS_IN_BOOT_LOADER);
        house.start("kind");
        Await.until(
                Duration.ofMinutes(2),
                "the run is held",
                () -> house.get("/api/runs/kind").path("state").asString().equals("held"));
        assertThat(house.get("/api/runs/kind").path("heldWhy").asString())
                .isEqualTo("1 of its 2 units got stuck, and no more than 0 may");
        List<JsonNode> stuck =
                house.get("/api/runs/kind")
                        .path("units")
                        .valueStream()
                        .filter(unit -> unit.path("state").asString().equals("stuck"))
                        .toList();
        assertThat(stuck).hasSize(1);
        String pilot = stuck.getFirst().path("device").asString();
        String follower = pilot.equals("rt-first") ? "rt-second" : "rt-first";
        House.must(house.call("POST", "/api/runs/kind/resumption", null));
        Await.until(
                Duration.ofMinutes(1),
                "it says whom it waits for",
                () ->
                        house.unit("kind", follower)
                                .path("turn")
                                .path("waitsFor")
                                .asString()
                                .contains("%s, the pilot of its kind, is stuck".formatted(pilot)));
        assertThat(house.machine(follower).restarts()).isEmpty();
        assertThat(house.unit("kind", follower).path("gate").isNull())
                .as("the plan says that nobody is asked")
                .isTrue();
        house.machine(follower).clearFaults();
        House.must(
                house.call(
                        "POST",
                        "/api/runs/kind/units/%s/turn".formatted(follower),
                        Map.of("begins", "now", "why", "around midnight it may be outside")));
        contactsAreToldOfTheNewTimes(follower);
        assertThat(house.awaitEnd("kind", follower, Duration.ofMinutes(3)))
                .as("a person's word goes before the pilot's")
                .isEqualTo("settled");
        limits("pilots: 0");
    }

    private static void contactsAreToldOfTheNewTimes(String moved) {
        Await.until(
                Duration.ofMinutes(1),
                "the contacts are told of the new times",
                () -> to(PIER).stream().anyMatch(mail -> mail.contains("new times")));
        assertThat(to(PIER))
                .filteredOn(mail -> mail.contains("(run kind,"))
                .hasSize(2)
                .allSatisfy(
                        mail ->
                                assertThat(mail)
                                        .contains("text/calendar", "BEGIN:VEVENT", moved)
                                        .as("as long as it takes, not as its window is open")
                                        .doesNotContain("23:59", "around midnight"));
        assertThat(house.ask("select text from event where kind = 'mail' order by id desc limit 1"))
                .contains("eskholm were told of the new times: " + PIER);
    }

    /** It begins at once, and nobody is asked. */
    private void approvedForNow(String name, String... devices) {
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                name,
                                "devices",
                                List.of(devices),
                                "target",
                                "2.8.2",
                                "begins",
                                "now")));
        House.must(
                house.call(
                        "POST",
                        "/api/plans/%s/nights?keep=true".formatted(name),
                        Map.of("asks", "nobody")));
        assertThat(house.get("/api/plans/" + name).path("state").asString())
                .as("that nobody is asked is a caution")
                .isEqualTo("draft");
        house.acknowledge(name);
        House.must(house.call("POST", "/api/plans/%s/approval".formatted(name), Map.of()));
    }

    private static void limits(String words) {
        House.must(
                house.call(
                        "PUT",
                        "/api/windows?file=windows.yaml",
                        """
                        windows: 1
                        open: [{ name: always, rule: FREQ=DAILY, from: "00:00", until: "00:00" }]
                        limits: { at-once-a-site: 5, %s }
                        """
                                .formatted(words)));
    }
}
