package calmstep.core.wave;

import java.time.LocalDate;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * What a person wants of the waves.
 *
 * @param nights    units that are pinned to the night of a date: with their whole path, by the clocks of their sites
 * @param excluded  units that stay as they are
 * @param siteOrder sites that go before all others, in this order
 */
public record Wishes(Map<String, LocalDate> nights, Set<String> excluded, List<String> siteOrder) {
    public static final Wishes NONE = new Wishes(Map.of(), Set.of(), List.of());

    public Wishes {
        nights = Collections.unmodifiableMap(new TreeMap<>(nights));
        excluded = Collections.unmodifiableSet(new TreeSet<>(excluded));
        siteOrder = List.copyOf(siteOrder);
    }
}
