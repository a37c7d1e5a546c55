package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;

/**
 * A rule about moves of one component to the releases in a range.
 *
 * @param id        identifier that reasons name, for example {@code osmer/settings-28}
 * @param component the component that moves
 * @param to        the releases that the rule speaks of
 * @param guard     what must hold
 * @param opensDown whether the rule opens the way down to {@code to} (upwards is open unless guarded)
 * @param source    the note that the rule comes from
 * @param sentence  the rule for people
 */
public record MovementRule(
        String id, String component, VersionRange to, Guard guard, boolean opensDown, String source, String sentence) {}
