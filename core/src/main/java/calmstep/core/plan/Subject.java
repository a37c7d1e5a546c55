package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import java.util.Optional;
import java.util.Set;

/**
 * One device with what is known of it.
 *
 * @param shelf names of the verified images on the shelf
 * @param hasSecret whether its login has a password here
 * @param can what its family's dialect can do
 */
public record Subject(
        Device device,
        Optional<Reading> reading,
        Optional<Catalogue> catalogue,
        Set<String> shelf,
        boolean hasSecret,
        Abilities can) {}
