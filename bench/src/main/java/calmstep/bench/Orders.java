package calmstep.bench;

import calmstep.core.order.RollingSearch;
import calmstep.core.order.UnitShape;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The order in a stack of 8 members over 4 hops, all releases side by side: the largest search
 * there is for such a unit.
 */
final class Orders {
    private static final int WARM_UP = 60;
    private static final int RUNS = 21;

    private Orders() {}

    static List<Figure> take() {
        List<String> members = IntStream.rangeClosed(1, 8).mapToObj(i -> "member " + i).toList();
        List<Version> path =
                IntStream.rangeClosed(0, 4)
                        .mapToObj(i -> VersionScheme.ANY.parse("6." + i))
                        .toList();
        UnitShape shape =
                new UnitShape(
                        members,
                        "member 1",
                        1,
                        Duration.ofMinutes(4),
                        Duration.ofMinutes(6),
                        Duration.ofSeconds(8),
                        Duration.ofSeconds(60));
        List<Double> times = new ArrayList<>();
        for (int run = 0; run < WARM_UP + RUNS; run++) {
            long start = System.nanoTime();
            if (RollingSearch.of(shape, path, (_, _) -> true).moves().isEmpty()) {
                throw new IllegalStateException("There is something to do in this unit");
            }
            times.add((System.nanoTime() - start) / 1e6);
        }
        return List.of(
                new Figure(
                        "stack-order",
                        Paths.median(times.subList(WARM_UP, times.size())),
                        "ms",
                        5));
    }
}
