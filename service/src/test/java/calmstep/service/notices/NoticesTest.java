package calmstep.service.notices;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.service.RunningService;
import calmstep.service.events.Events;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.json.JsonMapper;

class NoticesTest {
    private final Notices notices = RunningService.bean(Notices.class);
    private final Events events = RunningService.bean(Events.class);
    private final JdbcTemplate sql = RunningService.sql();
    private final String name = RunningService.name("alarms");

    private void happens(String kind, String text) {
        RunningService.inTransaction(
                () -> events.append(Optional.empty(), name, kind, "mara", text));
    }

    private void happensInARehearsal(String text) {
        long plan =
                sql.queryForObject(
                        "insert into plan (name, target, state, body, written_by, written_at,"
                                + " version) values (?, '', 'used', '', '', now(), 0) returning id",
                        Long.class,
                        name);
        long run =
                sql.queryForObject(
                        "insert into run (plan_id, name, state, started_by, started_at, rehearsal,"
                            + " version) values (?, ?, 'finished', '', now(), true, 0) returning"
                            + " id",
                        Long.class,
                        plan,
                        name);
        RunningService.inTransaction(
                () -> events.append(Optional.of(run), name, "unit", "mara", text));
    }

    /** Ours alone, without those of other tests that run beside. */
    private List<String> ofOurs(Queue<String> bodies) {
        return bodies.stream()
                .map(body -> JsonMapper.shared().readTree(body))
                .filter(notice -> notice.path("subject").asString().equals(name))
                .map(notice -> notice.path("text").asString())
                .distinct()
                .toList();
    }

    private void untilToldOf(Queue<String> bodies, String text) throws InterruptedException {
        Await.until(
                Duration.ofSeconds(30),
                "it is told of",
                () -> {
                    notices.tellAll();
                    return ofOurs(bodies);
                },
                told -> told.contains(text));
    }

