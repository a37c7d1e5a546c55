package calmstep.core.select;

import calmstep.core.version.Version;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a device shows to a selection.
 *
 * @param texts values by field; a field may have several
 * @param versions what it runs and what is wanted of it, where they can be read
 */
public record Shown(Map<Field, List<String>> texts, Map<Field, Version> versions) {
    List<String> all(Field field) {
        return texts.getOrDefault(field, List.of());
    }

    Optional<Version> version(Field field) {
        return Optional.ofNullable(versions.get(field));
    }
}
