package calmstep.bench;

import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * A practice fleet of any size with small images, and its inventory: each machine at an address of
 * its own, the families taking turns.
 *
 * @param name what their names begin with
 * @param block second number of their addresses
 * @param count how many machines
 * @param pace how much faster than ours their clocks run
 * @param kinds what they are
 * @param quick how many of them, the last ones, start and copy in a moment: to warm a service up
 */
record Crowd(String name, int block, int count, int pace, List<Kind> kinds, int quick) {
    private static final int SITES = 100;
    static final int STARTS_IN = 210;
    static final int COPIES_IN = 75;
    static final int IMAGE_BYTES = 240_000;
    private static final int ADDRESSES_A_BLOCK = 200;

    /**
     * A family as the bench plays it.
     *
     * @param port at which it is spoken to
     * @param machine further keys of a machine, {@code %1$s} for its number
     * @param images its images; the first one runs where {@code machine} does not say
     */
    private record Kind(
            String family, int port, String login, String machine, List<String> images) {}

    private static final Kind OSMER =
            new Kind(
                    "osmer-r6",
                    2022,
                    "many",
                    "model: R6-4, revision: C, files: [many.img], running: many.img",
                    List.of("file: many.img, version: 2.4.0, revisions: [C]"));

    private static final List<Kind> EIGHT =
            List.of(
                    OSMER,
                    new Kind(
                            "tarnel-t2",
                            2022,
                            "many",
                            "model: T2-48, revision: any, members: [M%1$s, M%1$s-2], loader: '1.9',"
                                    + " files: [many-t2.bin], running: many-t2.bin",
                            List.of(
                                    "file: many-t2.bin, version: 6.1.0, revisions: [any], variant:"
                                            + " T2-48, needs-loader: 1.9")),
                    new Kind(
                            "quoyle-q4",
                            2022,
                            "many",
                            "model: Q4-32, revision: any, files: [many-upper.img, many-lower.img],"
                                    + " running: many-upper.img + many-lower.img",
                            List.of(
                                    "file: many-upper.img, version: 10.04, revisions: [any],"
                                            + " variant: upper",
                                    "file: many-lower.img, version: 10.04, revisions: [any],"
                                            + " variant: lower")),
                    new Kind(
                            "brannoch-b2",
                            2022,
                            "many",
                            "model: B2-200, revision: any, members: [M%1$s, M%1$s-2], files:"
                                    + " [many-b2.pkg], running: many-b2.pkg, licences: { filter:"
                                    + " 2027-06-30 }",
                            List.of(
                                    "file: many-b2.pkg, version: 11.0 build 377, revisions:"
                                            + " [any]")),
                    new Kind(
                            "ivrel-c5",
                            2022,
                            "many",
                            "model: C5, revision: any, variant: base, files: [many-c5.fw], running:"
                                    + " many-c5.fw, licences: { points 30: 2027-03-31 }",
                            List.of(
                                    "file: many-c5.fw, version: 8.5.3, revisions: [any], variant:"
                                            + " base")),
                    new Kind(
                            "corvane-v8",
                            2022,
                            "many",
                            "model: V8, revision: any, files: [many-v8.v8], running: many-v8.v8,"
                                    + " licences: { voices 60: 2027-12-31 }",
                            List.of("file: many-v8.v8, version: '2025.09', revisions: [any]")),
                    new Kind(
                            "wending-m2",
                            2443,
                            "many",
                            "model: M2, revision: '2', variant: eu, files: [many-m2.bin], running:"
                                    + " many-m2.bin",
                            List.of(
                                    "file: many-m2.bin, version: 3.4.1, revisions: [2], variant:"
                                            + " eu")),
                    new Kind(
                            "skelda-l4",
                            2061,
                            "radio",
                            "model: L4, revision: any, variant: north, snmp: v3, files:"
                                    + " [many-l4.rad], running: many-l4.rad",
                            List.of(
                                    "file: many-l4.rad, version: r47, revisions: [any], variant:"
                                            + " north")));

    static Crowd ofRouters(int count) {
        return new Crowd("router", 41, count, 60, List.of(OSMER), 0);
    }

