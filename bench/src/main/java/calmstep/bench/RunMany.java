package calmstep.bench;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;

/**
 * 1,000 units in one run, all in work at once, against one of them in a run of its own: the devices
 * take as long as the demo's branch routers do, on their own clock, and are watched as long as
 * usual, so that what is more is ours. Fleet, service, PostgreSQL and 200 watchers (each with a
 * stream of events, and with the whole run asked for every five seconds) share the same two cores.
 */
final class RunMany {
    /** Fewer where somebody looks for what costs. */
    private static final int COUNT =
            Integer.parseInt(System.getenv().getOrDefault("CALMSTEP_BENCH_UNITS", "1000"));

    /** Seconds that one of them alone takes, where that was measured before; 0 measures it. */
    private static final double ALONE =
            Double.parseDouble(System.getenv().getOrDefault("CALMSTEP_BENCH_ALONE", "0"));

    /** A service that has carried runs out before is what is measured. */
    private static final int WARM_UP = 400;

    private static final int WATCHERS = 200;
    private static final Duration WATCHER_ASKS_EVERY = Duration.ofSeconds(5);
    private static final double TICKS_A_SECOND = 100;

    private final Imports service;
    private final long pid;

    private RunMany(Imports service, long pid) {
        this.service = service;
        this.pid = pid;
    }

    static List<Figure> take() throws Exception {
        Crowd crowd = Crowd.ofPatientRouters(COUNT + 1, 2 * WARM_UP);
        Process fleet = ReadMany.fleet(crowd);
        Process process = Starts.startService();
        try {
            Imports service = Imports.signedIn();
            prepare(service, crowd);
            watched(service, ", watch: 5 s");
            return new RunMany(service, process.pid()).measure(crowd);
        } finally {
            process.destroy();
            process.waitFor();
            fleet.destroy();
            fleet.waitFor();
        }
    }

    private static void prepare(Imports service, Crowd crowd) throws Exception {
        service.send("POST", "/api/catalogues?file=osmer-r6.yaml", "application/yaml", catalogue());
        service.send("POST", "/api/inventory", "application/yaml", crowd.inventory());
        service.send(
                "PUT",
                "/api/logins/many",
                "application/json",
                "{\"user\":\"steward\",\"password\":\"practice-only-5521\"}");
        service.send(
                "PUT",
                "/api/shelf/images/many-next.img",
                ReadMany.images().resolve("many-next.img"));
    }

    /** Where nobody says how long a unit is watched behind its proof, it is five minutes. */
    private static void watched(Imports service, String watch) throws Exception {
        service.send(
                "PUT",
                "/api/windows?file=windows.yaml",
                "application/yaml",
                "windows: 1\n"
                    + "open: [{ name: always, rule: FREQ=DAILY, from: '00:00', until: '23:59' }]\n"
                        + "limits: { at-once: 2000, at-once-a-site: 2000, at-once-a-family: 2000, pilots: 0%s }\n"
                                .formatted(watch));
    }

    private static String catalogue() throws Exception {
        return """
        catalogue: 1
        family: osmer-r6
        title: Osmer R6
        issued: 2026-12-01
        gives-up-after: 30 min
        copies-at-bytes-per-second: %1$s
        components: { system: { fields: 3 } }
        releases:
          - { version: 2.4.0, date: 2026-01-01, images: [{ file: many.img, size-bytes: %2$s, sha256: %3$s }] }
          - { version: 2.6.3, date: 2026-02-01, recommended: true, images: [{ file: many-next.img, size-bytes: %2$s, sha256: %4$s }] }
        effects: [{ to: any, restarts: 1, dark: %5$s s }]
        """
                .formatted(
                        Crowd.IMAGE_BYTES / Crowd.COPIES_IN,
                        Crowd.IMAGE_BYTES,
                        digest("many.img"),
                        digest("many-next.img"),
                        Crowd.STARTS_IN);
    }

    private static String digest(String file) throws Exception {
        return HexFormat.of()
                .formatHex(
                        MessageDigest.getInstance("SHA-256")
                                .digest(Files.readAllBytes(ReadMany.images().resolve(file))));
    }

    private List<Figure> measure(Crowd crowd) throws Exception {
        new ReadMany(crowd, service, pid).job("/api/readings", crowd.names());
        run("warm-up", crowd.names(COUNT + 1, COUNT + 1 + WARM_UP));
        run("warm-up-more", crowd.names(COUNT + 1 + WARM_UP, COUNT + 1 + 2 * WARM_UP));
        watched(service, "");
        double one = ALONE > 0 ? ALONE : run("alone", crowd.names(COUNT, COUNT + 1));
        long ticks = ticks();
        List<Double> answers = Collections.synchronizedList(new ArrayList<>());
        AtomicBoolean over = new AtomicBoolean();
        AtomicInteger heard = new AtomicInteger();
        double all;
        try (HttpClient client =
                        HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
                ExecutorService people = Executors.newVirtualThreadPerTaskExecutor()) {
            IntStream.range(0, WATCHERS)
                    .forEach(_ -> people.execute(() -> watch(client, over, heard)));
            people.execute(() -> ask(over, answers));
            all = run("all", crowd.names(0, COUNT));
            over.set(true);
        }
        double cpu = (ticks() - ticks) / TICKS_A_SECOND;
        answers.sort(Double::compareTo);
        double p95 = answers.get((int) (answers.size() * 0.95));
        String what = "run-" + COUNT;
        return List.of(
                new Figure(what, all, "s", 1.15 * one),
                new Figure(what + "-to-one", all / one, "times", 1.15),
                new Figure(what + "-cpu", cpu / COUNT * 1000, "ms/unit", 500),
                new Figure(
                        what + "-memory",
                        Long.parseLong(ReadMany.status(pid, "VmHWM")) / 1024.0,
                        "MB",
                        900),
                new Figure(what + "-p95", p95, "ms", 500),
                new Figure(what + "-silent", WATCHERS - heard.get(), "of 200", 0.5));
    }

