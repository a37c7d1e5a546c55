package calmstep.core.path;

import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.Optional;

/** The digit of one component. */
record Digit(String component, int place, List<Version> versions, long weight) {
    int radix() {
        return versions.size() + 1;
    }

    int of(long state) {
        return (int) (state / weight % radix());
    }

    /** The index of a version; negative when the digit does not have it. */
    int index(Version version) {
        return Collections.binarySearch(versions, version) + 1;
    }

    Optional<Version> version(int index) {
        return index == 0 ? Optional.empty() : Optional.of(versions.get(index - 1));
    }

    /** The indices of the versions in a range. */
    BitSet in(VersionRange range) {
        BitSet indices = new BitSet(radix());
        for (int i = 0; i < versions.size(); i++) {
            indices.set(i + 1, range.contains(versions.get(i)));
        }
        return indices;
    }
}
