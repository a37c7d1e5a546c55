package calmstep.service.runs;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * What was read once and does not change, up to so many of it; what was not asked for longest goes.
 * For several threads.
 */
final class Remembered<K, V> {
    private final Map<K, V> known;

    Remembered(int most) {
        known =
                new LinkedHashMap<>(most, 0.75f, true) {
                    @Override
                    protected boolean removeEldestEntry(Map.Entry<K, V> eldest) {
                        return size() > most;
                    }
                };
    }

    synchronized V of(K key, Function<K, V> read) {
        return known.computeIfAbsent(key, read);
    }

    synchronized Optional<V> find(K key) {
        return Optional.ofNullable(known.get(key));
    }

    synchronized void put(K key, V value) {
        known.put(key, value);
    }
}
