package calmstep.core.catalogue;

import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;

/**
 * Releases that members of one unit may run at the same time.
 *
 * @param source the note that says so
 */
public record SideBySide(VersionRange one, VersionRange other, String source) {
    public boolean holds(Version a, Version b) {
        return (one.contains(a) && other.contains(b)) || (one.contains(b) && other.contains(a));
    }
}
