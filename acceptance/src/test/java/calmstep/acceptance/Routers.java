package calmstep.acceptance;

import java.io.IOException;
import java.nio.file.Files;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * Branch routers that are alike but for their names, to be played and to be imported.
 *
 * @param runs the release that one of them runs, by its name
 * @param startsIn seconds of a start, on their clock
 * @param copiesAt bytes a second of a copy, on their clock
 */
record Routers(List<String> names, UnaryOperator<String> runs, int startsIn, int copiesAt) {
    /** Stands in the configuration of each. */
    static final String SECRET = "9c41d07be2";

    private static String address(int number) {
        return "127.40.9.%s".formatted(number + 1);
    }

    /** As a practice fleet with the demo's images. */
    String fleet() throws IOException {
        String demo = Files.readString(House.TOP.resolve("demo/practice-fleet.yaml"));
        return demo.substring(0, demo.indexOf("machines:"))
                + "machines:\n"
                + IntStream.range(0, names.size())
                        .mapToObj(this::machine)
                        .collect(Collectors.joining());
    }

    private String machine(int number) {
        String name = names.get(number);
        String running = "osmer-r6c-%s.img".formatted(runs.apply(name));
        String fallback =
                running.equals("osmer-r6c-2.4.0.img")
                        ? "osmer-r6c-2.2.1.img"
                        : "osmer-r6c-2.4.0.img";
        return """
          - { name: %s, family: osmer-r6, address: %s, model: R6-4, revision: C, serial: OS6-3%s, user: steward, password: %s, flash-bytes: 60000000,
              files: [%s, %s], running: %5$s, fallback: %6$s, starts-in: %s s, copies-at-bytes-per-second: %s, links: { ge0: up }, neighbours: { sw-1: up }, settings: "name %1$s\\npeople\\n  person steward secret %9$s\\n" }
        """
                .formatted(
                        name,
                        address(number),
                        100 + number,
                        House.DEVICE_PASSWORD,
                        running,
                        fallback,
                        startsIn,
                        copiesAt,
                        SECRET);
    }

    /**
     * Their lines of an inventory.
     *
     * @param site of one of them, by its name
     */
    String devices(UnaryOperator<String> site) {
        return IntStream.range(0, names.size())
                .mapToObj(
                        number ->
                                "  - { name: %s, family: osmer-r6, model: R6-4, revision: C, serial: OS6-3%s, site: %s, address: %s, port: 2022, console-port: 2023, login: steward, serves: the ticket hall }\n"
                                        .formatted(
                                                names.get(number),
                                                100 + number,
                                                site.apply(names.get(number)),
                                                address(number)))
                .collect(Collectors.joining());
    }
}
