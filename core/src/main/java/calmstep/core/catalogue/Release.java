package calmstep.core.catalogue;

import calmstep.core.version.Version;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * One release of one component.
 *
 * @param component the component whose version it is
 * @param brings other components that the same file sets, with the release that they get
 * @param line the software line that it belongs to; empty in a family that has one
 * @param recommended whether the maker recommends it
 * @param mayRest whether a device may stay on it until a later window
 * @param notes what the maker says of it, for people
 * @param fixes advisories and faults that it mends, as the maker names them
 * @param caveats what must be known before it is installed, for people
 */
public record Release(
        String component,
        Version version,
        String line,
        Channel channel,
        LocalDate date,
        boolean recommended,
        boolean mayRest,
        SortedMap<String, Version> brings,
        List<String> notes,
        List<String> fixes,
        List<String> caveats,
        List<FirmwareImage> images) {
    public Release {
        brings = java.util.Collections.unmodifiableSortedMap(new TreeMap<>(brings));
        notes = List.copyOf(notes);
        fixes = List.copyOf(fixes);
        caveats = List.copyOf(caveats);
        images = List.copyOf(images);
    }

    /** The state of a device after this release was installed on one that was in {@code before}. */
    public SortedMap<String, Version> appliedTo(Map<String, Version> before) {
        SortedMap<String, Version> after = new TreeMap<>(before);
        after.put(component, version);
        after.putAll(brings);
        return after;
    }
}
