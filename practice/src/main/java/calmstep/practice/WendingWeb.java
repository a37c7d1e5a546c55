package calmstep.practice;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import javax.net.ssl.SSLContext;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The HTTPS side of the Wending M2: JSON, a certificate that it signed itself, a pass that is given
 * for a user and a word, files that are sent to it. It keeps its certificate as long as its
 * process.
 */
final class WendingWeb implements Port {
    static final String FAMILY = "wending-m2";
    private static final JsonMapper JSON = JsonMapper.builder().build();

    private final Machine machine;
    private final int port;
    private final Set<String> passes = ConcurrentHashMap.newKeySet();
    private SSLContext identity;
    private Path certificate;
    private Optional<HttpsServer> server = Optional.empty();

    WendingWeb(Machine machine, int port, Path certificate) {
        this.machine = machine;
        this.port = port;
        this.certificate = certificate;
        identity = identity(certificate);
    }

    private SSLContext identity(Path file) {
        try {
            return OwnCertificate.contextFor(machine.description().address(), file);
        } catch (IOException | GeneralSecurityException failed) {
            throw new IllegalStateException(
                    "No certificate could be made for " + machine.description().name(), failed);
        }
    }

    @Override
    public synchronized void open() {
        if (server.isPresent() || machine.has(Fault.ANSWERS_NOBODY)) {
            return;
        }
        try {
            HttpsServer opened =
                    HttpsServer.create(
                            new InetSocketAddress(
                                    InetAddress.getByName(machine.description().address()), port),
                            16);
            opened.setHttpsConfigurator(new HttpsConfigurator(identity));
            opened.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
            opened.createContext("/", this::answer);
            opened.start();
            server = Optional.of(opened);
        } catch (IOException refused) {
            throw new UncheckedIOException(
                    "The address %s:%s cannot be opened"
                            .formatted(machine.description().address(), port),
                    refused);
        }
    }

    @Override
    public synchronized void close() {
        server.ifPresent(open -> open.stop(0));
        server = Optional.empty();
        passes.clear();
    }

    @Override
    public synchronized void useOtherKey(Path fresh) {
        certificate = fresh;
        identity = identity(fresh);
        close();
        open();
    }

    /** A refusal with its status and its words. */
    private static final class Refused extends IOException {
        private final int status;

