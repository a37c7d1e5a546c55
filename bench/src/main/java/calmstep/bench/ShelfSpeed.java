package calmstep.bench;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/**
 * The shelf's servers against those of Debian's packages: the same file to the same client in the
 * same run, in turns. A figure is our time by theirs: 1.11 is 0.9 of their speed.
 */
final class ShelfSpeed {
    private static final Path HOME = Path.of("build/bench/shelf").toAbsolutePath();
    private static final String IMAGE = "osmer-r6c-2.8.2.img";
    private static final int AT_ONCE = 50;

    /** A service that has been up for a while is what is measured. */
    private static final int WARM_UP = 60;

    private static final int ROUNDS = 21;

    /** What fits into a frame, and what the protocol allows at most, nearly. */
    private static final int USUAL_BLOCK = 1428;

    private static final int LARGE_BLOCK = 60_000;
    private static final long BYTES = 11_206_656;

    private ShelfSpeed() {}

    private interface Taken {
        double seconds() throws Exception;
    }

    static List<Figure> http() throws Exception {
        Path conf = configuration();
        Process theirs = start("nginx", "-p", HOME.toString(), "-c", conf.toString());
        try {
            double[] medians =
                    inTurns(
                            () -> downloads("http://127.0.0.1:18492/" + IMAGE),
                            () -> downloads("http://127.0.0.1:18495/" + IMAGE));
            return List.of(
                    new Figure("shelf-http-to-nginx", medians[0] / medians[1], "times", 1.11),
                    new Figure("shelf-http-50", medians[0], "s", 30));
        } finally {
            theirs.destroy();
        }
    }

    private static Path configuration() throws Exception {
        Path conf =
                Files.writeString(
                        served().resolveSibling("nginx.conf"),
                        """
                        worker_processes auto;
                        daemon off;
                        pid %1$s/nginx.pid;
                        error_log %1$s/nginx.log;
                        events { worker_connections 1024; }
                        http { access_log off; sendfile on; server { listen 127.0.0.1:18495; location / { root %1$s/served; } } }
                        """
                                .formatted(HOME));
        return conf;
    }

    static List<Figure> tftp() throws Exception {
        Process theirs = theirTftp();
        try {
            double[] usual =
                    inTurns(() -> overTftp(18493, USUAL_BLOCK), () -> overTftp(18497, USUAL_BLOCK));
            double[] large =
                    inTurns(() -> overTftp(18493, LARGE_BLOCK), () -> overTftp(18497, LARGE_BLOCK));
            return List.of(
                    new Figure("shelf-tftp-to-hpa", usual[0] / usual[1], "times", 1),
                    new Figure("shelf-tftp", usual[0], "s", 10),
                    new Figure("shelf-tftp-large-to-hpa", large[0] / large[1], "times", 1));
        } finally {
            theirs.destroy();
        }
    }

    private static Process theirTftp() throws Exception {
        Process theirs =
                start(
                        "/usr/sbin/in.tftpd",
                        "--foreground",
                        "--listen",
                        "--user",
                        "root",
                        "--address",
                        "127.0.0.1:18497",
                        "--secure",
                        served().toString());
        return theirs;
    }

    /**
     * A folder with the image for their servers; the same one is on the shelf, and open for this
     * address.
     */
    private static Path served() throws Exception {
        Path served = HOME.resolve("served");
        List<String> practice =
                List.of(
                        Files.readString(Path.of("build/jdk")).strip() + "/bin/java",
                        "-cp",
                        "build/practice/*",
                        "calmstep.practice.Main",
                        "images",
                        "demo/practice-fleet.yaml",
                        served.toString());
        if (new ProcessBuilder(practice).inheritIO().start().waitFor() != 0) {
            throw new IllegalStateException("No images could be made in " + served);
        }
        return served;
    }

    private static Process start(String... command) throws IOException, InterruptedException {
        Process process =
                new ProcessBuilder(command)
                        .redirectErrorStream(true)
                        .redirectOutput(HOME.resolve("theirs.log").toFile())
                        .start();
        Thread.sleep(700);
        if (!process.isAlive()) {
            throw new IllegalStateException(
                    "%s ended: %s"
                            .formatted(command[0], Files.readString(HOME.resolve("theirs.log"))));
        }
        return process;
    }

