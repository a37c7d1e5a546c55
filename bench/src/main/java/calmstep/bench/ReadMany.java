package calmstep.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Many devices read, then backed up, all at once: one practice process with an address for each,
 * one service, on the same two cores. What one device alone takes is measured in the same run;
 * memory and open files are the service's, at their highest.
 */
final class ReadMany {
    private static final Path HOME = Path.of("build/bench/read");
    private static final Pattern NUMBER = Pattern.compile("\"(id|done|failed)\":(\\d+)");

    private final Crowd crowd;
    private final Imports service;
    private final long pid;
    private long filesAtMost;

    ReadMany(Crowd crowd, Imports service, long pid) {
        this.crowd = crowd;
        this.service = service;
        this.pid = pid;
    }

    /** 500 routers: the same each, so that only their number counts. */
    static List<Figure> routers() throws Exception {
        return take(Crowd.ofRouters(500), 15);
    }

    /** A practice fleet of 1,000 over all eight families. */
    static List<Figure> allFamilies() throws Exception {
        return take(Crowd.ofAllFamilies(1_000), 60);
    }

    private static List<Figure> take(Crowd crowd, double aimSeconds) throws Exception {
        Process fleet = fleet(crowd);
        Process process = Starts.startService();
        try {
            Imports service = Imports.signedIn();
            service.send("POST", "/api/inventory", "application/yaml", crowd.inventory());
            giveLogins(service);
            return new ReadMany(crowd, service, process.pid()).measure(aimSeconds);
        } finally {
            process.destroy();
            process.waitFor();
            fleet.destroy();
            fleet.waitFor();
        }
    }

    private static void giveLogins(Imports service) throws IOException, InterruptedException {
        service.send(
                "PUT",
                "/api/logins/many",
                "application/json",
                "{\"user\":\"steward\",\"password\":\"practice-only-5521\"}");
        service.send(
                "PUT",
                "/api/logins/radio",
                "application/json",
                "{\"user\":\"watcher\",\"password\":\"practice-only-7714\",\"snmp\":{\"version\":\"v3\",\"authentication\":\"sha256\",\"privacy\":\"aes128\",\"privacyPassword\":\"practice-only-8830\"}}");
    }

    /** Plays a crowd; its images lie in {@link #images()}. */
    static Process fleet(Crowd crowd) throws IOException, InterruptedException {
        clear(HOME);
        Path file = Files.writeString(HOME.resolve("fleet.yaml"), crowd.fleet());
        List<String> java =
                List.of(
                        Files.readString(Path.of("build/jdk")).strip() + "/bin/java",
                        "-XX:+UseSerialGC",
                        "-Xmx1g",
                        "-cp",
                        "build/practice/*",
                        "calmstep.practice.Main");
        run(Stream.concat(
                                java.stream(),
                                Stream.of(
                                        "images",
                                        file.toString(),
                                        HOME.resolve("images").toString()))
                        .toList())
                .waitFor();
        Process playing =
                run(
                        Stream.concat(
                                        java.stream(),
                                        Stream.of(
                                                "play",
                                                file.toString(),
                                                HOME.resolve("images").toString(),
                                                HOME.resolve("state").toString()))
                                .toList());
        Starts.endsWithUs(playing);
        for (int look = 0;
                look < 600
                        && !Files.readString(HOME.resolve("fleet.log"))
                                .contains("plays %s machines".formatted(crowd.count()));
                look++) {
            Thread.sleep(100);
        }
        return playing;
    }

    static Path images() {
        return HOME.resolve("images");
    }

    private static void clear(Path folder) throws IOException {
        if (Files.exists(folder)) {
            try (Stream<Path> all = Files.walk(folder)) {
                for (Path one : all.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(one);
                }
            }
        }
        Files.createDirectories(folder);
    }

    private static Process run(List<String> command) throws IOException {
        return new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(HOME.resolve("fleet.log").toFile())
                .start();
    }

    private List<Figure> measure(double aimSeconds) throws Exception {
        List<Double> alone = new ArrayList<>();
        for (String one : crowd.some()) {
            job("/api/readings", one);
            alone.add(job("/api/readings", one));
        }
        String what = "read-" + crowd.count();
        double read = job("/api/readings", crowd.names());
        double again = job("/api/readings", crowd.names());
        double backedUp = job("/api/backups", crowd.names());
        double slowest = alone.stream().max(Double::compareTo).orElseThrow();
        return List.of(
                new Figure(what, Math.min(read, again), "s", aimSeconds),
                new Figure(what + "-to-one", Math.min(read, again) / slowest, "times", 100),
                new Figure("back-up-" + crowd.count(), backedUp, "s", aimSeconds),
                new Figure(what + "-memory", Long.parseLong(status("VmHWM")) / 1024.0, "MB", 900),
                new Figure(what + "-files", filesAtMost, "files", 2.0 * crowd.count()));
    }

    /** Seconds from the call to the job's end. */
    double job(String path, String devices) throws Exception {
        long start = System.nanoTime();
        long id = started(path, devices);
        String now;
        do {
            Thread.sleep(5);
            filesAtMost = Math.max(filesAtMost, openFiles());
            now = service.send("GET", "/api/jobs/" + id, "", "").body();
        } while (now.contains("under-way"));
        if (number("failed", now) > 0) {
            throw new IllegalStateException(
                    "Not all answered: " + now.substring(0, Math.min(600, now.length())));
        }
        return (System.nanoTime() - start) / 1e9;
    }

    private long started(String path, String devices) throws IOException, InterruptedException {
        long id =
                number(
                        "id",
                        service.send(
                                        "POST",
                                        path,
                                        "application/json",
                                        "{\"devices\":%s}".formatted(devices))
                                .body());
        return id;
    }

    private static long number(String name, String json) {
        Matcher matcher = NUMBER.matcher(json);
        while (matcher.find()) {
            if (matcher.group(1).equals(name)) {
                return Long.parseLong(matcher.group(2));
            }
        }
        return 0;
    }

    private long openFiles() throws IOException {
        try (Stream<Path> files = Files.list(Path.of("/proc/%s/fd".formatted(pid)))) {
            return files.count();
        }
    }

    private String status(String key) throws IOException {
        return status(pid, key);
    }

    static String status(long pid, String key) throws IOException {
        return Files.readAllLines(Path.of("/proc/%s/status".formatted(pid))).stream()
                .filter(line -> line.startsWith(key + ":"))
                .map(line -> line.replaceAll("\\D", ""))
                .findFirst()
                .orElse("0");
    }
}