    static Crowd ofAllFamilies(int count) {
        return new Crowd("crowd", 42, count, 60, EIGHT, 0);
    }

    /**
     * Routers that take their real time: {@value #STARTS_IN} s for a start, about {@value
     * #COPIES_IN} s for a copy; behind them some more that take none.
     */
    static Crowd ofPatientRouters(int patient, int quick) {
        return new Crowd(
                "unit",
                43,
                patient + quick,
                1,
                List.of(
                        new Kind(
                                "osmer-r6",
                                2022,
                                "many",
                                "model: R6-4, revision: C, files: [many.img], running: many.img",
                                List.of(
                                        "file: many.img, version: 2.4.0, revisions: [C]",
                                        "file: many-next.img, version: 2.6.3, revisions: [C]"))),
                quick);
    }

    private String times(int number) {
        if (pace > 1) {
            return "";
        }
        return number < count - quick
                ? ", starts-in: %s s, copies-at-bytes-per-second: %s"
                        .formatted(STARTS_IN, IMAGE_BYTES / COPIES_IN)
                : ", starts-in: 2 s, copies-at-bytes-per-second: %s".formatted(IMAGE_BYTES);
    }

    private Kind kind(int number) {
        return kinds.get(number % kinds.size());
    }

    private String address(int number) {
        return "127.%s.%s.%s"
                .formatted(block, number / ADDRESSES_A_BLOCK, number % ADDRESSES_A_BLOCK + 1);
    }

    String fleet() {
        StringBuilder text =
                new StringBuilder(
                        """
                        practice-fleet: 1
                        pace: %s
                        ssh-port: 2022
                        console-port: 2023
                        https-port: 2443
                        snmp: { port: 2061, community: many-reads, user: watcher, password: practice-only-7714, privacy-password: practice-only-8830 }
                        images:
                        """
                                .formatted(pace));
        kinds.forEach(
                kind ->
                        kind.images()
                                .forEach(
                                        image ->
                                                text.append(
                                                        "  - { %s, family: %s, size-bytes: %s }\n"
                                                                .formatted(
                                                                        image,
                                                                        kind.family(),
                                                                        pace == 1
                                                                                ? IMAGE_BYTES
                                                                                : 20_000))));
        text.append("machines:\n");
        for (int number = 0; number < count; number++) {
            text.append(
                    "  - { name: %5$s-%1$s, family: %2$s, address: %3$s, serial: M%1$s, user: steward, password: practice-only-5521, flash-bytes: 1000000, settings: \"name %5$s-%1$s\", %4$s%6$s }\n"
                            .formatted(
                                    number,
                                    kind(number).family(),
                                    address(number),
                                    kind(number).machine().formatted(number),
                                    name,
                                    times(number)));
        }
        return text.toString();
    }

    String inventory() {
        StringBuilder text = new StringBuilder("inventory: 1\nsites:\n");
        IntStream.range(0, SITES)
                .forEach(
                        site ->
                                text.append(
                                        "  - { name: many-%s, title: Many %s, zone: Europe/Lisbon }\n"
                                                .formatted(site, site)));
        text.append("devices:\n");
        IntStream.range(0, count).forEach(number -> addDevice(number, text));
        return text.toString();
    }

    private void addDevice(int number, StringBuilder text) {
        text.append(
                "  - { name: %7$s-%1$s, family: %2$s, serial: M%1$s, site: many-%3$s, role: device, address: %4$s, port: %5$s, login: %6$s }\n"
                        .formatted(
                                number,
                                kind(number).family(),
                                number % SITES,
                                address(number),
                                kind(number).port(),
                                kind(number).login(),
                                name));
    }

    /** All their names, as JSON. */
    String names() {
        return names(0, count);
    }

    /** Some of their names, as JSON. */
    String names(int from, int until) {
        return IntStream.range(from, until)
                .mapToObj(number -> "\"%s-%s\"".formatted(name, number))
                .collect(Collectors.joining(",", "[", "]"));
    }

    /** Names of a few, one of each kind in turn, each as JSON. */
    List<String> some() {
        return IntStream.range(0, Math.max(8, kinds.size()))
                .mapToObj(number -> "[\"%s-%s\"]".formatted(name, number))
                .toList();
    }
}
