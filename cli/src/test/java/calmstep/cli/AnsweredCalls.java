package calmstep.cli;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
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
import org.junit.jupiter.api.io.TempDir;

/** A service that answers as a test says, and keeps what it was asked. */
abstract class AnsweredCalls {
    record Said(int exitCode, String out, String err) {}

    record Call(String method, String path, String body, String authorization) {}

    record Reply(int status, String type, String text) {}

    final Map<String, Deque<Reply>> replies = new HashMap<>();
    final List<Call> calls = new ArrayList<>();

    HttpServer service;

    @TempDir Path folder;

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

    synchronized void answer(HttpExchange exchange) throws IOException {
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

    void when(String call, int status, String... texts) {
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

    Said run(String... words) {
        List<String> all = new ArrayList<>(List.of(words));
        if (!all.contains("--url")) {
            all.addAll(
                    List.of(
                            "--url",
                            "http://127.0.0.1:%s".formatted(service.getAddress().getPort())));
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

    static final String FLEET =
            """
            [{"name":"rt-1","title":"Osmer R6","siteTitle":"Dunmere","runs":"2.4.0","standing":"behind","way":["2.6.3","2.8.2"],"toKnow":["unsaved changes, \\"live\\""],"readAt":null},
             {"name":"rt-2","title":"Osmer R6","siteTitle":"Eskholm","runs":"2.8.2","standing":"there","way":[],"toKnow":[],"readAt":null}]\
            """;

    static String job(String state, int done, int failed, String troubles) {
        return "{\"id\":7,\"kind\":\"x\",\"state\":\"%s\",\"total\":5,\"done\":%s,\"failed\":%s,\"doing\":\"\",\"troubles\":[%s]}"
                .formatted(state, done, failed, troubles);
    }

    static String event(int id, String previous, String text) {
        String at = "2026-12-01T01:00:0%sZ".formatted(id);
        String hash =
                calmstep.core.evidence.EventChain.hash(
                        previous,
                        "null",
                        "rt-1",
                        "fleet",
                        java.time.Instant.parse(at),
                        "ines",
                        text);
        return "{\"id\":%s,\"runId\":null,\"subject\":\"rt-1\",\"kind\":\"fleet\",\"at\":\"%s\",\"who\":\"ines\",\"text\":\"%s\",\"hash\":\"%s\"}"
                .formatted(id, at, text, hash);
    }

    static String hashOf(String event) {
        return event.replaceAll(".*\"hash\":\"([0-9a-f]+)\".*", "$1");
    }
}
