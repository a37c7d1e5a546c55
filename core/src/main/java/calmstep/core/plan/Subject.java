package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import java.util.Optional;
import java.util.Set;

/**
 * One device with what is known of it.
 *
 * @param written it as the inventory has it
 * @param shelf names of the verified images on the shelf
 * @param hasSecret whether its login has a password here
 * @param can what its family's dialect can do
 */
public record Subject(
        Device written,
        Optional<Reading> reading,
        Optional<Catalogue> catalogue,
        Set<String> shelf,
        boolean hasSecret,
        Abilities can) {
    /** It as it shows itself, where it was read. */
    public Device device() {
        return reading.map(written::asShown).orElse(written);
    }
}
