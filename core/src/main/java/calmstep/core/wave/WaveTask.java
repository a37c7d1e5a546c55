package calmstep.core.wave;

import calmstep.core.window.Limits;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What is to be scheduled.
 *
 * @param from nothing begins earlier, no image is brought earlier
 * @param until how far windows are looked at
 * @param windows by site, in order, none touching another
 * @param kindOf kind by site
 * @param links by site; no entry where transfers to it are not limited
 */
public record WaveTask(
        Instant from,
        Instant until,
        List<WaveUnit> units,
        Map<String, List<Window>> windows,
        Map<String, String> kindOf,
        Map<String, SiteLink> links,
        Limits limits,
        Wishes wishes) {
    public WaveTask {
        units = List.copyOf(units);
        windows = Map.copyOf(windows);
        kindOf = Map.copyOf(kindOf);
        links = Map.copyOf(links);
    }

    public WaveTask withWishes(Wishes others) {
        return new WaveTask(from, until, units, windows, kindOf, links, limits, others);
    }
}
