package calmstep.core.path;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Hardware;
import java.time.LocalDate;

/**
 * A kind of device and what is wanted of its paths: everything of a question but where the device
 * stands and where it is to go. Devices of one kind share a search.
 *
 * @param today for the age of releases
 * @param youngestDays a release younger than this counts as unproven
 */
public record Kind(
        Catalogue catalogue,
        Hardware hardware,
        boolean entitled,
        Preference preference,
        LocalDate today,
        int youngestDays) {}
