package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The client against a service that answers as it is told to: what is sent, what is said, which exit code. */
class ServiceCallsTest {
    private record Said(int exitCode, String out, String err) {}

    private record Call(String method, String path, String body, String authorization) {}

    private record Reply(int status, String type, String text) {}

    private final Map<String, Deque<Reply>> replies = new HashMap<>();
    private final List<Call> calls = new ArrayList<>();
    private HttpServer service;

    @TempDir
    private Path folder;

    @BeforeEach
    void start() throws IOException {
        service = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        service.createContext("/", this::answer);
        service.start();
    }

    @AfterEach
    void stop() {
        service.stop(0);
    }

    private synchronized void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            String path = exchange.getRequestURI().getRawPath();
            calls.add(new Call(exchange.getRequestMethod(), path, new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8), exchange.getRequestHeaders().getFirst("Authorization")));
            Deque<Reply> given = replies.getOrDefault(exchange.getRequestMethod() + " " + path, new ArrayDeque<>());
            Reply reply = given.isEmpty() ? new Reply(404, "application/problem+json", "{\"detail\":\"nothing is told for %s\"}".formatted(path)) : given.size() == 1 ? given.peek() : given.remove();
            byte[] bytes = reply.text().getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", reply.type());
            exchange.sendResponseHeaders(reply.status(), bytes.length == 0 ? -1 : bytes.length);
            exchange.getResponseBody().write(bytes);
        }
    }

    private void when(String call, int status, String... texts) {
        Arrays.stream(texts).forEach(text -> replies.computeIfAbsent(call, _ -> new ArrayDeque<>()).add(new Reply(status, status < 400 ? "application/json" : "application/problem+json", text)));
    }

    private Said run(String... words) {
        List<String> all = new ArrayList<>(List.of(words));
        if (!all.contains("--url")) {
            all.addAll(List.of("--url", "http://127.0.0.1:%d".formatted(service.getAddress().getPort())));
        }
        PrintStream out = System.out;
        PrintStream err = System.err;
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        ByteArrayOutputStream complained = new ByteArrayOutputStream();
        try {
            System.setOut(new PrintStream(said, true, StandardCharsets.UTF_8));
            System.setErr(new PrintStream(complained, true, StandardCharsets.UTF_8));
            return new Said(Main.commandLine(words).execute(all.toArray(String[]::new)), said.toString(StandardCharsets.UTF_8), complained.toString(StandardCharsets.UTF_8));
        } finally {
            System.setOut(out);
            System.setErr(err);
        }
    }

    private static final String FLEET = """
            [{"name":"rt-1","title":"Osmer R6","siteTitle":"Dunmere","runs":"2.4.0","standing":"behind","way":["2.6.3","2.8.2"],"toKnow":["unsaved changes, \\"live\\""],"readAt":null},
             {"name":"rt-2","title":"Osmer R6","siteTitle":"Eskholm","runs":"2.8.2","standing":"there","way":[],"toKnow":[],"readAt":null}]""";

    @Test
    void theSameListAsTableCsvJsonAndYaml() {
        when("GET /api/devices", 200, FLEET);
        assertThat(run("fleet", "list").out()).contains("rt-1").contains("2.6.3 > 2.8.2").contains("rt-2");
        assertThat(run("fleet", "list", "--output", "csv").out()).startsWith("device,family,").contains("\"unsaved changes, \"\"live\"\"\"");
        assertThat(run("fleet", "list", "--output", "json").out()).contains("\"name\" : \"rt-1\"");
        assertThat(run("fleet", "list", "--output", "yaml").out()).contains("name: rt-1");
        assertThat(run("fleet", "list", "--output", "xml")).satisfies(said -> {
            assertThat(said.exitCode()).isEqualTo(2);
            assertThat(said.err()).contains("xml");
        });
    }

    @Test
    void anEmptyFleetSaysHowToFillIt() {
        when("GET /api/devices", 200, "[]");
        assertThat(run("fleet", "list")).satisfies(said -> {
            assertThat(said.exitCode()).isZero();
            assertThat(said.out()).contains("calmstep fleet import FILE");
        });
    }

    @Test
    void eachRefusalKeepsItsWordsAndHasItsExitCode() {
        Map<Integer, Integer> exitCodes = Map.of(400, 2, 401, 3, 403, 3, 404, 2, 409, 1, 422, 1, 429, 1, 500, 1, 503, 4);
        exitCodes.forEach((status, exitCode) -> {
            replies.clear();
            when("GET /api/plans", status, "{\"detail\":\"The service says %d.\",\"details\":[\"one\",\"two\"]}".formatted(status));
            Said said = run("plan", "list");
            assertThat(said.exitCode()).as("status %d", status).isEqualTo(exitCode);
            assertThat(said.err()).contains("The service says %d.".formatted(status)).contains("  one\n").contains("  two\n");
            assertThat(said.out()).isEmpty();
        });
        replies.clear();
        when("GET /api/plans", 401, "{\"detail\":\"Sign in first.\"}");
        assertThat(run("plan", "list").err()).contains("calmstep sign-in --name");
    }

    @Test
    void somethingElseAtTheAddressIsSaidPlainlyAndWithoutAStackTrace() {
        replies.put("GET /api/plans", new ArrayDeque<>(List.of(new Reply(200, "text/html", "<html>Welcome</html>"))));
        assertThat(run("plan", "list")).satisfies(said -> {
            assertThat(said.exitCode()).isEqualTo(4);
            assertThat(said.err()).contains("Expected an answer of Calm Step").doesNotContain("Exception");
        });
        replies.put("GET /api/plans", new ArrayDeque<>(List.of(new Reply(502, "text/html", "<html>Bad gateway</html>"))));
        assertThat(run("plan", "list").err()).contains("answers 502").contains("not one of Calm Step");
        assertThat(run("plan", "list", "--url", "nowhere").err()).contains("Expected the service's address as http://host:port");
    }

    @Test
    void aWordAboutARunIsSentToItsUnitWithNamesEncoded() {
        when("POST /api/runs/night%20one/units/rt-1/set-aside", 200, "{}");
        Said said = run("run", "set-aside", "night one", "rt-1", "--why", "no power there");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out()).contains("rt-1 is set aside.");
        assertThat(calls).singleElement().satisfies(call -> assertThat(call.body()).isEqualTo("{\"why\":\"no power there\"}"));
        assertThat(run("run", "set-aside", "night one", "rt-1")).as("no reason, no call").satisfies(without -> assertThat(without.exitCode()).isEqualTo(2));
        assertThat(calls).hasSize(1);
    }

    @Test
    void aPlanWithStopsEndsWithOne() {
        String plan = "{\"name\":\"p\",\"state\":\"draft\",\"target\":\"2.8.2\",\"writtenBy\":\"mara\",\"writtenAt\":null,\"approvedBy\":null,\"units\":[],\"findings\":[{\"key\":\"k\",\"severity\":\"%s\",\"fact\":\"rt-1 was never read.\",\"remedy\":\"Read it first.\",\"choices\":[],\"answer\":null}]}";
        when("POST /api/plans", 201, plan.formatted("stop"), plan.formatted("note"));
        Said stopped = run("plan", "draft", "p", "rt-1", "--to", "2.8.2");
        assertThat(stopped.exitCode()).isEqualTo(1);
        assertThat(stopped.out()).contains("stop     rt-1 was never read. Read it first.");
        assertThat(calls.getFirst().body()).contains("\"devices\":[\"rt-1\"]").contains("\"target\":\"2.8.2\"");
        assertThat(run("plan", "draft", "p", "rt-1", "--to", "2.8.2").exitCode()).isZero();
    }

    @Test
    void aReadingIsFollowedToItsEndAndSilentDevicesAreCounted() {
        when("POST /api/readings", 202, "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":0,\"failed\":0}");
        when("GET /api/jobs/7", 200, "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":1,\"failed\":0}", "{\"id\":7,\"state\":\"finished\",\"total\":3,\"done\":3,\"failed\":1}");
        Said said = run("fleet", "read");
        assertThat(said.exitCode()).isEqualTo(1);
        assertThat(said.out()).contains("2 read, 1 silent.");
        assertThat(said.err()).as("no progress when it is not a terminal").isEmpty();
    }

    @Test
    void anImageIsSentAsItIsAndARefusedOneGivesItsReason() throws Exception {
        Path image = Files.write(folder.resolve("osmer-r6c-2.8.2.img"), new byte[3_000_000]);
        when("PUT /api/shelf/images/osmer-r6c-2.8.2.img", 422, "{\"detail\":\"It is not the published file.\"}");
        assertThat(run("shelf", "add", image.toString())).satisfies(said -> {
            assertThat(said.exitCode()).isEqualTo(1);
            assertThat(said.err()).contains("It is not the published file.");
        });
        assertThat(calls).singleElement().satisfies(call -> assertThat(call.body()).hasSize(3_000_000));
        assertThat(run("shelf", "add", folder.resolve("gone.img").toString()).exitCode()).isEqualTo(2);
    }

    @Test
    void watchingPrintsEachEventOnceThoughTheLineBreaksAndEndsWithTheRun() {
        String run = "{\"id\":3,\"name\":\"tonight\",\"state\":\"%s\",\"units\":[{\"device\":\"rt-1\",\"state\":\"%s\",\"gate\":null}]}";
        when("GET /api/runs/tonight", 200, run.formatted("under-way", "preparing"), run.formatted("under-way", "preparing"), run.formatted("finished", "settled"));
        String first = "{\"id\":1,\"runId\":3,\"kind\":\"unit\",\"at\":\"2026-11-23T01:20:00Z\",\"text\":\"rt-1 is preparing.\"}";
        String second = "{\"id\":2,\"runId\":3,\"kind\":\"step\",\"at\":\"2026-11-23T01:21:00Z\",\"text\":\"rt-1, hop 1, check: done.\"}";
        String third = "{\"id\":4,\"runId\":3,\"kind\":\"run\",\"at\":\"2026-11-23T01:29:00Z\",\"text\":\"Run tonight finished.\"}";
        when("GET /api/runs/tonight/events", 200, "[" + first + "]", "[" + first + "," + second + "," + third + "]");
        String other = "{\"id\":3,\"runId\":9,\"kind\":\"step\",\"at\":\"2026-11-23T01:22:00Z\",\"text\":\"of another run\"}";
        replies.put("GET /api/events", new ArrayDeque<>(List.of(new Reply(200, "text/event-stream", "id: 2\ndata: %s\n\n: beat\n\nid: 3\ndata: %s\n\n".formatted(second, other)),
                new Reply(200, "text/event-stream", ""))));
        Said said = run("run", "watch", "tonight");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out().lines().map(line -> line.replaceAll("^.*?(rt-1|Run|of)", "$1"))).containsExactly("rt-1 is preparing.", "rt-1, hop 1, check: done.", "Run tonight finished.");
    }
}
