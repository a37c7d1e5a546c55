package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/**
 * The client against a service that answers as it is told to: what is sent, what is said, which
 * exit code.
 */
class ServiceCallsTest extends AnsweredCalls {
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
                            "{\"detail\":\"The service says %s.\",\"details\":[\"one\",\"two\"]}"
                                    .formatted(status));
                    Said said = run("plan", "list");
                    assertThat(said.exitCode()).as("status %s", status).isEqualTo(exitCode);
                    assertThat(said.err())
                            .contains("The service says %s.".formatted(status))
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
        when("POST /api/runs/night%20one/end", 200, "{}");
        assertThat(run("run", "end", "night one").out()).contains("night one is finished.");
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
