package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.net.InetAddress;
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

/**
 * The client against a service that answers as it is told to: what is sent, what is said, which
 * exit code.
 */
class ServiceCallsTest {
    private record Said(int exitCode, String out, String err) {}

    private record Call(String method, String path, String body, String authorization) {}

    private record Reply(int status, String type, String text) {}

    private final Map<String, Deque<Reply>> replies = new HashMap<>();
    private final List<Call> calls = new ArrayList<>();
    private HttpServer service;

    @TempDir private Path folder;

    @BeforeEach
    void start() throws IOException {
        service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
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
            calls.add(
                    new Call(
                            exchange.getRequestMethod(),
                            path,
                            new String(
                                    exchange.getRequestBody().readAllBytes(),
                                    StandardCharsets.UTF_8),
                            exchange.getRequestHeaders().getFirst("Authorization")));
            Deque<Reply> given =
                    replies.getOrDefault(
                            exchange.getRequestMethod() + " " + path, new ArrayDeque<>());
            Reply reply =
                    given.isEmpty()
                            ? new Reply(
                                    404,
                                    "application/problem+json",
                                    "{\"detail\":\"nothing is told for %s\"}".formatted(path))
                            : given.size() == 1 ? given.peek() : given.remove();
            byte[] bytes = reply.text().getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", reply.type());
            exchange.sendResponseHeaders(reply.status(), bytes.length == 0 ? -1 : bytes.length);
            exchange.getResponseBody().write(bytes);
        }
    }

    private void when(String call, int status, String... texts) {
        Arrays.stream(texts)
                .forEach(
                        text ->
                                replies.computeIfAbsent(call, _ -> new ArrayDeque<>())
                                        .add(
                                                new Reply(
                                                        status,
                                                        status < 400
                                                                ? "application/json"
                                                                : "application/problem+json",
                                                        text)));
    }

    private Said run(String... words) {
        List<String> all = new ArrayList<>(List.of(words));
        if (!all.contains("--url")) {
            all.addAll(
                    List.of(
                            "--url",
                            "http://127.0.0.1:%d".formatted(service.getAddress().getPort())));
        }
        PrintStream out = System.out;
        PrintStream err = System.err;
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        ByteArrayOutputStream complained = new ByteArrayOutputStream();
        try {
            System.setOut(new PrintStream(said, true, StandardCharsets.UTF_8));
            System.setErr(new PrintStream(complained, true, StandardCharsets.UTF_8));
            return new Said(
                    Main.commandLine(words).execute(all.toArray(String[]::new)),
                    said.toString(StandardCharsets.UTF_8),
                    complained.toString(StandardCharsets.UTF_8));
        } finally {
            System.setOut(out);
            System.setErr(err);
        }
    }

    private static final String FLEET =
            """
            [{"name":"rt-1","title":"Osmer R6","siteTitle":"Dunmere","runs":"2.4.0","standing":"behind","way":["2.6.3","2.8.2"],"toKnow":["unsaved changes, \\"live\\""],"readAt":null},
             {"name":"rt-2","title":"Osmer R6","siteTitle":"Eskholm","runs":"2.8.2","standing":"there","way":[],"toKnow":[],"readAt":null}]\
            """;

    @Test
    void theSameListAsTableCsvJsonAndYaml() {
        when("GET /api/devices", 200, FLEET);
        assertThat(run("fleet", "list").out())
                .contains("rt-1")
                .contains("2.6.3 > 2.8.2")
                .contains("rt-2");
        assertThat(run("fleet", "list", "--output", "csv").out())
                .startsWith("device,family,")
                .contains("\"unsaved changes, \"\"live\"\"\"");
        assertThat(run("fleet", "list", "--output", "json").out()).contains("\"name\" : \"rt-1\"");
        assertThat(run("fleet", "list", "--output", "yaml").out()).contains("name: rt-1");
        assertThat(run("fleet", "list", "--output", "xml"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(2);
                            assertThat(said.err()).contains("xml");
                        });
    }

    @Test
    void anEmptyFleetSaysHowToFillIt() {
        when("GET /api/devices", 200, "[]");
        assertThat(run("fleet", "list"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isZero();
                            assertThat(said.out()).contains("calmstep fleet import FILE");
                        });
    }

    @Test
    void eachRefusalKeepsItsWordsAndHasItsExitCode() {
        Map<Integer, Integer> exitCodes =
                Map.of(400, 2, 401, 3, 403, 3, 404, 2, 409, 1, 422, 1, 429, 1, 500, 1, 503, 4);
        exitCodes.forEach(
                (status, exitCode) -> {
                    replies.clear();
                    when(
                            "GET /api/plans",
                            status,
                            "{\"detail\":\"The service says %d.\",\"details\":[\"one\",\"two\"]}"
                                    .formatted(status));
                    Said said = run("plan", "list");
                    assertThat(said.exitCode()).as("status %d", status).isEqualTo(exitCode);
                    assertThat(said.err())
                            .contains("The service says %d.".formatted(status))
                            .contains("  one\n")
                            .contains("  two\n");
                    assertThat(said.out()).isEmpty();
                });
        replies.clear();
        when("GET /api/plans", 401, "{\"detail\":\"Sign in first.\"}");
        assertThat(run("plan", "list").err()).contains("calmstep sign-in --name");
    }

    @Test
    void somethingElseAtTheAddressIsSaidPlainlyAndWithoutAStackTrace() {
        replies.put(
                "GET /api/plans",
                new ArrayDeque<>(List.of(new Reply(200, "text/html", "<html>Welcome</html>"))));
        assertThat(run("plan", "list"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(4);
                            assertThat(said.err())
                                    .contains("Expected an answer of Calm Step")
                                    .doesNotContain("Exception");
                        });
        replies.put(
                "GET /api/plans",
                new ArrayDeque<>(List.of(new Reply(502, "text/html", "<html>Bad gateway</html>"))));
        assertThat(run("plan", "list").err())
                .contains("answers 502")
                .contains("not one of Calm Step");
        assertThat(run("plan", "list", "--url", "nowhere").err())
                .contains("Expected the service's address as http://host:port");
    }

    @Test
    void aWordAboutARunIsSentToItsUnitWithNamesEncoded() {
        when("POST /api/runs/night%20one/units/rt-1/set-aside", 200, "{}");
        Said said = run("run", "set-aside", "night one", "rt-1", "--why", "no power there");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out()).contains("rt-1 is set aside.");
        assertThat(calls)
                .singleElement()
                .satisfies(
                        call -> assertThat(call.body()).isEqualTo("{\"why\":\"no power there\"}"));
        assertThat(run("run", "set-aside", "night one", "rt-1"))
                .as("no reason, no call")
                .satisfies(without -> assertThat(without.exitCode()).isEqualTo(2));
        assertThat(calls).hasSize(1);
    }

    @Test
    void aPlanWithStopsEndsWithOne() {
        String plan =
                "{\"name\":\"p\",\"state\":\"draft\",\"target\":\"2.8.2\",\"writtenBy\":\"mara\",\"writtenAt\":null,\"approvedBy\":null,\"units\":[],\"findings\":[{\"key\":\"k\",\"severity\":\"%s\",\"fact\":\"rt-1"
                    + " was never read.\",\"remedy\":\"Read it"
                    + " first.\",\"choices\":[],\"answer\":null}]}";
        when("POST /api/plans", 201, plan.formatted("stop"), plan.formatted("note"));
        Said stopped = run("plan", "draft", "p", "rt-1", "--to", "2.8.2");
        assertThat(stopped.exitCode()).isEqualTo(1);
        assertThat(stopped.out()).contains("stop     rt-1 was never read. Read it first.");
        assertThat(calls.getFirst().body())
                .contains("\"devices\":[\"rt-1\"]")
                .contains("\"target\":\"2.8.2\"");
        assertThat(run("plan", "draft", "p", "rt-1", "--to", "2.8.2").exitCode()).isZero();
    }

    @Test
    void aReadingIsFollowedToItsEndAndSilentDevicesAreCounted() {
        when(
                "POST /api/readings",
                202,
                "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":0,\"failed\":0}");
        when(
                "GET /api/jobs/7",
                200,
                "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":1,\"failed\":0}",
                "{\"id\":7,\"state\":\"finished\",\"total\":3,\"done\":3,\"failed\":1}");
        Said said = run("fleet", "read");
        assertThat(said.exitCode()).isEqualTo(1);
        assertThat(said.out()).contains("2 read, 1 silent.");
        assertThat(said.err()).as("no progress when it is not a terminal").isEmpty();
    }

    @Test
    void anImageIsSentAsItIsAndARefusedOneGivesItsReason() throws Exception {
        Path image = Files.write(folder.resolve("osmer-r6c-2.8.2.img"), new byte[3_000_000]);
        when(
                "PUT /api/shelf/images/osmer-r6c-2.8.2.img",
                422,
                "{\"detail\":\"It is not the published file.\"}");
        assertThat(run("shelf", "add", image.toString()))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.err()).contains("It is not the published file.");
                        });
        assertThat(calls)
                .singleElement()
                .satisfies(call -> assertThat(call.body()).hasSize(3_000_000));
        assertThat(run("shelf", "add", folder.resolve("gone.img").toString()).exitCode())
                .isEqualTo(2);
    }

    @Test
    void watchingPrintsEachEventOnceThoughTheLineBreaksAndEndsWithTheRun() {
        String run =
                "{\"id\":3,\"name\":\"tonight\",\"state\":\"%s\",\"units\":[{\"device\":\"rt-1\",\"state\":\"%s\",\"gate\":null}]}";
        when(
                "GET /api/runs/tonight",
                200,
                run.formatted("under-way", "preparing"),
                run.formatted("under-way", "preparing"),
                run.formatted("finished", "settled"));
        String first =
                "{\"id\":1,\"runId\":3,\"kind\":\"unit\",\"at\":\"2026-11-23T01:20:00Z\",\"text\":\"rt-1"
                    + " is preparing.\"}";
        String second =
                "{\"id\":2,\"runId\":3,\"kind\":\"step\",\"at\":\"2026-11-23T01:21:00Z\",\"text\":\"rt-1,"
                    + " hop 1, check: done.\"}";
        String third =
                "{\"id\":4,\"runId\":3,\"kind\":\"run\",\"at\":\"2026-11-23T01:29:00Z\",\"text\":\"Run"
                    + " tonight finished.\"}";
        when(
                "GET /api/runs/tonight/events",
                200,
                "[" + first + "]",
                "[" + first + "," + second + "," + third + "]");
        String other =
                "{\"id\":3,\"runId\":9,\"kind\":\"step\",\"at\":\"2026-11-23T01:22:00Z\",\"text\":\"of"
                    + " another run\"}";
        replies.put(
                "GET /api/events",
                new ArrayDeque<>(
                        List.of(
                                new Reply(
                                        200,
                                        "text/event-stream",
                                        "id: 2\ndata: %s\n\n: beat\n\nid: 3\ndata: %s\n\n"
                                                .formatted(second, other)),
                                new Reply(200, "text/event-stream", ""))));
        Said said = run("run", "watch", "tonight");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out().lines().map(line -> line.replaceAll("^.*?(rt-1|Run|of)", "$1")))
                .containsExactly(
                        "rt-1 is preparing.", "rt-1, hop 1, check: done.", "Run tonight finished.");
    }

    private static String job(String state, int done, int failed, String troubles) {
        return "{\"id\":7,\"kind\":\"x\",\"state\":\"%s\",\"total\":5,\"done\":%d,\"failed\":%d,\"doing\":\"\",\"troubles\":[%s]}"
                .formatted(state, done, failed, troubles);
    }

    @Test
    void followsLongWorkToItsEndAndSaysWhyPartsOfItFailed() {
        when("POST /api/fetches", 202, job("under-way", 0, 0, ""));
        when(
                "GET /api/jobs/7",
                200,
                job("under-way", 1, 0, ""),
                job(
                        "finished",
                        5,
                        1,
                        "\"a.img was not fetched from makers. It is not the published file.\""));
        assertThat(run("shelf", "fetch", "--plan", "tonight"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.out()).isEqualTo("4 fetched and proven, 1 not.\n");
                            assertThat(said.err()).contains("a.img was not fetched from makers.");
                        });
        assertThat(calls.getFirst().body()).contains("\"plan\":\"tonight\"");
        when("POST /api/discovery/ranges/quay/searches", 202, job("lost", 2, 0, ""));
        assertThat(run("fleet", "search", "quay"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.err())
                                    .contains("Nothing was heard of job 7")
                                    .contains("start it again");
                        });
    }

    @Test
    void aCandidateIsAcceptedWithWhatWasSaidAndNothingElse() {
        when(
                "POST /api/discovery/accepted",
                200,
                "{\"added\":[\"sw-1\"],\"changed\":[],\"unchanged\":[],\"preview\":false}");
        assertThat(
                        run(
                                        "fleet",
                                        "accept",
                                        "192.0.2.8",
                                        "--name",
                                        "sw-1",
                                        "--family",
                                        "tarnel-t2")
                                .out())
                .contains("In the inventory now: sw-1")
                .contains("calmstep fleet read sw-1");
        assertThat(calls.getFirst().body())
                .contains("\"name\":\"sw-1\"")
                .contains("\"family\":\"tarnel-t2\"")
                .doesNotContain("model");
        assertThat(run("fleet", "accept", "192.0.2.8", "192.0.2.9", "--name", "both").err())
                .contains("belong to one device");
        when(
                "GET /api/discovery/candidates",
                200,
                """
                [{"address":"192.0.2.8","state":"found","device":"","name":"","family":"","model":"","serial":"","release":"","lastSeen":"2026-11-23T01:00:00Z","toKnow":"no dialect knows \\"SSH-2.0-X\\"; say its family"},
                 {"address":"192.0.2.9","state":"in-fleet","device":"rt-1","name":"rt-1","family":"osmer-r6","model":"R6-4","serial":"S1","release":"2.6.3","lastSeen":"2026-11-23T01:00:00Z","toKnow":""}]\
                """);
        assertThat(run("fleet", "found").out().lines())
                .allMatch(line -> line.length() <= 100)
                .anyMatch(line -> line.startsWith("192.0.2.9  rt-1"))
                .anyMatch(line -> line.startsWith("192.0.2.8: no dialect knows"));
    }

    @Test
    void anSnmpLoginTakesItsPasswordsFromLinesAndARangeItsUsualValues() throws Exception {
        when("PUT /api/logins/watcher", 204, "");
        java.io.InputStream in = System.in;
        try {
            System.setIn(
                    new java.io.ByteArrayInputStream(
                            "first-secret\nsecond-secret\n".getBytes(StandardCharsets.UTF_8)));
            assertThat(
                            run(
                                            "fleet",
                                            "login",
                                            "watcher",
                                            "--user",
                                            "watcher",
                                            "--snmp",
                                            "v3",
                                            "--password-stdin")
                                    .exitCode())
                    .isZero();
        } finally {
            System.setIn(in);
        }
        assertThat(calls.getFirst().body())
                .contains("\"password\":\"first-secret\"")
                .contains("\"privacyPassword\":\"second-secret\"")
                .contains("\"authentication\":\"sha256\"");
        assertThat(
                        run(
                                        "fleet",
                                        "login",
                                        "reads",
                                        "--snmp",
                                        "v2c",
                                        "--user",
                                        "nobody",
                                        "--password-stdin")
                                .err())
                .contains("--snmp v2c without a user");
        when("PUT /api/discovery/ranges/quay", 200, "{\"addresses\":254}");
        assertThat(run("fleet", "range", "quay", "192.0.2.0/24").out())
                .contains("254 addresses; at 20 a second");
        assertThat(calls.getLast().body())
                .contains("\"within\":[\"192.0.2.0/24\"]")
                .contains("\"sshPort\":22")
                .contains("\"snmpPort\":161");
    }

    @Test
    void saysWhoGoesDarkInUsersWords() {
        when(
                "GET /api/reach/dark",
                200,
                "{\"down\":[\"rt-1\",\"rt-2\"],\"cutOff\":[\"sw-1\"],\"serves\":[\"the"
                        + " quay\"],\"order\":[\"rt-2\",\"rt-1\"]}");
        assertThat(run("fleet", "reach", "rt-1", "rt-2").out())
                .contains("Cut off besides: 1 device: sw-1")
                .contains("Without network: the quay")
                .contains("Far edge first:  rt-2, then rt-1");
        when(
                "GET /api/reach",
                200,
                "{\"nodes\":[{\"device\":\"rt-1\",\"site\":\"quay\",\"layer\":1,\"root\":false,\"links\":[],\"cutOff\":[]}],\"unreached\":[],\"unknown\":[]}");
        assertThat(run("fleet", "reach").out()).contains("No device is a root");
    }

    /** Each event's hash is worked out anew here, so that nobody has to take the service's word. */
    @Test
    void theTrailIsProvenByTheClientItself() {
        String one = event(1, "", "ines approves the plan.");
        String two =
                event(
                        2,
                        hashOf(one),
                        "The host key of rt-1 was forgotten; the next one is believed.");
        when(
                "GET /api/trail",
                200,
                "[%s,%s]".formatted(one, two),
                "[]",
                "[%s,%s]".formatted(one, two.replace("forgotten", "kept")),
                "[]",
                "[%s,%s]".formatted(one, two),
                "[]");
        Said whole = run("record", "trail");
        assertThat(whole.exitCode()).isZero();
        assertThat(whole.out())
                .contains("The trail is whole: 2 events")
                .contains(hashOf(two))
                .contains("ines approves the plan.");
        Said altered = run("record", "trail");
        assertThat(altered.exitCode()).isEqualTo(1);
        assertThat(altered.out())
                .contains("Event 2 of 2 does not follow")
                .contains("NOT what it was");
        assertThat(run("record", "trail", "--last-hash", "0".repeat(64)).out())
                .contains("was cut, or made anew");
    }

    private static String event(int id, String previous, String text) {
        String at = "2026-12-01T01:00:0%dZ".formatted(id);
        String hash =
                calmstep.core.evidence.EventChain.hash(
                        previous,
                        "null",
                        "rt-1",
                        "fleet",
                        java.time.Instant.parse(at),
                        "ines",
                        text);
        return "{\"id\":%d,\"runId\":null,\"subject\":\"rt-1\",\"kind\":\"fleet\",\"at\":\"%s\",\"who\":\"ines\",\"text\":\"%s\",\"hash\":\"%s\"}"
                .formatted(id, at, text, hash);
    }

    private static String hashOf(String event) {
        return event.replaceAll(".*\"hash\":\"([0-9a-f]+)\".*", "$1");
    }

    @Test
    void aBundleGoesIntoANewFileOnly() throws Exception {
        when("POST /api/bundles", 200, "PK-bytes");
        Path file = folder.resolve("tonight.bundle");
        assertThat(run("shelf", "bundle", "--plan", "tonight", "--to", file.toString()).exitCode())
                .isZero();
        assertThat(Files.readString(file)).isEqualTo("PK-bytes");
        assertThat(run("shelf", "bundle", "--to", file.toString()).err())
                .contains("There is a file")
                .contains("name another");
        assertThat(run("shelf", "trust", "head-office").err())
                .contains("Expected either --key KEY or --no-more");
    }

    @Test
    void aStalePlanSaysWhatChangedAndHowToGoOn() {
        when(
                "GET /api/plans/tonight",
                200,
                """
                {"name":"tonight","target":"recommended","state":"stale","writtenBy":"mara","writtenAt":"2026-11-23T01:00:00Z","approvedBy":null,"units":[],"findings":[],
                 "changes":["rt-1 goes 2.6.3 > 2.8.2 now, was to go 2.8.2","new stop: 2.8.2 was withdrawn."]}\
                """);
        assertThat(run("plan", "show", "tonight").out())
                .contains("Stale: worked out now")
                .contains("  - rt-1 goes 2.6.3 > 2.8.2 now, was to go 2.8.2.")
                .contains("  - new stop: 2.8.2 was withdrawn.\n")
                .contains("calmstep plan again tonight");
        when("GET /api/plans/a/compared-with/b", 200, "[]");
        assertThat(run("plan", "compare", "a", "b").out()).isEqualTo("Both come to the same.\n");
    }
}
