package calmstep.practice;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * A small alarm system over HTTP on loopback. It watches machines and rings, once, for each that
 * goes dark while nobody quieted it: {@code PUT /quiet/NAME} with {@code {"until": MOMENT, "why":
 * WORDS}} quiets one, {@code GET} asks, {@code DELETE} ends it. {@code POST /} takes a notice, and
 * {@code GET /} tells all of it.
 */
public final class AlarmSystem implements AutoCloseable {
    private static final Pattern UNTIL = Pattern.compile("\"until\"\\s*:\\s*\"([^\"]+)\"");
    private static final Duration LOOKS_EVERY = Duration.ofMillis(100);

    private record Reply(int status, String text) {}

    private final Supplier<Map<String, Boolean>> dark;
    private final Clock clock;
    private final HttpServer server;
    private final OneThread watch = new OneThread("practice-alarms");
    private final Map<String, Instant> quiet = new TreeMap<>();
    private final TreeSet<String> ringing = new TreeSet<>();
    private final List<String> rang = new ArrayList<>();
    private final List<String> quieted = new ArrayList<>();
    private int notices;
    private boolean away;

    private AlarmSystem(HttpServer server, Supplier<Map<String, Boolean>> dark, Clock clock) {
        this.server = server;
        this.dark = dark;
        this.clock = clock;
    }

    /**
     * @param dark by name, whether a machine is dark just now
     */
    public static AlarmSystem open(int port, Supplier<Map<String, Boolean>> dark, Clock clock)
            throws IOException {
        HttpServer server =
                HttpServer.create(
                        new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 16);
        AlarmSystem alarms = new AlarmSystem(server, dark, clock);
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server.createContext("/", alarms::answer);
        server.start();
        alarms.watch.each(LOOKS_EVERY, alarms::look);
        return alarms;
    }

    private synchronized void look() {
        dark.get()
                .forEach(
                        (name, isDark) -> {
                            if (!isDark) {
                                ringing.remove(name);
                            } else if (!isQuiet(name) && ringing.add(name)) {
                                rang.add(name);
                            }
                        });
    }

    private boolean isQuiet(String name) {
        return Optional.ofNullable(quiet.get(name))
                .filter(until -> until.isAfter(clock.instant()))
                .isPresent();
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            String body =
                    new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            Reply reply =
                    reply(exchange.getRequestMethod(), exchange.getRequestURI().getPath(), body);
            byte[] bytes = reply.text().getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(reply.status(), bytes.length == 0 ? -1 : bytes.length);
            try (OutputStream out = exchange.getResponseBody()) {
                out.write(bytes);
            }
        }
    }

    private synchronized Reply reply(String method, String path, String body) {
        if (away) {
            return new Reply(503, "");
        }
        if (path.startsWith("/quiet/")) {
            return quiet(method, path.substring("/quiet/".length()), body);
        }
        if (method.equals("POST")) {
            notices++;
            return new Reply(204, "");
        }
        return overview();
    }

    private Reply overview() {
        return new Reply(
                200,
                "quiet: %s%nrang: %s%nnotices: %s%n"
                        .formatted(
                                quiet.keySet().stream()
                                        .filter(this::isQuiet)
                                        .collect(Collectors.joining(", ")),
                                String.join(", ", rang),
                                notices));
    }

    private Reply quiet(String method, String name, String body) {
        return switch (method) {
            case "GET" ->
                    isQuiet(name)
                            ? new Reply(200, "{\"until\":\"%s\"}".formatted(quiet.get(name)))
                            : new Reply(404, "");
            case "DELETE" -> new Reply(quiet.remove(name) == null ? 404 : 204, "");
            case "PUT" -> makeQuiet(name, UNTIL.matcher(body));
            default -> new Reply(405, "");
        };
    }

    private Reply makeQuiet(String name, Matcher until) {
        if (!until.find()) {
            return new Reply(400, "Expected until when, saw none.");
        }
        quiet.put(name, Instant.parse(until.group(1)));
        quieted.add(name);
        return new Reply(204, "");
    }

    /** Names of those that rang, in the order in which they did. */
    public synchronized List<String> rang() {
        return List.copyOf(rang);
    }

    /** Names of those that were quieted, in the order in which they were. */
    public synchronized List<String> quieted() {
        return List.copyOf(quieted);
    }

    /** Names of those that are quiet now. */
    public synchronized List<String> quiet() {
        return quiet.keySet().stream().filter(this::isQuiet).toList();
    }

    /** It answers nobody's questions any more, or again; it goes on ringing. */
    public synchronized void isAway(boolean gone) {
        away = gone;
    }

    @Override
    public void close() {
        watch.end();
        server.stop(0);
    }
}
