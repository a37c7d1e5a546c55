package calmstep.core.path;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Hardware;
import calmstep.core.version.Version;
import java.time.LocalDate;
import java.util.SortedMap;

/**
 * How does a device like this get from this state to that release?
 *
 * @param state        release of each component
 * @param component    the component that the target is of
 * @param today        for the age of releases
 * @param youngestDays a release younger than this counts as unproven
 */
public record Question(
        Catalogue catalogue,
        Hardware hardware,
        boolean entitled,
        SortedMap<String, Version> state,
        String component,
        Version target,
        Preference preference,
        LocalDate today,
        int youngestDays) {}
