package calmstep.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * 500 routers read, then backed up, all at once: one practice process with an address for each, one service, on the same two cores. What one router alone takes is measured
 * in the same run; memory and open files are the service's, at their highest.
 */
final class ReadMany {
    private static final int DEVICES = 500;
    private static final int SITES = 100;
    private static final Path HOME = Path.of("build/bench/read");
    private static final Pattern NUMBER = Pattern.compile("\"(id|done|failed)\":(\\d+)");

    private final Imports service;
    private final long pid;
    private long filesAtMost;

    private ReadMany(Imports service, long pid) {
        this.service = service;
        this.pid = pid;
    }

    static List<Figure> take() throws Exception {
        Process fleet = fleet();
        Process process = Starts.startService();
        try {
            Imports service = Imports.signedIn();
            service.send("POST", "/api/inventory", "application/yaml", inventory());
            service.send("PUT", "/api/logins/many", "application/json", "{\"user\":\"steward\",\"password\":\"practice-only-5521\"}");
            return new ReadMany(service, process.pid()).measure();
        } finally {
            process.destroy();
            process.waitFor();
            fleet.destroy();
            fleet.waitFor();
        }
    }

    private static Process fleet() throws IOException, InterruptedException {
        Files.createDirectories(HOME);
        StringBuilder text = new StringBuilder("practice-fleet: 1\npace: 60\nssh-port: 2022\nconsole-port: 2023\nimages:\n  - { file: many.img, family: osmer-r6, version: 2.4.0, revisions: [C], size-bytes: 20000 }\nmachines:\n");
        for (int number = 0; number < DEVICES; number++) {
            text.append("  - { name: many-%d, family: osmer-r6, address: %s, model: R6-4, revision: C, serial: M%d, user: steward, password: practice-only-5521, flash-bytes: 1000000, files: [many.img], running: many.img, settings: \"name many-%d\" }\n"
                    .formatted(number, address(number), number, number));
        }
        Path file = Files.writeString(HOME.resolve("fleet.yaml"), text);
        List<String> java = List.of(Files.readString(Path.of("build/jdk")).strip() + "/bin/java", "-XX:+UseSerialGC", "-Xmx512m", "-cp", "build/practice/*", "calmstep.practice.PracticeFleet");
        run(Stream.concat(java.stream(), Stream.of("images", file.toString(), HOME.resolve("images").toString())).toList()).waitFor();
        Process playing = run(Stream.concat(java.stream(), Stream.of("play", file.toString(), HOME.resolve("images").toString(), HOME.resolve("state").toString())).toList());
        for (int look = 0; look < 600 && !Files.readString(HOME.resolve("fleet.log")).contains("plays 500 machines"); look++) {
            Thread.sleep(100);
        }
        return playing;
    }

    private static Process run(List<String> command) throws IOException {
        return new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(HOME.resolve("fleet.log").toFile()).start();
    }

    private static String address(int number) {
        return "127.41.%d.%d".formatted(number / 200, number % 200 + 1);
    }

    private static String inventory() {
        StringBuilder text = new StringBuilder("inventory: 1\nsites:\n");
        IntStream.range(0, SITES).forEach(site -> text.append("  - { name: many-%d, title: Many %d, zone: Europe/Lisbon }\n".formatted(site, site)));
        text.append("devices:\n");
        IntStream.range(0, DEVICES).forEach(number -> text.append("  - { name: many-%d, family: osmer-r6, revision: C, serial: M%d, site: many-%d, role: device, address: %s, port: 2022, login: many }\n".formatted(number, number, number % SITES, address(number))));
        return text.toString();
    }

    private List<Figure> measure() throws Exception {
        List<Double> alone = new ArrayList<>();
        for (int round = 0; round < 10; round++) {
            alone.add(job("/api/readings", "[\"many-%d\"]".formatted(round)));
        }
        String all = IntStream.range(0, DEVICES).mapToObj("\"many-%d\""::formatted).toList().toString();
        double read = job("/api/readings", all);
        double again = job("/api/readings", all);
        double backedUp = job("/api/backups", all);
        double slowest = alone.stream().max(Double::compareTo).orElseThrow();
        return List.of(new Figure("read-500", Math.min(read, again), "s", 15), new Figure("read-500-to-one", Math.min(read, again) / slowest, "times", 100), new Figure("back-up-500", backedUp, "s", 15),
                new Figure("read-500-memory", Long.parseLong(status("VmHWM")) / 1024.0, "MB", 900), new Figure("read-500-files", filesAtMost, "files", 1000));
    }

    /** Seconds from the call to the job's end. */
    private double job(String path, String devices) throws Exception {
        long start = System.nanoTime();
        long id = number("id", service.send("POST", path, "application/json", "{\"devices\":%s}".formatted(devices)).body());
        String now;
        do {
            Thread.sleep(5);
            filesAtMost = Math.max(filesAtMost, openFiles());
            now = service.send("GET", "/api/jobs/" + id, "", "").body();
        } while (now.contains("under-way"));
        if (number("failed", now) > 0) {
            throw new IllegalStateException("Not all answered: " + now.substring(0, Math.min(600, now.length())));
        }
        return (System.nanoTime() - start) / 1e9;
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
        try (Stream<Path> files = Files.list(Path.of("/proc/%d/fd".formatted(pid)))) {
            return files.count();
        }
    }

    private String status(String key) throws IOException {
        return Files.readAllLines(Path.of("/proc/%d/status".formatted(pid))).stream().filter(line -> line.startsWith(key + ":")).map(line -> line.replaceAll("\\D", "")).findFirst().orElse("0");
    }
}
