package calmstep.acceptance;

import calmstep.check.Await;
import calmstep.practice.Machine;
import calmstep.practice.PracticeFleet;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A whole house to test in: PostgreSQL and the service as processes, the practice fleet in this
 * one. Each house has a number of its own, from which its ports and the fleet's addresses follow,
 * so that houses and a demo can be up at once.
 */
final class House extends HouseProcesses implements AutoCloseable {
    static final String DEVICE_PASSWORD = "practice-only-5521";
    private static final Path IMAGES = BUILD.resolve("test-images");

    private final HttpClient http = HttpClient.newHttpClient();
    private final JsonMapper json = JsonMapper.shared();
    private PracticeFleet fleet;
    private String password = "";
    private String token = "";

    record Answer(int status, String body) {
        JsonNode json() {
            return JsonMapper.shared().readTree(body);
        }

        String detail() {
            return json().path("detail").asString("");
        }

        String details() {
            return json().path("details").toString();
        }
    }

    record Said(int exitCode, String out, String err) {}

    /** What is set up in its folder, and set, before its service starts. */
    interface Furnished {
        void in(House house) throws Exception;
    }

    private House(int number, String fleetText, Furnished furnished) throws Exception {
        super(number);
        shell("pg_stop " + home.resolve("postgres"));
        deleteAll(home);
        Files.createDirectories(home);
        writeImages("practice-fleet.yaml");
        Path file = Files.writeString(home.resolve("fleet.yaml"), own(fleetText));
        fleet = PracticeFleet.play(file, IMAGES, home.resolve("practice"), Optional.of(PACE));
        furnished.in(this);
        startPostgres();
        startService();
        password = firstPassword();
        token = session("admin", password);
    }

    /** One after the other: houses that are built beside each other share the images. */
    static synchronized void writeImages(String demoFile) throws IOException {
        PracticeFleet.writeImages(TOP.resolve("demo").resolve(demoFile), IMAGES);
    }

    /** A house with the demo's two routers. */
    static House ofTheDemo(int number) throws Exception {
        return ofTheDemo(number, _ -> {});
    }

    static House ofTheDemo(int number, Furnished furnished) throws Exception {
        return of(number, Files.readString(TOP.resolve("demo/practice-fleet.yaml")), furnished);
    }

    /** A house with another fleet. */
    static House of(int number, String fleetText) throws Exception {
        return new House(number, fleetText, _ -> {});
    }

    static House of(int number, String fleetText, Furnished furnished) throws Exception {
        return new House(number, fleetText, furnished);
    }

    /** A demo text with this house's addresses and ports. */
    String own(String text) {
        return text.replace("127.40.", "127.%s.".formatted(60 + number))
                .replace("2022", String.valueOf(port(2)))
                .replace("2023", String.valueOf(port(3)))
                .replace("2061", String.valueOf(port(7)));
    }

    String demoFile(String name) throws IOException {
        return own(Files.readString(TOP.resolve("demo").resolve(name)));
    }

    Path image(String name) {
        return IMAGES.resolve(name);
    }

    PracticeFleet fleet() {
        return fleet;
    }

    Machine machine(String name) {
        return fleet.machine(name);
    }

    String adminPassword() {
        return password;
    }

    @Override
    boolean reachable() {
        try {
            return call("GET", "/", null).status() == 200;
        } catch (IllegalStateException notYet) {
            return false;
        }
    }

    /** The secret of a new session; opens the interface as a token does. */
    String session(String name, String withPassword) {
        HttpRequest request =
                HttpRequest.newBuilder(URI.create(url() + "/api/sessions"))
                        .header("Content-Type", "application/json")
                        .POST(
                                BodyPublishers.ofString(
                                        json.writeValueAsString(
                                                Map.of("name", name, "password", withPassword))))
                        .build();
        try {
            String cookie =
                    http.send(request, BodyHandlers.ofString())
                            .headers()
                            .firstValue("Set-Cookie")
                            .orElseThrow();
            return cookie.substring(cookie.indexOf('=') + 1, cookie.indexOf(';'));
        } catch (IOException gone) {
            throw new IllegalStateException(gone);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(stopped);
        }
    }

