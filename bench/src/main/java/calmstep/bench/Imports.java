package calmstep.bench;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A fleet of 10,000 devices from one file to the list of all of them, over the HTTP interface of a
 * running service on an empty database.
 */
final class Imports {
    private static final int DEVICES = 10_000;
    private static final int SITES = 500;
    static final String URL = "http://127.0.0.1:18491";
    private static final Pattern PASSWORD =
            Pattern.compile("one-time password (\\S+) and change it");

    /** A family and what its devices may run, as the demo's catalogues have it. */
    private static final List<List<String>> RUNS =
            List.of(
                    List.of("osmer-r6", "2.4.0"),
                    List.of("osmer-r6", "2.6.3"),
                    List.of("tarnel-t2", "5.4.3"),
                    List.of("tarnel-t2", "5.6.0"),
                    List.of("quoyle-q4", "9.08"),
                    List.of("brannoch-b2", "10.8 build 305"),
                    List.of("ivrel-c5", "8.4.0"),
                    List.of("skelda-l4", "r47"),
                    List.of("wending-m2", "3.4.1"),
                    List.of("corvane-v8", "2025.09"));

    private final HttpClient http = HttpClient.newHttpClient();
    private String token = "";

    private Imports() {}

    static List<Figure> take() throws Exception {
        Process service = Starts.startService();
        try {
            return new Imports().measure();
        } finally {
            service.destroy();
            service.waitFor();
        }
    }

    /** Signed in to a running service, with the demo's catalogues imported. */
    static Imports signedIn() throws Exception {
        Imports imports = new Imports();
        imports.prepare();
        return imports;
    }

    /** Signs in and imports the demo's catalogues; gives the first password. */
    private String prepare() throws Exception {
        String password = firstPassword();
        HttpResponse<String> session =
                send(
                        "POST",
                        "/api/sessions",
                        "application/json",
                        "{\"name\":\"admin\",\"password\":\"%s\"}".formatted(password));
        token = session.headers().firstValue("Set-Cookie").orElseThrow().split("[=;]")[1];
        takeCatalogues();
        return password;
    }

    private void takeCatalogues() throws IOException, InterruptedException {
        try (Stream<Path> catalogues = Files.list(Path.of("demo/catalogue"))) {
            for (Path catalogue : catalogues.toList()) {
                send(
                        "POST",
                        "/api/catalogues?file=" + catalogue.getFileName(),
                        "application/yaml",
                        Files.readString(catalogue));
            }
        }
    }

    /**
     * Told once, at the first start on an empty database; kept for the measurements that come
     * after.
     */
    private static String firstPassword() throws IOException, InterruptedException {
        Path kept = Path.of("build/bench/postgres/first-password");
        for (int look = 0; look < 100 && !Files.exists(kept); look++) {
            Matcher told = PASSWORD.matcher(Files.readString(Path.of("build/bench/service.log")));
            if (told.find()) {
                Files.writeString(kept, told.group(1));
            }
            Thread.sleep(100);
        }
        return Files.readString(kept);
    }

    /** The 10,000 devices in a running service on an empty database; gives its first password. */
    static String prepared() throws Exception {
        Imports imports = new Imports();
        String password = imports.prepare();
        imports.send("POST", "/api/inventory", "application/yaml", inventory());
        return password;
    }

    private List<Figure> measure() throws Exception {
        prepare();
        String inventory = inventory();
        double imported = seconds("POST", "/api/inventory", "application/yaml", inventory);
        double again = seconds("POST", "/api/inventory", "application/yaml", inventory);
        List<Double> lists = new ArrayList<>();
        List<Double> selections = new ArrayList<>();
        for (int round = 0; round < 5; round++) {
            lists.add(seconds("GET", "/api/devices", "", ""));
            selections.add(
                    seconds("GET", "/api/devices?where=family:osmer-r6%20runs:%3C2.6", "", ""));
        }
        return List.of(
                new Figure("import", imported, "s", 15),
                new Figure("import-unchanged", again, "s", 10),
                new Figure("list-10000", Paths.median(lists), "s", 3),
                new Figure("select-of-10000", Paths.median(selections), "s", 2));
    }

    private static String inventory() {
        SplittableRandom random = new SplittableRandom(11);
        StringBuilder text = new StringBuilder("inventory: 1\nsites:\n");
        for (int site = 0; site < SITES; site++) {
            text.append(
                    "  - { name: site-%s, title: Site %s, zone: Europe/Lisbon }\n"
                            .formatted(site, site));
        }
        text.append("devices:\n");
        addDevices(random, text);
        return text.toString();
    }

    private static void addDevices(SplittableRandom random, StringBuilder text) {
        for (int number = 0; number < DEVICES; number++) {
            List<String> kind = RUNS.get(random.nextInt(RUNS.size()));
            text.append(
                    "  - { name: d-%s, family: %s, revision: C, serial: S%s, site: site-%s, role: device, address: 10.%s.%s.%s, login: steward, runs: { system: %s } }\n"
                            .formatted(
                                    number,
                                    kind.get(0),
                                    number,
                                    number % SITES,
                                    number / 65536,
                                    number / 256 % 256,
                                    number % 256,
                                    kind.get(1)));
        }
    }

    private double seconds(String method, String path, String type, String body)
            throws IOException, InterruptedException {
        long start = System.nanoTime();
        send(method, path, type, body);
        return (System.nanoTime() - start) / 1e9;
    }

    String token() {
        return token;
    }

    /** Sends a file. */
    void send(String method, String path, Path file) throws IOException, InterruptedException {
        HttpResponse<String> answer =
                http.send(
                        HttpRequest.newBuilder(URI.create(URL + path))
                                .method(method, BodyPublishers.ofFile(file))
                                .header("Content-Type", "application/octet-stream")
                                .header("Authorization", "Bearer " + token)
                                .build(),
                        BodyHandlers.ofString());
        if (answer.statusCode() >= 300) {
            throw new IllegalStateException(
                    "%s %s: %s %s".formatted(method, path, answer.statusCode(), answer.body()));
        }
    }

    HttpResponse<String> send(String method, String path, String type, String body)
            throws IOException, InterruptedException {
        HttpRequest.Builder request =
                HttpRequest.newBuilder(URI.create(URL + path))
                        .method(
                                method,
                                body.isEmpty()
                                        ? BodyPublishers.noBody()
                                        : BodyPublishers.ofString(body));
        if (!type.isEmpty()) {
            request.header("Content-Type", type);
        }
        if (!token.isEmpty()) {
            request.header("Authorization", "Bearer " + token);
        }
        HttpResponse<String> answer = http.send(request.build(), BodyHandlers.ofString());
        if (answer.statusCode() >= 300) {
            throw new IllegalStateException(
                    "%s %s: %s %s"
                            .formatted(
                                    method,
                                    path,
                                    answer.statusCode(),
                                    answer.body()
                                            .substring(0, Math.min(400, answer.body().length()))));
        }
        return answer;
    }
}
