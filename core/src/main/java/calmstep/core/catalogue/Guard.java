package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;

/** What must hold before a move. */
public sealed interface Guard {
    /** The component itself must run a release in the range; this is what makes stepping stones. */
    record From(VersionRange range) implements Guard {}

    /** Another component must be at a release in the range first. */
    record Needs(String component, VersionRange range) implements Guard {}

    /** The hardware must be of this variant. */
    record OnlyOn(Variant variant) implements Guard {}

    /** The hardware must not be of this variant: the release dropped it. */
    record NeverOn(Variant variant) implements Guard {}

    /** The device must have support entitlement. */
    record Entitled() implements Guard {}
}
