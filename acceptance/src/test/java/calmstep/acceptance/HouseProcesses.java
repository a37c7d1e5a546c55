package calmstep.acceptance;

import calmstep.check.Await;
import calmstep.check.Elsewhere;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * The processes of a house: PostgreSQL, and one or two nodes of the service. Each house has a
 * number of its own, from which its ports follow.
 */
abstract class HouseProcesses {
    static final Path TOP = Path.of("").toAbsolutePath().getParent();
    static final int PACE = 120;
    static final Path BUILD = TOP.resolve("build");
    private static final Pattern ONE_TIME = Pattern.compile("one-time password (\\S+)");
    private static final Path MIGRATED = BUILD.resolve("migrated");
    final int number;
    final Path home;
    private final List<String> environment = new ArrayList<>();
    private Optional<Process> service = Optional.empty();
    private Optional<Process> otherNode = Optional.empty();
    int node;

    HouseProcesses(int number) {
        this.number = number;
        this.home = BUILD.resolve("test-house-" + number);
    }

    abstract boolean reachable();

    int port(int which) {
        return 18000 + number * 20 + which;
    }

    String url() {
        return "http://127.0.0.1:" + port(node);
    }

    int sshPort() {
        return port(2);
    }

    int consolePort() {
        return port(3);
    }

    int shelfHttpPort() {
        return port(4);
    }

    /**
     * One that nothing else here listens at.
     *
     * @param which 0 or 1
     */
    int freePort(int which) {
        return port(8 + which);
    }

    int databasePort() {
        return port(6);
    }

    int shelfTftpPort() {
        return port(5);
    }

    Path home() {
        return home;
    }

    // PostgreSQL

    /** On a database that was migrated before, where somebody made one: that saves each a while. */
    void startPostgres() throws Exception {
        if (Files.exists(MIGRATED.resolve("first-password"))) {
            shell("[ -e %2$s/postgres ] || cp -a %1$s/postgres %2$s/".formatted(MIGRATED, home));
        }
        shell("need_postgres; pg_start %s %s".formatted(home.resolve("postgres"), port(6)));
    }

    void stopPostgres() throws IOException, InterruptedException {
        shell("pg_stop " + home.resolve("postgres"));
    }

    void shell(String script) throws IOException, InterruptedException {
        Process process =
                new ProcessBuilder("bash", "-c", ". bin/lib/common; " + script)
                        .directory(TOP.toFile())
                        .redirectErrorStream(true)
                        .redirectOutput(
                                ProcessBuilder.Redirect.appendTo(
                                        BUILD.resolve("test-shell.log").toFile()))
                        .start();
        if (process.waitFor() != 0) {
            throw new IllegalStateException(
                    "\"%s\" failed; see build/test-shell.log".formatted(script));
        }
    }

    /** Of the first admin, which the service wrote into its log once. */
    String firstPassword() throws IOException {
        Path told = MIGRATED.resolve("first-password");
        return Files.exists(told)
                ? Files.readString(told).strip()
                : Await.until(
                                Duration.ofSeconds(10),
                                "the one-time password is written",
                                () -> ONE_TIME.matcher(unreadLog()).results().findFirst(),
                                Optional::isPresent)
                        .orElseThrow()
                        .group(1);
    }

    private String unreadLog() {
        try {
            return Files.readString(log());
        } catch (IOException unreadable) {
            return "";
        }
    }

    Connection database() throws SQLException, IOException {
        return DriverManager.getConnection(
                "jdbc:postgresql://127.0.0.1:%s/calmstep".formatted(port(6)),
                "calmstep",
                databasePassword());
    }

    private String databasePassword() throws IOException {
        return Files.readString(home.resolve("postgres/password")).strip();
    }

    /** The first column of the first row. */
    String ask(String sql) {
        try (Connection connection = database();
                ResultSet rows = connection.createStatement().executeQuery(sql)) {
            return rows.next() ? String.valueOf(rows.getString(1)) : "";
        } catch (SQLException | IOException failed) {
            throw new IllegalStateException(failed);
        }
    }

    // the service

    void startService() throws Exception {
        launchService();
        awaitService();
    }

    /** It works as soon as it can; nobody waits until it answers. */
    void launchService() throws IOException {
        node = 0;
        service = Optional.of(launchNode());
    }

    void awaitService() {
        awaitAnswers(service.orElseThrow());
    }

    /** A second node on the same database and the same shelf folder; calls go to it from now on. */
    void startOtherNode() throws Exception {
        node = 10;
        otherNode = Optional.of(startNode());
    }

    /**
     * One of the two nodes ends as in a power cut; calls go to the other one.
     *
     * @param other the second one that was started
     */
    void killNode(boolean other) throws InterruptedException {
        node = other ? 0 : 10;
        Process process = (other ? otherNode : service).orElseThrow();
        process.destroyForcibly();
        process.waitFor();
    }

    void restartNode(boolean other) throws Exception {
        node = other ? 10 : 0;
        if (other) {
            otherNode = Optional.of(startNode());
        } else {
            service = Optional.of(startNode());
        }
    }

    private Process startNode() throws IOException {
        Process process = launchNode();
        awaitAnswers(process);
        return process;
    }

    private Process launchNode() throws IOException {
        List<String> command =
                new ArrayList<>(
                        List.of(
                                TOP.resolve("bin/lib/service").toString(),
                                "-XX:TieredStopAtLevel=1",
                                "-Xmx512m"));
        command.addAll(Elsewhere.options());
        ProcessBuilder builder = new ProcessBuilder(command);
        builder.directory(TOP.toFile())
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(log().toFile()));
        builder.environment()
                .putAll(
                        Map.of(
                                "CALMSTEP_DB_PORT",
                                String.valueOf(port(6)),
                                "CALMSTEP_DB_PASSWORD",
                                databasePassword(),
                                "CALMSTEP_PORT",
                                String.valueOf(port(node)),
                                "CALMSTEP_SHELF_HTTP_PORT",
                                String.valueOf(port(node + 4)),
                                "CALMSTEP_SHELF_TFTP_PORT",
                                String.valueOf(port(node + 5)),
                                "CALMSTEP_DATA",
                                home.resolve("data").toString(),
                                "CALMSTEP_PACE",
                                String.valueOf(PACE),
                                "CALMSTEP_HEARTBEAT_SECONDS",
                                "2"));
        environment.forEach(
                pair -> builder.environment().put(pair.split("=")[0], pair.split("=")[1]));
        return builder.start();
    }

    private void awaitAnswers(Process process) {
        Await.until(
                Duration.ofMinutes(2),
                "the service answers",
                () -> {
                    if (!process.isAlive()) {
                        throw new IllegalStateException("The service ended; see " + log());
                    }
                    return reachable();
                });
    }

    /** From the next start on. */
    void set(String variable, String value) {
        environment.add(variable + "=" + value);
    }

    /** As a power cut would: no chance to say anything. */
    void killService() throws InterruptedException {
        Process process = service.orElseThrow();
        process.destroyForcibly();
        process.waitFor();
    }

    Path log() {
        return home.resolve("service.log");
    }

    static void deleteAll(Path folder) throws IOException {
        if (Files.exists(folder)) {
            try (Stream<Path> all = Files.walk(folder)) {
                for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(path);
                }
            }
        }
    }

    void endProcesses() throws IOException, InterruptedException {
        service.ifPresent(Process::destroyForcibly);
        otherNode.ifPresent(Process::destroyForcibly);
        stopPostgres();
    }
}