    /** Seconds from the start of a run to its end; nobody is asked at a gate. */
    private double run(String name, String devices) throws Exception {
        service.send(
                "POST",
                "/api/plans",
                "application/json",
                "{\"name\":\"%s\",\"devices\":%s,\"target\":\"2.6.3\",\"begins\":\"now\"}"
                        .formatted(name, devices));
        service.send(
                "POST",
                "/api/plans/%s/nights?keep=true".formatted(name),
                "application/json",
                "{\"asks\":\"nobody\"}");
        service.send("POST", "/api/plans/%s/approval".formatted(name), "application/json", "{}");
        long start = System.nanoTime();
        HttpResponse<String> started =
                service.send(
                        "POST",
                        "/api/runs",
                        "application/json",
                        "{\"plan\":\"%s\"}".formatted(name));
        if (started.statusCode() != 201) {
            throw new IllegalStateException(
                    "The run %s was not started: %s %s"
                            .formatted(name, started.statusCode(), started.body()));
        }
        String states;
        do {
            Thread.sleep(1_000);
            states =
                    service.send("GET", "/api/runs", "", "")
                            .body()
                            .replaceAll(
                                    "(?s).*\"name\":\"%s\"[^{]*\"states\":\\{([^}]*)\\}.*"
                                            .formatted(name),
                                    "$1");
        } while (states.matches("(?s).*(waiting|preparing|staged|changing|proving|soaking).*"));
        double seconds = (System.nanoTime() - start) / 1e9;
        if (!states.equals("\"settled\":%s".formatted(devices.split(",").length))) {
            throw new IllegalStateException("Not all are settled: " + states);
        }
        return seconds;
    }

    /** As a console does: listens to the events, and asks for the run again and again. */
    private void watch(HttpClient client, AtomicBoolean over, AtomicInteger heard) {
        try {
            HttpResponse<InputStream> events =
                    client.send(
                            authorised("/api/events").build(),
                            HttpResponse.BodyHandlers.ofInputStream());
            Thread listens = Thread.ofVirtual().start(() -> listen(events.body(), heard));
            while (!over.get()) {
                client.send(
                        authorised("/api/runs/all").header("Accept-Encoding", "gzip").build(),
                        HttpResponse.BodyHandlers.discarding());
                Thread.sleep(WATCHER_ASKS_EVERY);
            }
            events.body().close();
            listens.join();
        } catch (IOException | InterruptedException gone) {
            Thread.currentThread().interrupt();
        }
    }

    private static void listen(InputStream events, AtomicInteger heard) {
        try (events) {
            byte[] bytes = new byte[8192];
            boolean first = true;
            while (events.read(bytes) >= 0) {
                heard.addAndGet(first ? 1 : 0);
                first = false;
            }
        } catch (IOException closed) {
            // The run is over, and so is the watch.
        }
    }

    /** What somebody meets who works with it meanwhile: a device, the list of runs, and the run. */
    private void ask(AtomicBoolean over, List<Double> answers) {
        List<String> paths =
                List.of(
                        "/api/devices/unit-7",
                        "/api/runs",
                        "/api/runs/all",
                        "/api/runs/all/units/unit-7/talk");
        try (HttpClient client = HttpClient.newHttpClient()) {
            askInTurn(over, client, paths, answers);
        } catch (IOException | InterruptedException gone) {
            Thread.currentThread().interrupt();
        }
    }

    private void askInTurn(
            AtomicBoolean over, HttpClient client, List<String> paths, List<Double> answers)
            throws IOException, InterruptedException {
        for (int round = 0; !over.get(); round++) {
            long start = System.nanoTime();
            client.send(
                    authorised(paths.get(round % paths.size()))
                            .header("Accept-Encoding", "gzip")
                            .build(),
                    HttpResponse.BodyHandlers.discarding());
            answers.add((System.nanoTime() - start) / 1e6);
            Thread.sleep(500);
        }
    }

    private HttpRequest.Builder authorised(String path) {
        return HttpRequest.newBuilder(URI.create(Imports.URL + path))
                .header("Authorization", "Bearer " + service.token());
    }

    /** Time of our processors that the service took. */
    private long ticks() throws IOException {
        String[] fields =
                Files.readString(Path.of("/proc/%s/stat".formatted(pid)))
                        .replaceAll(".*\\) ", "")
                        .split(" ");
        return Long.parseLong(fields[11]) + Long.parseLong(fields[12]);
    }
}
