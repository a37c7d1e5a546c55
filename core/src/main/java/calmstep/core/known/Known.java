package calmstep.core.known;

import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Looks a value up that must be there: its absence is a fault of ours, not of the input. */
public final class Known {
    private Known() {}

    /**
     * @throws IllegalStateException where nothing is known by the key; it names both
     */
    public static <K, V> V known(Map<K, ? extends @Nullable V> values, K key) {
        V value = values.get(key);
        if (value == null) {
            throw new IllegalStateException(
                    "Expected %s to be known; known are %s".formatted(key, values.keySet()));
        }
        return value;
    }
}