    private static double[] inTurns(Taken ours, Taken theirs) throws Exception {
        Process process = Starts.startService();
        try {
            Imports.signedIn()
                    .send(
                            "PUT",
                            "/api/shelf/images/" + IMAGE,
                            HOME.resolve("served").resolve(IMAGE));
            open();
            return medians(ours, theirs);
        } finally {
            process.destroy();
            process.waitFor();
        }
    }

    private static double[] medians(Taken ours, Taken theirs) throws Exception {
        List<Double> our = new ArrayList<>();
        List<Double> their = new ArrayList<>();
        for (int round = 0; round < WARM_UP; round++) {
            ours.seconds();
            theirs.seconds();
        }
        for (int round = 0; round < ROUNDS; round++) {
            our.add(ours.seconds());
            their.add(theirs.seconds());
        }
        return new double[] {Paths.median(our), Paths.median(their)};
    }

    /** A transfer as a run opens it; no run is needed to measure bytes. */
    private static void open() throws Exception {
        ProcessBuilder psql = opening();
        psql.environment().put("PGPASSWORD", System.getenv("CALMSTEP_DB_PASSWORD"));
        if (psql.inheritIO().start().waitFor() != 0) {
            throw new IllegalStateException("No transfer could be opened");
        }
    }

    private static ProcessBuilder opening() {
        ProcessBuilder psql =
                new ProcessBuilder(
                        "psql",
                        "-q",
                        "-h",
                        "127.0.0.1",
                        "-p",
                        System.getenv("CALMSTEP_DB_PORT"),
                        "-U",
                        System.getenv("CALMSTEP_DB_USER"),
                        System.getenv("CALMSTEP_DB_NAME"),
                        "-c",
                        "insert into transfer (file_name, device_address, opened_at, until) values ('%s', '127.0.0.1', now(), now() + interval '1 hour')"
                                .formatted(IMAGE));
        return psql;
    }

    private static double downloads(String uri) throws Exception {
        long start = System.nanoTime();
        try (HttpClient client =
                        HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
                ExecutorService many = Executors.newVirtualThreadPerTaskExecutor()) {
            Callable<Long> one =
                    () -> {
                        byte[] piece = new byte[256 * 1024];
                        long bytes = 0;
                        try (InputStream in =
                                client.send(
                                                HttpRequest.newBuilder(URI.create(uri)).build(),
                                                HttpResponse.BodyHandlers.ofInputStream())
                                        .body()) {
                            for (int count = in.read(piece); count >= 0; count = in.read(piece)) {
                                bytes += count;
                            }
                        }
                        return bytes;
                    };
            List<Future<Long>> all = new ArrayList<>();
            for (int number = 0; number < AT_ONCE; number++) {
                all.add(many.submit(one));
            }
            for (Future<Long> future : all) {
                if (future.get() != BYTES) {
                    throw new IllegalStateException(
                            "%s gave %s bytes".formatted(uri, future.get()));
                }
            }
        }
        return (System.nanoTime() - start) / 1e9;
    }

    private static double overTftp(int port, int block) throws Exception {
        Path to = HOME.resolve("taken");
        long start = System.nanoTime();
        int code = copied(block, to, port);
        double seconds = (System.nanoTime() - start) / 1e9;
        if (code != 0 || Files.size(to) != BYTES) {
            throw new IllegalStateException("The copy from port %s is not whole".formatted(port));
        }
        return seconds;
    }

    private static int copied(int block, Path to, int port)
            throws IOException, InterruptedException {
        int code =
                new ProcessBuilder(
                                "curl",
                                "-sS",
                                "--tftp-blksize",
                                String.valueOf(block),
                                "-o",
                                to.toString(),
                                "tftp://127.0.0.1:%s/%s".formatted(port, IMAGE))
                        .inheritIO()
                        .start()
                        .waitFor();
        return code;
    }
}
