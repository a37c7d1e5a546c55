package calmstep.core.catalogue;

import calmstep.core.version.VersionRange;
import java.util.Set;

/**
 * A rule about moves of one component to the releases in a range.
 *
 * @param id identifier that reasons name, for example {@code osmer/settings-28}
 * @param component the component that moves
 * @param to the releases that the rule speaks of
 * @param guard what must hold
 * @param opens the ways to {@code to} that the rule opens while its guard holds; one such rule is
 *     enough, and it bars nothing by itself
 * @param source the note that the rule comes from
 * @param sentence the rule for people
 */
public record MovementRule(
        String id,
        String component,
        VersionRange to,
        Guard guard,
        Set<Way> opens,
        String source,
        String sentence) {
    /**
     * Ways that are shut unless a rule opens them: a move up within a software line is open unless
     * guarded.
     */
    public enum Way {
        /** To an older release. */
        DOWN,
        /** To another software line. */
        LINE
    }

    public MovementRule {
        opens = Set.copyOf(opens);
    }
}
