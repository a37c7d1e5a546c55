package calmstep.core.window;

import java.time.Duration;
import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;

/**
 * How much may be in work at once.
 *
 * @param atOnce      units over all
 * @param perSite     units at one site
 * @param perFamily   units of one family
 * @param sitesANight by kind of site: how many sites of it in one night
 * @param pilots      units of each kind (model, role and path) that go first
 * @param soak        how long the pilots are watched before the rest of their kind
 */
public record Limits(int atOnce, int perSite, int perFamily, Map<String, Integer> sitesANight, int pilots, Duration soak) {
    /** Where nobody said anything: careful, and the same for all. */
    public static final Limits USUAL = new Limits(10, 2, 6, Map.of(), 1, Duration.ofHours(12));

    public Limits {
        sitesANight = Collections.unmodifiableMap(new TreeMap<>(sitesANight));
        if (atOnce < 1 || perSite < 1 || perFamily < 1 || pilots < 0 || soak.isNegative()) {
            throw new IllegalArgumentException("Expected limits of at least one, saw %d over all, %d a site, %d a family, %d pilots.".formatted(atOnce, perSite, perFamily, pilots));
        }
    }
}
