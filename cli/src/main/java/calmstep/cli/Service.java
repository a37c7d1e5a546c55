package calmstep.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The HTTP interface of the service. Refusals come out as {@link Problem}s with the service's own
 * words. The JDK's older HTTP client does it: the newer one sets up TLS and a selector before the
 * first word, which is half of a short call's time.
 */
final class Service {
    private static final int CONNECT_MILLIS = 5_000;

    private final SignedIn signedIn;
    private final JsonMapper json = JsonMapper.shared();

    /** What is sent: nothing, a text, or a file that streams. */
    private sealed interface Body {
        record Nothing() implements Body {}

        record Bytes(String type, byte[] bytes) implements Body {
            static Bytes of(String type, String text) {
                return new Bytes(type, text.getBytes(StandardCharsets.UTF_8));
            }
        }

        record FileBytes(Path file) implements Body {}
    }

    private Service(SignedIn signedIn) {
        this.signedIn = signedIn;
        System.setProperty("sun.net.http.retryPost", "false");
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
        return read(send("GET", path, new Body.Nothing()));
    }

    String getText(String path) {
        return text(send("GET", path, new Body.Nothing()));
    }

    JsonNode post(String path, Map<String, ?> body) {
        return read(send("POST", path, json(body)));
    }

    JsonNode put(String path, Map<String, ?> body) {
        return read(send("PUT", path, json(body)));
    }

    void delete(String path) {
        text(send("DELETE", path, new Body.Nothing()));
    }

    JsonNode postText(String path, String type, String text) {
        return postBytes(path, type, text.getBytes(StandardCharsets.UTF_8));
    }

    JsonNode postBytes(String path, String type, byte[] bytes) {
        return read(send("POST", path, new Body.Bytes(type, bytes)));
    }

    JsonNode putText(String path, String type, String text) {
        return read(send("PUT", path, Body.Bytes.of(type, text)));
    }

    JsonNode putFile(String path, Path file) {
        if (!Files.isRegularFile(file)) {
            throw new Problem(Problem.WRONG_CALL, "There is no file %s here.".formatted(file));
        }
        return read(send("PUT", path, new Body.FileBytes(file)));
    }

    /** What is answered goes into a file, as it comes. */
    void postForFile(String path, Map<String, ?> body, Path file) {
        keep(send("POST", path, json(body)), file);
    }

    /** As {@link #postForFile}, of something that is only asked for. */
    void getForFile(String path, Path file) {
        keep(send("GET", path, new Body.Nothing()), file);
    }

    /**
     * As {@link #postForFile}, of secrets: for its owner's eyes alone, and there before they are
     * asked for, so that nothing is told of a file that cannot be.
     */
    void postForSecretFile(String path, Map<String, ?> body, Path file) {
        makeOwnersFile(file);
        boolean whole = false;
        try {
            Files.writeString(file, text(send("POST", path, json(body))));
            whole = true;
        } catch (IOException broken) {
            throw notWhole(file, broken);
        } finally {
            if (!whole) {
                file.toFile().delete();
            }
        }
    }

    private static void makeOwnersFile(Path file) {
        try {
            OwnersFile.make(file);
        } catch (java.nio.file.FileAlreadyExistsException there) {
            throw isThere(file);
        } catch (IOException broken) {
            throw notWhole(file, broken);
        }
    }

    private static Problem isThere(Path file) {
        return new Problem(
                Problem.WRONG_CALL, "There is a file %s already; name another.".formatted(file));
    }

    private static Problem notWhole(Path file, IOException broken) {
        if (broken instanceof java.nio.file.NoSuchFileException) {
            return new Problem(
                    Problem.WRONG_CALL,
                    "There is no folder %s; make it, or name another."
                            .formatted(file.toAbsolutePath().getParent()));
        }
        return new Problem(
                Problem.STOPS,
                "%s could not be written whole: %s.".formatted(file, broken.getMessage()));
    }

    private static void keep(HttpURLConnection answer, Path file) {
        try (InputStream in = answer.getInputStream()) {
            Files.copy(in, file);
        } catch (java.nio.file.FileAlreadyExistsException there) {
            throw isThere(file);
        } catch (IOException broken) {
            throw notWhole(file, broken);
        }
    }

    /** Signs in with a password; gives the secret of the session. */
    String signIn(String name, String password) {
        HttpURLConnection answer =
                send("POST", "/api/sessions", json(Map.of("name", name, "password", password)));
        String cookie = String.valueOf(answer.getHeaderField("Set-Cookie"));
        return cookie.substring(
                cookie.indexOf('=') + 1, Math.max(cookie.indexOf('=') + 1, cookie.indexOf(';')));
    }

