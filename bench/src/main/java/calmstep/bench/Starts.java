package calmstep.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Whole-process start times, as ratios to a bare JVM that says hello, measured alternately in the
 * same run.
 */
final class Starts {
    private static final int ROUNDS = 15;

    private Starts() {}

    private static String java() throws IOException {
        return Files.readString(Path.of("build/jdk")).strip() + "/bin/java";
    }

    private static double millis(List<String> command) throws Exception {
        long start = System.nanoTime();
        Process process =
                new ProcessBuilder(command)
                        .redirectErrorStream(true)
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .start();
        if (process.waitFor() != 0) {
            throw new IllegalStateException(
                    "%s ended with %s".formatted(command, process.exitValue()));
        }
        return (System.nanoTime() - start) / 1e6;
    }

    private static List<String> hello() throws IOException {
        return List.of(
                java(),
                "-XX:TieredStopAtLevel=1",
                "-XX:+UseSerialGC",
                "-cp",
                "bench/target/classes",
                "calmstep.bench.Hello");
    }

    static List<Figure> client() throws Exception {
        List<Double> bare = new ArrayList<>();
        List<Double> client = new ArrayList<>();
        for (int round = 0; round < ROUNDS; round++) {
            bare.add(millis(hello()));
            client.add(millis(List.of("bin/calmstep", "--version")));
        }
        double hello = Paths.median(bare);
        return List.of(
                new Figure("client-start", Paths.median(client) / hello, "times", 2),
                new Figure("client-start-ms", Paths.median(client), "ms", 2 * hello));
    }

    /** The service, once it answers. */
    static Process startService() throws Exception {
        ProcessBuilder builder = new ProcessBuilder("bin/lib/service", "-Xmx512m");
        builder.environment()
                .putAll(
                        Map.of(
                                "CALMSTEP_PORT",
                                "18491",
                                "CALMSTEP_SHELF_HTTP_PORT",
                                "18492",
                                "CALMSTEP_SHELF_TFTP_PORT",
                                "18493",
                                "CALMSTEP_DATA",
                                "build/bench/data"));
        Process process =
                builder.redirectErrorStream(true)
                        .redirectOutput(Path.of("build/bench/service.log").toFile())
                        .start();
        endsWithUs(process);
        while (!answers()) {
            if (!process.isAlive()) {
                throw new IllegalStateException("The service ended; see build/bench/service.log");
            }
            Thread.sleep(20);
        }
        return process;
    }

    /** Whoever interrupts a measurement leaves nothing behind. */
    static void endsWithUs(Process process) {
        Runtime.getRuntime().addShutdownHook(new Thread(process::destroyForcibly));
    }

    /**
     * From process start to the first answer over HTTP, on a database that is there; and the
     * resident memory then.
     */
    static List<Figure> service() throws Exception {
        double hello = Paths.median(List.of(millis(hello()), millis(hello()), millis(hello())));
        long start = System.nanoTime();
        Process process = startService();
        try {
            double seconds = (System.nanoTime() - start) / 1e9;
            double megabytes = megabytes(process);
            return List.of(
                    new Figure("service-start", seconds * 1000 / hello, "times", 200),
                    new Figure("service-start-s", seconds, "s", 15),
                    new Figure("service-memory", megabytes, "MB", 400));
        } finally {
            process.destroy();
            process.waitFor();
        }
    }

    private static double megabytes(Process process) throws IOException {
        double megabytes =
                Files.readAllLines(Path.of("/proc/%s/status".formatted(process.pid()))).stream()
                        .filter(l -> l.startsWith("VmRSS:"))
                        .mapToDouble(l -> Double.parseDouble(l.replaceAll("\\D", "")) / 1024)
                        .findFirst()
                        .orElse(0);
        return megabytes;
    }

    private static boolean answers() {
        try (java.net.Socket socket =
                new java.net.Socket(java.net.InetAddress.getLoopbackAddress(), 18491)) {
            socket.setSoTimeout(2000);
            socket.getOutputStream()
                    .write(
                            "GET /api/me HTTP/1.0\r\n\r\n"
                                    .getBytes(java.nio.charset.StandardCharsets.US_ASCII));
            return socket.getInputStream().read() > 0;
        } catch (IOException notYet) {
            return false;
        }
    }
}
