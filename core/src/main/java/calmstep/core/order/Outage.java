package calmstep.core.order;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.path.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * For how long nobody is served: the one figure that path, plan, nights, gate, mail and record
 * tell. Of a unit whose members restart one after the other it is its hand-overs alone.
 */
public final class Outage {
    /** From here on people count in minutes. */
    private static final Duration IN_MINUTES = Duration.ofSeconds(90);

    private Outage() {}

    /**
     * Of each hop of a path; a hand-over belongs to the hop that it prepares.
     *
     * @return in the order of the hops
     */
    public static List<Duration> ofEach(Device device, Catalogue catalogue, Path path) {
        Optional<RollingOrder> order = UnitOrder.of(device, catalogue, path);
        return path.hops().stream()
                .map(
                        hop ->
                                UnitOrder.restarts(order, device, catalogue, hop)
                                        .map(UnitOrder.Restarts::dark)
                                        .orElse(hop.dark()))
                .toList();
    }

    /** Of several hops together. */
    public static Duration together(List<Duration> ofEach) {
        return ofEach.stream().reduce(Duration.ZERO, Duration::plus);
    }

    /** In words: seconds as long as people count in them, then minutes. */
    public static String words(Duration outage) {
        return outage.compareTo(IN_MINUTES) < 0
                ? outage.toSeconds() + " s"
                : Math.round(outage.toSeconds() / 60.0) + " min";
    }
}
