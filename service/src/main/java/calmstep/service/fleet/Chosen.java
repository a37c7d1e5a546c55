package calmstep.service.fleet;

import calmstep.service.problems.Refusal;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Turns a selection into devices. What a selection can ask of them is known where their paths are.
 */
public interface Chosen {
    /**
     * @param where a selection; empty means all
     * @return names, in order
     */
    List<String> names(String where);

    /**
     * The devices that are named; where none are, those of a selection.
     *
     * @throws Refusal when no device is meant
     */
    default List<String> require(List<String> devices, @Nullable String where) {
        List<String> names = devices.isEmpty() ? names(where == null ? "" : where) : devices;
        if (names.isEmpty()) {
            throw Refusal.conflict("No device is meant by \"%s\".".formatted(where));
        }
        return names;
    }
}