        Refused(int status, String words) {
            super(words);
            this.status = status;
        }
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            String answer;
            int status = 200;
            boolean restarts = false;
            try {
                String path = exchange.getRequestURI().getPath();
                if (!path.equals("/session")
                        && !passes.contains(
                                String.valueOf(
                                                exchange.getRequestHeaders()
                                                        .getFirst("Authorization"))
                                        .replace("Bearer ", ""))) {
                    throw new Refused(401, "sign in first");
                }
                restarts = path.equals("/restart");
                answer = obey(exchange, exchange.getRequestMethod() + " " + path);
            } catch (Refused refused) {
                status = refused.status;
                restarts = false;
                answer =
                        JSON.writeValueAsString(
                                Map.of("why", String.valueOf(refused.getMessage())));
            } catch (IOException failed) {
                status = 507;
                answer =
                        JSON.writeValueAsString(Map.of("why", String.valueOf(failed.getMessage())));
            }
            byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
            exchange.getRequestBody().skip(Long.MAX_VALUE);
            exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
            try (OutputStream out = exchange.getResponseBody()) {
                out.write(bytes);
            }
            if (restarts) {
                machine.restart();
            }
        }
    }

    private String obey(HttpExchange exchange, String asked) throws IOException {
        String file =
                exchange.getRequestURI()
                        .getPath()
                        .replaceFirst("^/store/", "")
                        .replaceFirst("/sum$", "");
        return switch (asked) {
            case "POST /session" -> session(exchange);
            case "GET /unit" -> JSON.writeValueAsString(unit());
            case "GET /settings" -> text(machine.settings());
            case "GET /settings/kept" -> text(machine.keptSettings());
            case "GET /certificate" -> text(Files.readAllLines(certificate));
            case "PUT /settings" -> {
                machine.takeSettings(
                        new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8)
                                .lines()
                                .toList());
                yield done();
            }
            case "POST /settings/keep" -> {
                machine.keepSettings();
                yield done();
            }
            case "PUT /start" -> choose(JSON.readTree(exchange.getRequestBody()));
            case "POST /start/keep" -> {
                machine.keepChoice();
                yield done();
            }
            case "POST /restart" -> restart(JSON.readTree(exchange.getRequestBody()));
            default -> {
                if (asked.startsWith("PUT /store/")) {
                    yield take(exchange, file);
                }
                if (asked.startsWith("GET /store/") && asked.endsWith("/sum")) {
                    yield JSON.writeValueAsString(
                            Map.of(
                                    "sha256",
                                    machine.flash()
                                            .sha256(file)
                                            .orElseThrow(
                                                    () -> new Refused(404, "no file " + file))));
                }
                if (asked.startsWith("DELETE /store/")) {
                    yield delete(file);
                }
                throw new Refused(400, "not known: " + asked);
            }
        };
    }

    private static String done() {
        return JSON.writeValueAsString(Map.of("done", true));
    }

    private String session(HttpExchange exchange) throws IOException {
        JsonNode who = JSON.readTree(exchange.getRequestBody());
        boolean known =
                who.path("user").asString().equals(machine.description().user())
                        && who.path("word").asString().equals(machine.description().password());
        if (!known || machine.has(Fault.REFUSES_THE_PASSWORD)) {
            throw new Refused(401, "wrong user or word");
        }
        String pass = UUID.randomUUID().toString();
        passes.add(pass);
        return JSON.writeValueAsString(Map.of("pass", pass));
    }

    private static Map<String, Object> made(MachineDescription d) {
        return Map.of(
                "name",
                d.name(),
                "model",
                d.model(),
                "revision",
                d.revision(),
                "made-for",
                d.outfit().variant(),
                "sold-by",
                d.outfit().brand(),
                "serial",
                d.serial());
    }

    private Map<String, Object> unit() {
        MachineDescription d = machine.description();
        Map<String, Object> unit = new LinkedHashMap<>();
        unit.put("unit", made(d));
        unit.put(
                "system",
                Map.of(
                        "release",
                        machine.release(),
                        "since",
                        machine.startedAt().toString(),
                        "starts",
                        machine.starts()));
        unit.put(
                "start",
                Map.of(
                        "running",
                        machine.runningImage(),
                        "next",
                        machine.next(),
                        "spare",
                        machine.fallback(),
                        "kept",
                        machine.isChoiceKept()));
        unit.put(
                "store",
                Map.of(
                        "bytes",
                        d.flashBytes(),
                        "free",
                        machine.flash().freeBytes(),
                        "files",
                        machine.flash().files().entrySet().stream()
                                .map(
                                        file ->
                                                Map.of(
                                                        "name",
                                                        file.getKey(),
                                                        "bytes",
                                                        file.getValue()))
                                .toList()));
        unit.put("settings", Map.of("kept", machine.settings().equals(machine.keptSettings())));
        unit.put("wires", machine.links());
        unit.put("beside", d.neighbours());
        unit.put("rights", machine.licences().shown());
        unit.put("health", Map.of("power", "ok", "aerial", "ok"));
        return unit;
    }

    private static String text(List<String> lines) {
        return lines.stream().map(line -> line + "\n").collect(Collectors.joining())
                + "# end, %s lines\n".formatted(lines.size());
    }

    private String choose(JsonNode start) throws IOException {
        String next = start.path("next").asString();
        if (!machine.flash().files().containsKey(next)) {
            throw new Refused(409, "no file " + next);
        }
        machine.choose(next, start.path("spare").asString());
        return done();
    }

    private String restart(JsonNode sure) throws IOException {
        if (machine.takeOnce(Fault.ASKS_SOMETHING_NEW)) {
            throw new Refused(428, "say also what becomes of the open calls");
        }
        if (!sure.path("sure").asBoolean()) {
            throw new Refused(428, "say that you are sure");
        }
        return done();
    }

    private String take(HttpExchange exchange, String name) throws IOException {
        if (!name.matches("[\\w.-]+")) {
            throw new Refused(400, "not a name: " + name);
        }
        long bytes =
                new Fetch(machine)
                        .receive(
                                exchange.getRequestBody(),
                                name,
                                Long.parseLong(
                                        Optional.ofNullable(
                                                        exchange.getRequestHeaders()
                                                                .getFirst("Content-Length"))
                                                .orElse("-1")));
        return JSON.writeValueAsString(Map.of("took", bytes));
    }

    private String delete(String name) throws IOException {
        if (!machine.flash().files().containsKey(name)) {
            throw new Refused(404, "no file " + name);
        }
        if (name.equals(machine.runningImage())) {
            throw new Refused(409, name + " runs");
        }
        machine.drop(name);
        return done();
    }
}
