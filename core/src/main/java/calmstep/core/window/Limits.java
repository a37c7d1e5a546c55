package calmstep.core.window;

import java.time.Duration;
import java.util.Collections;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;

/**
 * How much may be in work at once, and what is too much trouble.
 *
 * @param atOnce units over all
 * @param perSite units at one site
 * @param perFamily units of one family
 * @param sitesANight by kind of site: how many sites of it in one night
 * @param pilots units of each kind (model, role and path) that go first
 * @param soak how long the pilots are watched before the rest of their kind
 * @param watch how each unit is watched, and when a run is held by itself
 */
public record Limits(
        int atOnce,
        int perSite,
        int perFamily,
        Map<String, Integer> sitesANight,
        int pilots,
        Duration soak,
        Watch watch) {
    /** Where nobody said anything: careful, and the same for all. */
    public static final Limits USUAL =
            new Limits(10, 2, 6, Map.of(), 1, Duration.ofHours(12), Watch.USUAL);

    /**
     * @param each how long each unit is looked at again behind its last proof, on the devices'
     *     clock
     * @param stopAt so many units that get stuck hold their run
     * @param stopAtPercent so large a share of a run's units holds it as well, from the second
     *     stuck one on; 100 for no such rule
     */
    public record Watch(Duration each, int stopAt, int stopAtPercent) {
        public static final Watch USUAL = new Watch(Duration.ofMinutes(5), 5, 100);

        /**
         * Whether it is too much.
         *
         * @param stuck units that got stuck since a person last let the run go on
         * @param units of the run
         * @return why the run is held; empty where it goes on
         */
        public Optional<String> whyStop(int stuck, int units) {
            if (stuck >= stopAt) {
                return Optional.of(
                        "%s of its %s units got stuck, and no more than %s may"
                                .formatted(stuck, units, stopAt - 1));
            }
            return stopAtPercent == 100 || stuck < 2 || stuck * 100L < (long) stopAtPercent * units
                    ? Optional.empty()
                    : Optional.of(
                            "%s of its %s units got stuck, that is %s %%, and it stops at %s %%"
                                    .formatted(stuck, units, stuck * 100L / units, stopAtPercent));
        }
    }

    /** With the usual watch. */
    public Limits(
            int atOnce,
            int perSite,
            int perFamily,
            Map<String, Integer> sitesANight,
            int pilots,
            Duration soak) {
        this(atOnce, perSite, perFamily, sitesANight, pilots, soak, Watch.USUAL);
    }

    public Limits {
        // Limits that were kept before anybody was watched.
        watch = Objects.requireNonNullElse(watch, Watch.USUAL);
        sitesANight = Collections.unmodifiableMap(new TreeMap<>(sitesANight));
        if (atOnce < 1 || perSite < 1 || perFamily < 1 || pilots < 0 || soak.isNegative()) {
            throw new IllegalArgumentException(
                    "Expected limits of at least one, saw %s over all, %s a site, %s a family, %s pilots."
                            .formatted(atOnce, perSite, perFamily, pilots));
        }
    }
}
