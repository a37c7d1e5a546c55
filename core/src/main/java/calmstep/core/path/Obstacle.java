package calmstep.core.path;

import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.Release;
import java.util.List;

/** One thing that stands in the way of a move. */
public sealed interface Obstacle {
    /** A guard of the catalogue does not hold; {@code seen} is what the device has instead. */
    record BarredByRule(MovementRule rule, String seen) implements Obstacle {}

    /**
     * No published image of the release is for this hardware; {@code refusals} says why each
     * look-alike is not.
     */
    record NoImage(Release release, List<String> refusals) implements Obstacle {}

    record Withdrawn(Release release) implements Obstacle {}

    /** The move goes down, and no rule of the catalogue opens that way. */
    record WayDownNotDescribed(String from, String to) implements Obstacle {}

    /** The move goes to another software line, and no rule of the catalogue opens that way. */
    record OtherLine(String line, String wanted) implements Obstacle {}

    /** The file of the release would take another component down. */
    record WouldLower(String component, String from, String to) implements Obstacle {}

    /** The wanted release is not in the catalogue; {@code hint} names the nearest. */
    record UnknownRelease(String wanted, String hint) implements Obstacle {}

    /** What the device runs cannot be read with the family's version scheme. */
    record UnreadableVersion(String seen, String problem) implements Obstacle {}

    default String sentence() {
        return switch (this) {
            case BarredByRule(MovementRule rule, String seen) ->
                    "%s (%s, from %s); seen: %s"
                            .formatted(rule.sentence(), rule.id(), rule.source(), seen);
            case NoImage(Release release, List<String> refusals) ->
                    refusals.isEmpty()
                            ? "No upgrade image of %s is published".formatted(release.version())
                            : "No image of %s is for this device: %s"
                                    .formatted(release.version(), String.join("; ", refusals));
            case Withdrawn(Release release) ->
                    "%s was withdrawn by its maker".formatted(release.version());
            case WayDownNotDescribed(String from, String to) ->
                    "The catalogue describes no way down from %s to %s".formatted(from, to);
            case OtherLine(String line, String wanted) ->
                    "The catalogue describes no way from the software line %s to %s"
                            .formatted(line, wanted);
            case WouldLower(String component, String from, String to) ->
                    "Its file would take %s down from %s to %s".formatted(component, from, to);
            case UnknownRelease(String wanted, String hint) ->
                    "The release %s is not in the catalogue; %s".formatted(wanted, hint);
            case UnreadableVersion(String seen, String problem) ->
                    "The device says that it runs \"%s\": %s".formatted(seen, problem);
        };
    }

    default Reason reason() {
        return this instanceof BarredByRule(MovementRule rule, String _)
                ? new Reason(rule.id(), rule.sentence(), rule.source())
                : new Reason("catalogue", sentence(), "catalogue");
    }
}
