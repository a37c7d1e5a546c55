package calmstep.core.step;

import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Reading;
import java.util.List;
import java.util.Objects;
import java.util.Optional;

/**
 * What a step leaves for the record.
 *
 * @param reading what the device showed
 * @param changes differences to the reading before the hop
 * @param configuration lines dropped and added since the backup of the hop, secrets masked
 * @param cautions what is odd but bearable, in words; a person accepts or refuses it
 */
public record Evidence(
        Optional<Reading> reading,
        List<Change> changes,
        Optional<ConfigurationComparison> configuration,
        List<String> cautions) {
    public static final Evidence NONE =
            new Evidence(Optional.empty(), List.of(), Optional.empty(), List.of());

    public Evidence {
        changes = List.copyOf(changes);
        // Evidence that was kept before anybody judged what is odd.
        cautions = List.copyOf(Objects.requireNonNullElse(cautions, List.of()));
    }

    public static Evidence of(Reading reading) {
        return new Evidence(Optional.of(reading), List.of(), Optional.empty(), List.of());
    }
}
