package calmstep.core.step;

import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Reading;
import java.util.List;
import java.util.Optional;

/**
 * What a step leaves for the record.
 *
 * @param reading       what the device showed
 * @param changes       differences to the reading before the hop
 * @param configuration lines dropped and added since the backup of the hop, secrets masked
 */
public record Evidence(Optional<Reading> reading, List<Change> changes, Optional<ConfigurationComparison> configuration) {
    public static final Evidence NONE = new Evidence(Optional.empty(), List.of(), Optional.empty());

    public Evidence {
        changes = List.copyOf(changes);
    }

    public static Evidence of(Reading reading) {
        return new Evidence(Optional.of(reading), List.of(), Optional.empty());
    }
}