    /**
     * What is away for a while hears everything afterwards, in its order; what it did not ask for,
     * and rehearsals, it never hears.
     */
    @Test
    void aWebhookHearsEverythingInItsOrderHoweverLongItWasAway() throws Exception {
        Queue<String> bodies = new ConcurrentLinkedQueue<>();
        Queue<String> signatures = new ConcurrentLinkedQueue<>();
        AtomicInteger refusals = new AtomicInteger(2);
        HttpServer server =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> receive(exchange, bodies, signatures, refusals));
        server.start();
        try {
            happens("unit", "happened before anybody was told");
            notices.set(
                    name,
                    new Notices.TargetToSet(
                            "http://127.0.0.1:%s/".formatted(server.getAddress().getPort()),
                            "agreed upon",
                            null,
                            null),
                    "admin");
            happens("unit", "begins");
            happens("step", "a step, which nobody asked for");
            happensInARehearsal("only played");
            happens("gate", "At the gate: go?");
            happens("run", "ends");
            notices.tellAll();
            assertThat(notices.all())
                    .filteredOn(target -> target.name().equals(name))
                    .singleElement()
                    .satisfies(
                            target -> {
                                assertThat(target.trouble())
                                        .isEqualTo("it answers 503; expected 200 to 299");
                                assertThat(target.signed()).isTrue();
                            });
            untilToldOf(bodies, "ends");
            assertThat(ofOurs(bodies)).containsExactly("begins", "At the gate: go?", "ends");
            assertThat(signatures)
                    .allMatch(both -> both.split(" ")[0].equals("sha256=" + both.split(" ")[1]));
            assertThat(notices.all())
                    .filteredOn(target -> target.name().equals(name))
                    .singleElement()
                    .satisfies(target -> assertThat(target.trouble()).isEmpty());
            assertThat(
                            sql.queryForObject(
                                    "select secret from notice_target where name = ?",
                                    byte[].class,
                                    name))
                    .asString(StandardCharsets.ISO_8859_1)
                    .doesNotContain("agreed upon");
        } finally {
            notices.forget(name, "admin");
            server.stop(0);
        }
    }

    private static void receive(
            HttpExchange exchange,
            Queue<String> bodies,
            Queue<String> signatures,
            AtomicInteger refusals)
            throws IOException {
        String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
        boolean refuses = body.contains("begins") && refusals.getAndDecrement() > 0;
        if (!refuses) {
            bodies.add(body);
            signatures.add(
                    exchange.getRequestHeaders().getFirst("Calm-Step-Signature")
                            + " "
                            + Postman.signature("agreed upon", body));
        }
        exchange.sendResponseHeaders(refuses ? 503 : 204, -1);
        exchange.close();
    }

    private static final String MESSAGE =
            "<(\\d+)>1 \\d{4}-\\d\\d-\\d\\dT\\S+Z \\S+ calm-step - unit \\[calmstep@32473"
                    + " id=\"\\d+\" subject=\"(.*?)\" who=\"mara\" hash=\"5f0c\"] \uFEFF(.*)";

    @Test
    void syslogIsWrittenAsItsRfcHasItOverUdpAndTcp() throws Exception {
        try (DatagramSocket udp = new DatagramSocket(0, InetAddress.getLoopbackAddress());
                ServerSocket tcp = new ServerSocket(0, 8, InetAddress.getLoopbackAddress())) {
            udp.setSoTimeout(10_000);
            tcp.setSoTimeout(10_000);
            Postman postman = RunningService.bean(Postman.class);
            Notice notice =
                    new Notice(
                            7,
                            java.time.Instant.EPOCH,
                            "unit",
                            "rt-\"1\"]",
                            null,
                            "mara",
                            "rt-1 is stuck.",
                            "5f0c");
            postman.bring(
                    notice,
                    java.net.URI.create("udp://127.0.0.1:" + udp.getLocalPort()),
                    Optional.empty());
            DatagramPacket packet = new DatagramPacket(new byte[4096], 4096);
            udp.receive(packet);
            String message =
                    new String(packet.getData(), 0, packet.getLength(), StandardCharsets.UTF_8);
            assertThat(message)
                    .matches(MESSAGE)
                    .startsWith("<132>1 1970-01-01T00:00:00Z ")
                    .contains("subject=\"rt-\\\"1\\\"\\]\"")
                    .endsWith("rt-1 is stuck.");
            postman.bring(
                    notice,
                    java.net.URI.create("tcp://127.0.0.1:" + tcp.getLocalPort()),
                    Optional.empty());
            try (Socket taken = tcp.accept()) {
                assertThat(
                                new String(
                                        taken.getInputStream().readAllBytes(),
                                        StandardCharsets.UTF_8))
                        .isEqualTo(
                                "%s %s"
                                        .formatted(
                                                message.getBytes(StandardCharsets.UTF_8).length,
                                                message));
            }
        }
    }

    @Test
    void whoCannotBeToldIsRefusedInWords() throws Exception {
        assertThatThrownBy(
                        () ->
                                notices.set(
                                        name,
                                        new Notices.TargetToSet(
                                                "ftp://somewhere/", null, null, null),
                                        "admin"))
                .hasMessageContaining("Expected where it listens")
                .hasMessageContaining("ftp://somewhere/");
        assertThatThrownBy(
                        () ->
                                notices.set(
                                        name,
                                        new Notices.TargetToSet(
                                                "udp://somewhere", null, null, null),
                                        "admin"))
                .hasMessageContaining("udp://host:port");
        assertThatThrownBy(
                        () ->
                                notices.set(
                                        name,
                                        new Notices.TargetToSet(
                                                "http://127.0.0.1/",
                                                null,
                                                List.of("weather"),
                                                null),
                                        "admin"))
                .hasMessageContaining("no notices about \"weather\"");
        int nobody;
        try (ServerSocket free = new ServerSocket(0)) {
            nobody = free.getLocalPort();
        }
        notices.set(
                name,
                new Notices.TargetToSet("http://127.0.0.1:%s/".formatted(nobody), null, null, null),
                "admin");
        try {
            assertThatThrownBy(() -> notices.tryOut(name, "admin"))
                    .hasMessageContaining("did not take it: nobody answers there");
        } finally {
            notices.forget(name, "admin");
        }
    }
}