    /**
     * Everything that happens after an event, line by line, as server-sent events; whoever reads it
     * closes it.
     */
    InputStream follow(long after) throws IOException {
        return send("GET", "/api/events?after=" + after, new Body.Nothing()).getInputStream();
    }

    private Body json(Map<String, ?> body) {
        return Body.Bytes.of("application/json", json.writeValueAsString(body));
    }

    private HttpURLConnection send(String method, String path, Body body) {
        try {
            HttpURLConnection call = opened(path, method);
            write(call, body);
            if (call.getResponseCode() >= 400) {
                throw problem(call);
            }
            return call;
        } catch (IllegalArgumentException
                | ClassCastException
                | java.net.MalformedURLException wrong) {
            throw wrongAddress();
        } catch (IOException lost) {
            throw notReachable(lost);
        }
    }

    private Problem wrongAddress() {
        return new Problem(
                Problem.WRONG_CALL,
                "Expected the service's address as http://host:port or https://host:port, was given %s."
                        .formatted(signedIn.url()));
    }

    private HttpURLConnection opened(String path, String method) throws IOException {
        HttpURLConnection call =
                (HttpURLConnection) URI.create(signedIn.url() + path).toURL().openConnection();
        call.setRequestMethod(method);
        call.setConnectTimeout(CONNECT_MILLIS);
        call.setInstanceFollowRedirects(false);
        if (!signedIn.token().isEmpty()) {
            call.setRequestProperty("Authorization", "Bearer " + signedIn.token());
        }
        return call;
    }

    /**
     * A service that refuses early stops listening while we still send; its reason is then there to
     * be read.
     */
    private static void write(HttpURLConnection call, Body body) throws IOException {
        switch (body) {
            case Body.Nothing() -> {}
            case Body.Bytes(String type, byte[] bytes) -> {
                call.setDoOutput(true);
                call.setRequestProperty("Content-Type", type);
                try (OutputStream out = call.getOutputStream()) {
                    out.write(bytes);
                }
            }
            case Body.FileBytes(Path file) -> {
                call.setDoOutput(true);
                call.setRequestProperty("Content-Type", "application/octet-stream");
                call.setFixedLengthStreamingMode(Files.size(file));
                OutputStream out = call.getOutputStream();
                try (out) {
                    Files.copy(file, out);
                } catch (IOException cutShort) {
                    call.getResponseCode();
                }
            }
        }
    }

    private Problem notReachable(IOException cause) {
        return new Problem(
                Problem.NOT_REACHABLE,
                "The service at %s is not reachable (%s). Look whether it runs, or name another with --url or CALMSTEP_URL."
                        .formatted(
                                signedIn.url(),
                                cause.getMessage() == null
                                        ? cause.getClass().getSimpleName()
                                        : cause.getMessage()));
    }

    private Problem problem(HttpURLConnection answer) throws IOException {
        int status = answer.getResponseCode();
        String text = text(answer);
        String sentence =
                status == 401
                        ? "Sign in first."
                        : "The service at %s answers %s.".formatted(signedIn.url(), status);
        List<String> details = List.of();
        try {
            JsonNode problem = json.readTree(text);
            sentence = problem.path("detail").asString(sentence);
            details = problem.path("details").valueStream().map(JsonNode::asString).toList();
        } catch (JacksonException notOurs) {
            details =
                    text.isEmpty()
                            ? List.of()
                            : List.of("Its answer is not one of Calm Step; look at the URL.");
        }
        return switch (status) {
            case 401 ->
                    new Problem(
                            Problem.NOT_ALLOWED,
                            sentence
                                    + (sentence.startsWith("Sign in")
                                            ? " Use: calmstep sign-in --name …"
                                            : ""),
                            details);
            case 403 -> new Problem(Problem.NOT_ALLOWED, sentence, details);
            case 400, 404 -> new Problem(Problem.WRONG_CALL, sentence, details);
            case 503 -> new Problem(Problem.NOT_REACHABLE, sentence, details);
            default -> new Problem(Problem.STOPS, sentence, details);
        };
    }

    private String text(HttpURLConnection answer) {
        try (InputStream in =
                answer.getResponseCode() >= 400
                        ? answer.getErrorStream()
                        : answer.getInputStream()) {
            return in == null ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException lost) {
            throw notReachable(lost);
        }
    }

    private JsonNode read(HttpURLConnection answer) {
        String text = text(answer);
        try {
            return text.isEmpty() ? json.createObjectNode() : json.readTree(text);
        } catch (JacksonException notOurs) {
            throw new Problem(
                    Problem.NOT_REACHABLE,
                    "Expected an answer of Calm Step at %s, got something else. Look at the URL."
                            .formatted(signedIn.url()));
        }
    }
}
