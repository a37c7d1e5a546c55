package calmstep.core.wave;

import calmstep.core.window.Limits;
import calmstep.core.window.Window;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What is to be scheduled.
 *
 * @param from           nothing begins earlier, no image is brought earlier
 * @param until          how far windows are looked at
 * @param windows        by site, in order, none touching another
 * @param kindOf         kind by site
 * @param bytesPerSecond by site: what all transfers to it together may take
 */
public record WaveTask(Instant from, Instant until, List<WaveUnit> units, Map<String, List<Window>> windows, Map<String, String> kindOf, Map<String, Long> bytesPerSecond, Limits limits,
        Wishes wishes) {
    public WaveTask {
        units = List.copyOf(units);
        windows = Map.copyOf(windows);
        kindOf = Map.copyOf(kindOf);
        bytesPerSecond = Map.copyOf(bytesPerSecond);
    }

    public WaveTask withWishes(Wishes others) {
        return new WaveTask(from, until, units, windows, kindOf, bytesPerSecond, limits, others);
    }
}
