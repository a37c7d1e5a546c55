package calmstep.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.RunningService;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Every call of the interface, as it describes itself, tried as nobody and in each role: what
 * nobody thought of is closed.
 */
class RolesTest {
    private static final String SERVICE = RunningService.url();

    /** Signing in, one's own affairs, and what shows no more than that the service is there. */
    private static final Set<String> OPEN = Set.of("POST /api/sessions");

    private static final List<String> OWN = List.of("/api/sessions", "/api/me", "/api/tokens");

    /** What an operator may not do. */
    private static final Set<String> FOR_APPROVERS =
            Set.of(
                    "POST /api/plans/{name}/approval",
                    "PUT /api/trusted-keys/{name}",
                    "DELETE /api/trusted-keys/{name}",
                    "DELETE /api/devices/{name}/host-key",
                    "PUT /api/devices/{name}/name",
                    "POST /api/devices/{name}/retirement",
                    "DELETE /api/sites/{name}",
                    "PUT /api/sites/{name}/name",
                    "DELETE /api/stops/{place}/host-key");

    private static final Set<String> FOR_ADMINS =
            Set.of(
                    "POST /api/people",
                    "POST /api/devices/{name}/backups/{id}/clear-text",
                    "PUT /api/notices/{name}",
                    "DELETE /api/notices/{name}",
                    "POST /api/notices/{name}/trial");
    private static final Set<String> LOOKS_FOR_ADMINS = Set.of("GET /api/people");

    private final HttpClient client = HttpClient.newHttpClient();
    private final People people = RunningService.bean(People.class);

    /**
     * @param body one that says all that it has to
     */
    private record Call(String method, String path, String type, String body) {
        String name() {
            return method + " " + path;
        }

        boolean isOwn() {
            return OWN.stream().anyMatch(path::startsWith);
        }
    }

    private String tokenOf(String role) {
        String name = RunningService.name(role);
        people.add(name, role, "a long enough word");
        return people.newToken(name, "roles");
    }

    private List<Call> calls() throws Exception {
        List<Call> calls = new ArrayList<>();
        JsonNode described =
                JsonMapper.shared()
                        .readTree(
                                client.send(
                                                HttpRequest.newBuilder(
                                                                URI.create(
                                                                        SERVICE + "/openapi.json"))
                                                        .build(),
                                                HttpResponse.BodyHandlers.ofString())
                                        .body());
        for (Map.Entry<String, JsonNode> path : described.path("paths").properties()) {
            if (path.getKey().startsWith("/api")) {
                for (Map.Entry<String, JsonNode> method : path.getValue().properties()) {
                    calls.add(call(described, path.getKey(), method.getKey(), method.getValue()));
                }
            }
        }
        return calls;
    }

    private static Call call(JsonNode described, String path, String method, JsonNode call) {
        JsonNode content = call.path("requestBody").path("content");
        String type =
                content.propertyStream()
                        .map(Map.Entry::getKey)
                        .findFirst()
                        .orElse("application/json");
        String schema = content.path(type).path("schema").path("$ref").asString("");
        String body =
                described
                        .path("components")
                        .path("schemas")
                        .path(schema.replaceFirst(".*/", ""))
                        .path("properties")
                        .propertyStream()
                        .map(RolesTest::filledIn)
                        .collect(Collectors.joining(", ", "{", "}"));
        return new Call(method.toUpperCase(Locale.ROOT), path, type, body);
    }

    private static String filledIn(Map.Entry<String, JsonNode> part) {
        String value = value(part.getValue().path("type").toString());
        return "\"%s\": %s".formatted(part.getKey(), value);
    }

    private static String value(String type) {
        return type.contains("array") ? "[]" : type.contains("boolean") ? "true" : "\"x\"";
    }

    private int status(Call call, String token) throws Exception {
        return status(call, token, "{}");
    }

    private int status(Call call, String token, String body) throws Exception {
        HttpRequest.Builder request =
                HttpRequest.newBuilder(
                                URI.create(SERVICE + call.path().replaceAll("\\{[^}]+}", "987654")))
                        .header("Content-Type", call.type())
                        .method(
                                call.method(),
                                call.method().equals("GET") || call.method().equals("DELETE")
                                        ? HttpRequest.BodyPublishers.noBody()
                                        : HttpRequest.BodyPublishers.ofString(body));
        if (!token.isEmpty()) {
            request.header("Authorization", "Bearer " + token);
        }
        HttpResponse<java.io.InputStream> answer =
                client.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
        answer.body().close();
        return answer.statusCode();
    }

    @Test
    void nobodyWhoIsNotSignedInGetsAnything() throws Exception {
        List<Call> calls = calls();
        assertThat(calls).hasSizeGreaterThan(90);
        for (Call call : calls) {
            if (!OPEN.contains(call.name())) {
                assertThat(status(call, "")).as(call.name()).isIn(401, 403);
                assertThat(status(call, "made-up")).as(call.name()).isEqualTo(401);
            }
        }
    }

    @Test
    void whoeverLooksChangesNothing() throws Exception {
        String viewer = tokenOf("viewer");
        for (Call call : calls()) {
            int status =
                    call.isOwn() || call.path().equals("/api/events") ? 200 : status(call, viewer);
            if (call.method().equals("GET")) {
                // Lists show what other tests wrote past the interface; of what is asked for by
                // name there is nothing.
                assertThat(status)
                        .as(call.name())
                        .isLessThan(call.path().contains("{") ? 500 : 600);
                assertThat(status == 401 || status == 403)
                        .as(call.name())
                        .isEqualTo(LOOKS_FOR_ADMINS.contains(call.name()));
            } else if (!call.isOwn()) {
                assertThat(status).as(call.name()).isEqualTo(403);
            }
        }
    }

    /**
     * A call that is to be an approver's or an admin's stands here by name; one that is closed by
     * mistake, or open, is seen.
     */
    @Test
    void anOperatorMayDoAllButWhatIsKeptForOthers() throws Exception {
        String operator = tokenOf("operator");
        String approver = tokenOf("approver");
        Set<String> faults = new TreeSet<>();
        for (Call call : calls()) {
            if (FOR_APPROVERS.contains(call.name()) || FOR_ADMINS.contains(call.name())) {
                assertThat(status(call, operator, call.body())).as(call.name()).isEqualTo(403);
                assertThat(status(call, approver, call.body()) == 403)
                        .as(call.name())
                        .isEqualTo(FOR_ADMINS.contains(call.name()));
            } else if (!call.isOwn() && !call.method().equals("GET")) {
                int status = status(call, operator);
                assertThat(status).as(call.name()).isNotIn(401, 403);
                if (status >= 500) {
                    faults.add(call.name());
                }
            }
        }
        assertThat(faults).as("with nothing in it, each is answered in words").isEmpty();
    }
}