    /**
     * A call as the admin; a body that is text is sent as YAML, a path as bytes, anything else as
     * JSON.
     */
    Answer call(String method, String path, @org.jspecify.annotations.Nullable Object body) {
        return call(token, method, path, body);
    }

    Answer call(
            String asToken,
            String method,
            String path,
            @org.jspecify.annotations.Nullable Object body) {
        try {
            HttpRequest.Builder request =
                    HttpRequest.newBuilder(URI.create(url() + path))
                            .timeout(Duration.ofSeconds(60));
            if (!asToken.isEmpty()) {
                request.header("Authorization", "Bearer " + asToken);
            }
            switch (body) {
                case null -> request.method(method, BodyPublishers.noBody());
                case String text ->
                        request.header("Content-Type", "application/yaml")
                                .method(method, BodyPublishers.ofString(text));
                case Path file ->
                        request.header("Content-Type", "application/octet-stream")
                                .method(method, BodyPublishers.ofFile(file));
                default ->
                        request.header("Content-Type", "application/json")
                                .method(
                                        method,
                                        BodyPublishers.ofString(json.writeValueAsString(body)));
            }
            HttpResponse<String> answer = http.send(request.build(), BodyHandlers.ofString());
            return new Answer(answer.statusCode(), answer.body());
        } catch (IOException gone) {
            throw new IllegalStateException("The service does not answer", gone);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(stopped);
        }
    }

    JsonNode get(String path) {
        Answer answer = call("GET", path, null);
        if (answer.status() != 200) {
            throw new IllegalStateException(path + ": " + answer.body());
        }
        return answer.json();
    }

    /** The client as a process. */
    Said client(String input, String... words) throws Exception {
        List<String> command = new ArrayList<>(List.of(TOP.resolve("bin/calmstep").toString()));
        command.addAll(List.of(words));
        ProcessBuilder builder =
                new ProcessBuilder(command)
                        .directory(TOP.toFile())
                        .redirectError(home.resolve("client.err").toFile());
        builder.environment()
                .putAll(
                        Map.of(
                                "CALMSTEP_URL",
                                url(),
                                "CALMSTEP_CONFIG",
                                home.resolve("config").toString()));
        Process process = builder.start();
        process.getOutputStream().write(input.getBytes(StandardCharsets.UTF_8));
        process.getOutputStream().close();
        try (InputStream out = process.getInputStream()) {
            String said = new String(out.readAllBytes(), StandardCharsets.UTF_8);
            if (!process.waitFor(60, TimeUnit.SECONDS)) {
                throw new IllegalStateException("The client did not end");
            }
            return new Said(
                    process.exitValue(), said, Files.readString(home.resolve("client.err")));
        }
    }

    // the slice's setting

    /** Inventory, login, catalogue, images, and a first reading. */
    House prepared(String inventory) throws IOException {
        must(
                call(
                        "POST",
                        "/api/catalogues?file=osmer-r6.yaml",
                        demoFile("catalogue/osmer-r6.yaml")));
        must(call("POST", "/api/inventory", inventory));
        setStewardLogin();
        for (String file : List.of("osmer-r6c-2.6.3.img", "osmer-r6c-2.8.2.img")) {
            must(call("PUT", "/api/shelf/images/" + file, image(file)));
        }
        readAll();
        return this;
    }

    /** The login of whoever stands at a command line. */
    void setStewardLogin() {
        must(
                call(
                        "PUT",
                        "/api/logins/steward",
                        Map.of("user", "steward", "password", DEVICE_PASSWORD)));
    }

    /** Every catalogue of the demo, and its whole fleet; only the routers of this house answer. */
    void importNorthmere() throws IOException {
        try (Stream<Path> files = Files.list(TOP.resolve("demo/catalogue"))) {
            for (Path file : files.sorted().toList()) {
                must(
                        call(
                                "POST",
                                "/api/catalogues?file=" + file.getFileName(),
                                Files.readString(file)));
            }
        }
        must(call("POST", "/api/inventory", demoFile("northmere.yaml")));
    }

