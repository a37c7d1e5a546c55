package calmstep.cli;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The HTTP interface of the service. Refusals come out as {@link Problem}s with the service's own words. */
final class Service {
    private final SignedIn signedIn;
    private final HttpClient http = HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(5)).version(HttpClient.Version.HTTP_1_1).build();
    private final JsonMapper json = JsonMapper.shared();

    private Service(SignedIn signedIn) {
        this.signedIn = signedIn;
    }

    static Service open(String url) {
        return new Service(SignedIn.load(url));
    }

    String url() {
        return signedIn.url();
    }

    static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    JsonNode get(String path) {
        return read(send("GET", path, "", BodyPublishers.noBody()));
    }

    String getText(String path) {
        return text(send("GET", path, "", BodyPublishers.noBody()));
    }

    JsonNode post(String path, Map<String, ?> body) {
        return read(send("POST", path, "application/json", BodyPublishers.ofString(json.writeValueAsString(body))));
    }

    JsonNode put(String path, Map<String, ?> body) {
        return read(send("PUT", path, "application/json", BodyPublishers.ofString(json.writeValueAsString(body))));
    }

    void delete(String path) {
        send("DELETE", path, "", BodyPublishers.noBody());
    }

    JsonNode postText(String path, String type, String text) {
        return read(send("POST", path, type, BodyPublishers.ofString(text)));
    }

    JsonNode putFile(String path, Path file) {
        try {
            return read(send("PUT", path, "application/octet-stream", BodyPublishers.ofFile(file)));
        } catch (java.io.FileNotFoundException missing) {
            throw new Problem(Problem.WRONG_CALL, "There is no file %s here.".formatted(file));
        }
    }

    /** Signs in with a password; gives the secret of the session. */
    String signIn(String name, String password) {
        HttpResponse<InputStream> answer = send("POST", "/api/sessions", "application/json", BodyPublishers.ofString(json.writeValueAsString(Map.of("name", name, "password", password))));
        String cookie = answer.headers().firstValue("Set-Cookie").orElse("");
        return cookie.substring(cookie.indexOf('=') + 1, Math.max(cookie.indexOf('=') + 1, cookie.indexOf(';')));
    }

    /** Everything that happens after an event, line by line, as server-sent events. */
    HttpResponse<InputStream> follow(long after) {
        return send("GET", "/api/events?after=" + after, "", BodyPublishers.noBody());
    }

    private HttpResponse<InputStream> send(String method, String path, String contentType, BodyPublisher body) {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(signedIn.url() + path)).method(method, body);
        if (!contentType.isEmpty()) {
            request.header("Content-Type", contentType);
        }
        if (!signedIn.token().isEmpty()) {
            request.header("Authorization", "Bearer " + signedIn.token());
        }
        try {
            HttpResponse<InputStream> answer = http.send(request.build(), BodyHandlers.ofInputStream());
            if (answer.statusCode() >= 400) {
                throw problem(answer);
            }
            return answer;
        } catch (ConnectException | java.net.http.HttpConnectTimeoutException gone) {
            throw notReachable(gone);
        } catch (IOException lost) {
            throw notReachable(lost);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new Problem(Problem.STOPS, "Stopped.");
        }
    }

    private Problem notReachable(IOException cause) {
        return new Problem(Problem.NOT_REACHABLE, "The service at %s is not reachable (%s). Look whether it runs, or name another with --url or CALMSTEP_URL."
                .formatted(signedIn.url(), cause.getMessage() == null ? cause.getClass().getSimpleName() : cause.getMessage()));
    }

    private Problem problem(HttpResponse<InputStream> answer) {
        String text = text(answer);
        String sentence = "The service at %s answers %d.".formatted(signedIn.url(), answer.statusCode());
        List<String> details = List.of();
        try {
            JsonNode problem = json.readTree(text);
            sentence = problem.path("detail").asString(sentence);
            details = problem.path("details").valueStream().map(JsonNode::asString).toList();
        } catch (JacksonException notOurs) {
            details = List.of("Its answer is not one of Calm Step; look at the URL.");
        }
        return switch (answer.statusCode()) {
            case 401 -> new Problem(Problem.NOT_ALLOWED, sentence + (sentence.startsWith("Sign in") ? " Use: calmstep sign-in --name …" : ""), details);
            case 403 -> new Problem(Problem.NOT_ALLOWED, sentence, details);
            case 400, 404 -> new Problem(Problem.WRONG_CALL, sentence, details);
            case 503 -> new Problem(Problem.NOT_REACHABLE, sentence, details);
            default -> new Problem(Problem.STOPS, sentence, details);
        };
    }

    private String text(HttpResponse<InputStream> answer) {
        try (InputStream in = answer.body()) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException lost) {
            throw notReachable(lost);
        }
    }

    private JsonNode read(HttpResponse<InputStream> answer) {
        String text = text(answer);
        return text.isEmpty() ? json.createObjectNode() : json.readTree(text);
    }
}
