package calmstep.bench;

import calmstep.core.reach.Link;
import calmstep.core.reach.Network;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * What each of 10,000 devices cuts off, with 15,000 links: the network built anew each time, and
 * every device asked.
 */
final class CutOffs {
    private static final int DEVICES = 10_000;
    private static final int LINKS = 15_000;
    private static final int WARM_UP = 10;
    private static final int RUNS = 11;

    private CutOffs() {}

    static List<Figure> take() {
        Random random = new Random(9);
        List<String> names =
                IntStream.range(0, DEVICES)
                        .mapToObj(i -> String.format(Locale.ROOT, "d%05d", i))
                        .toList();
        Set<Link> links = new LinkedHashSet<>();
        IntStream.range(1, DEVICES)
                .forEach(
                        i ->
                                links.add(
                                        new Link(
                                                names.get(i),
                                                names.get(i < 40 ? random.nextInt(i) : i / 25))));
        while (links.size() < LINKS) {
            int one = random.nextInt(DEVICES);
            links.add(
                    new Link(names.get(one), names.get((one + 1 + random.nextInt(40)) % DEVICES)));
        }
        List<Double> times = new ArrayList<>();
        for (int run = 0; run < WARM_UP + RUNS; run++) {
            long begun = System.nanoTime();
            Network network = Network.of(names, links, Set.of(names.getFirst()));
            long cut = names.stream().mapToLong(network::cutOffCount).sum();
            times.add((System.nanoTime() - begun) / 1e6);
            if (cut < DEVICES - 1) {
                throw new IllegalStateException(
                        "The root alone cuts off all others; counted " + cut);
            }
        }
        return List.of(
                new Figure(
                        "cut-off", Paths.median(times.subList(WARM_UP, times.size())), "ms", 100));
    }
}