    /** Imports Northmere's windows, and drafts a plan of the whole fleet over its nights. */
    void planWinter() throws IOException {
        must(call("PUT", "/api/windows?file=windows.yaml", demoFile("windows.yaml")));
        must(
                call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                "winter",
                                "devices",
                                List.of(),
                                "target",
                                "newest-general")));
    }

    void readAll() {
        read(List.of());
    }

    void read(List<String> devices) {
        long job =
                must(call("POST", "/api/readings", Map.of("devices", devices)))
                        .json()
                        .path("id")
                        .asLong();
        Await.until(
                Duration.ofSeconds(60),
                "the devices are read",
                () -> get("/api/jobs/" + job).path("state").asString().equals("finished"));
    }

    /** Says yes to every caution of a plan, with its first choice. */
    void acknowledge(String plan) {
        for (JsonNode finding : get("/api/plans/" + plan).path("findings")) {
            if (finding.path("severity").asString().equals("caution")
                    && finding.path("answer").isNull()) {
                must(
                        call(
                                "POST",
                                "/api/plans/%s/acknowledgements".formatted(plan),
                                Map.of(
                                        "finding",
                                        finding.path("key").asString(),
                                        "choice",
                                        finding.path("choices").get(0).asString(),
                                        "reason",
                                        "known to the tests")));
            }
        }
    }

    /** Drafts for devices, says save-first or accept to every caution, and approves. */
    void approvedPlan(String name, String target, String... devices) {
        must(
                call(
                        "POST",
                        "/api/plans",
                        Map.of("name", name, "devices", List.of(devices), "target", target)));
        acknowledge(name);
        must(call("POST", "/api/plans/%s/approval".formatted(name), Map.of()));
    }

    void start(String plan) {
        must(call("POST", "/api/runs", Map.of("plan", plan)));
    }

    /** A step of a unit; where it was put in once more, the last one. */
    JsonNode step(String run, String device, String name) {
        return unit(run, device)
                .path("steps")
                .valueStream()
                .filter(step -> step.path("name").asString().equals(name))
                .reduce((_, last) -> last)
                .orElseThrow();
    }

    JsonNode unit(String run, String device) {
        return get("/api/runs/" + run)
                .path("units")
                .valueStream()
                .filter(u -> u.path("device").asString().equals(device))
                .findFirst()
                .orElseThrow();
    }

    void awaitGate(String run, String device) {
        Await.until(
                Duration.ofMinutes(2),
                device + " is at the gate",
                () -> {
                    JsonNode unit = unit(run, device);
                    if (unit.path("state").asString().equals("stuck")) {
                        throw new IllegalStateException("stuck: " + unit.path("trouble"));
                    }
                    return unit.path("gate").isObject();
                });
    }

    void go(String run, String device) {
        must(call("POST", "/api/runs/%s/units/%s/go".formatted(run, device), Map.of()));
    }

    /** Whoever is watched to the end with something odd about it is borne. */
    String awaitEnd(String run, String device, Duration atMost) {
        return Await.until(
                atMost,
                device + " ends",
                () -> {
                    JsonNode unit = unit(run, device);
                    if (isDoubtful(unit)) {
                        must(
                                call(
                                        "POST",
                                        "/api/runs/%s/units/%s/acceptance".formatted(run, device),
                                        Map.of("why", "it is meant to be so")));
                    }
                    return unit.path("state").asString();
                },
                state -> List.of("settled", "returned", "stuck", "set-aside").contains(state));
    }

    /** Waits until something about a unit is to be judged. */
    List<String> awaitDoubt(String run, String device) {
        JsonNode unit =
                Await.until(
                        Duration.ofMinutes(2),
                        device + " is to be judged",
                        () -> unit(run, device),
                        House::isDoubtful);
        return unit.path("doubt").path("odd").valueStream().map(JsonNode::asString).toList();
    }

    private static boolean isDoubtful(JsonNode unit) {
        return unit.path("doubt").isObject() && unit.path("doubt").path("by").isNull();
    }

    static Answer must(Answer answer) {
        if (answer.status() >= 300) {
            throw new IllegalStateException(answer.status() + ": " + answer.body());
        }
        return answer;
    }

    @Override
    public void close() throws IOException {
        try {
            fleet.close();
            endProcesses();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }
}
