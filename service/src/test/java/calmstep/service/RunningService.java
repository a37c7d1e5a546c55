package calmstep.service;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Reading;
import calmstep.service.fleet.Fleet;
import calmstep.service.releases.Catalogues;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.springframework.boot.SpringApplication;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The whole service in this process, on a PostgreSQL of its own, started once for all tests of the
 * module. Its devices are silent: nobody listens at their addresses, so what tests say of devices
 * are readings that they keep themselves.
 */
public final class RunningService {
    private static final Path TOP = Path.of("").toAbsolutePath().getParent();

    /** Two processes may share the module's tests; each has its own ports and data. */
    private static final int SHARD = Integer.getInteger("calmstep.shard", 0);

    private static final Path HOME = TOP.resolve("build/test-service-" + SHARD);
    private static final int DATABASE_PORT = port(16);
    private static final ConfigurableApplicationContext CONTEXT = start();
    private static final AtomicInteger NEXT = new AtomicInteger();

    private RunningService() {}

    private static ConfigurableApplicationContext start() {
        shell(
                "need_postgres; pg_stop %1$s/postgres; rm -rf %1$s; pg_start %1$s/postgres %2$s"
                        .formatted(HOME, DATABASE_PORT));
        Runtime.getRuntime()
                .addShutdownHook(new Thread(() -> shell("pg_stop %s/postgres".formatted(HOME))));
        try {
            String password = Files.readString(HOME.resolve("postgres/password")).strip();
            ConfigurableApplicationContext context =
                    SpringApplication.run(
                            CalmStep.class,
                            "--spring.datasource.url=jdbc:postgresql://127.0.0.1:%s/calmstep"
                                    .formatted(DATABASE_PORT),
                            "--spring.datasource.password=" + password,
                            "--server.port=" + port(10),
                            "--calmstep.shelf.http-port=" + port(11),
                            "--calmstep.shelf.tftp-port=" + port(12),
                            "--calmstep.shelf.sftp-port=" + port(13),
                            "--calmstep.data=" + HOME.resolve("data"),
                            "--calmstep.dialects=" + TOP.resolve("demo/dialects"),
                            "--spring.main.banner-mode=off");
            context.getBean(Catalogues.class).take("osmer-r6.yaml", demoCatalogue(), "test");
            return context;
        } catch (IOException noDatabase) {
            throw new UncheckedIOException(noDatabase);
        }
    }

    private static void shell(String script) {
        try {
            Process process =
                    new ProcessBuilder("bash", "-c", "mkdir -p build; . bin/lib/common; " + script)
                            .directory(TOP.toFile())
                            .redirectErrorStream(true)
                            .redirectOutput(
                                    ProcessBuilder.Redirect.appendTo(
                                            TOP.resolve("build/test-service.log").toFile()))
                            .start();
            if (process.waitFor() != 0) {
                throw new IllegalStateException(
                        "\"%s\" failed; see build/test-service.log".formatted(script));
            }
        } catch (IOException broken) {
            throw new UncheckedIOException(broken);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    /** Where its interface answers. */
    public static String url() {
        return "http://127.0.0.1:" + port(10);
    }

    private static int port(int which) {
        return 18000 + 400 * SHARD + which;
    }

    public static <T> T bean(Class<T> type) {
        return CONTEXT.getBean(type);
    }

    public static JdbcTemplate sql() {
        return bean(JdbcTemplate.class);
    }

    public static void inTransaction(Runnable work) {
        bean(TransactionTemplate.class).executeWithoutResult(_ -> work.run());
    }

    public static String demoCatalogue() throws IOException {
        return Files.readString(TOP.resolve("demo/catalogue/osmer-r6.yaml"));
    }

    /** A name that no other test has. */
    public static String name(String stem) {
        return stem + "-" + NEXT.incrementAndGet();
    }

    /**
     * Imports one router of the family Osmer R6 under a name of its own, as an inventory line with
     * {@code more} behind it; gives the name.
     */
    public static String router(String... more) {
        int number = NEXT.incrementAndGet();
        String name = "rt-%s".formatted(number);
        bean(Fleet.class)
                .take(
                        "inventory.yaml",
                        inventory(
                                name,
                                "127.77.%s.%s".formatted(number / 250, number % 250 + 1),
                                more),
                        InventoryText.Format.YAML,
                        false,
                        "test");
        return name;
    }

    public static String inventory(String name, String address, String... more) {
        return """
        inventory: 1
        sites: [{ name: dunmere, title: Dunmere, zone: Europe/Lisbon }]
        devices:
          - { name: %s, family: osmer-r6, model: R6-4, revision: C, site: dunmere, address: %s, port: 18019, login: steward%s }
        """
                .formatted(name, address, more.length == 0 ? "" : ", " + String.join(", ", more));
    }

    /** A reading of a router that runs a release, with everything saved and room for any image. */
    public static Reading reading(String release, Reading.Fact... more) {
        String file = "osmer-r6c-%s.img".formatted(release);
        return new Reading(
                Instant.now(),
                new Reading.Identity("rt", "R6-4", "C", "OS6-1"),
                new TreeMap<>(Map.of(Catalogue.SYSTEM, release)),
                new Reading.BootChoice(file, file, "", true),
                "7",
                List.of(
                        new Reading.Volume(
                                "flash",
                                90_000_000,
                                70_000_000,
                                List.of(new Reading.StoredFile(file, 9_000_000)))),
                false,
                "0".repeat(64),
                Stream.concat(
                                Stream.of(new Reading.Fact("interface", "lan0", "up")),
                                Stream.of(more))
                        .toList());
    }

    /** Keeps a reading of a device, as if it had been asked. */
    public static void keep(String device, Reading reading) {
        Fleet fleet = bean(Fleet.class);
        fleet.keep(fleet.require(device).id(), reading);
    }
}
