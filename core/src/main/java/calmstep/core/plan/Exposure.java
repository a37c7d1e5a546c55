package calmstep.core.plan;

import calmstep.core.catalogue.Advisory;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.version.VersionScheme;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Which published faults a device has. */
public final class Exposure {
    private Exposure() {}

    /**
     * The advisories that speak of what a device is and runs, the worst first. A component whose
     * release cannot be read is exposed to nothing that could be named; its path says so.
     *
     * @param runs release by component, as the device or its inventory line writes it
     */
    public static List<Advisory> of(Device device, Map<String, String> runs, Catalogue catalogue) {
        return catalogue.advisories().stream()
                .filter(
                        advisory ->
                                advisory.on().covers(device.hardware())
                                        && affects(advisory, runs, catalogue))
                .sorted(
                        Comparator.comparing(Advisory::severity)
                                .reversed()
                                .thenComparing(Advisory::id))
                .toList();
    }

    private static boolean affects(
            Advisory advisory, Map<String, String> runs, Catalogue catalogue) {
        VersionScheme scheme =
                catalogue.schemes().getOrDefault(advisory.component(), VersionScheme.ANY);
        return Optional.ofNullable(runs.get(advisory.component()))
                .map(
                        text -> {
                            try {
                                return advisory.affects().contains(scheme.parse(text));
                            } catch (IllegalArgumentException unreadable) {
                                return false;
                            }
                        })
                .orElse(false);
    }
}
