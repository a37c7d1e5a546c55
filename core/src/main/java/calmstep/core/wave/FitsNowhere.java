package calmstep.core.wave;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;

/**
 * A unit that no window holds.
 *
 * @param part the part of its path that finds no place, counted from 1
 * @param change the cheapest change that would make it fit, tried on the very schedule that it is
 *     missing from
 */
public record FitsNowhere(String unit, String site, int part, Reason reason, Change change) {

    public sealed interface Reason {
        record NoWindow(Instant until) implements Reason {}

        record WindowsTooShort(Duration needs, Duration longest) implements Reason {}

        record StagedTooLate(Instant stagedBy, Instant until) implements Reason {}

        record NothingFree(Instant until) implements Reason {}

        record NotInThatNight(LocalDate night) implements Reason {}
    }

    public sealed interface Change {
        record StageAhead(Duration saves) implements Change {}

        record LongerWindow(Duration atLeast) implements Change {}

        record OneMore(Limit limit) implements Change {}

        record AnotherNight(LocalDate night) implements Change {}

        record ShorterSoak() implements Change {}

        record LookFurther(Instant until) implements Change {}
    }

    /** What was expected and seen, and what would help. */
    public String sentence() {
        return "%s %s.".formatted(why(), remedy());
    }

    private String why() {
        return switch (reason) {
            case Reason.NoWindow(Instant until) ->
                    "%s has no window before %s;".formatted(site, day(until));
            case Reason.WindowsTooShort(Duration needs, Duration longest) ->
                    "Part %s of %s needs %s min; the longest window at %s is %s min;"
                            .formatted(part, unit, needs.toMinutes(), site, longest.toMinutes());
            case Reason.StagedTooLate(Instant by, Instant until) ->
                    "The images of %s are there by %s only, over the link of %s; no window behind that holds it before %s;"
                            .formatted(unit, day(by), site, day(until));
            case Reason.NothingFree(Instant until) ->
                    "Every window at %s that would hold part %s of %s is taken before %s;"
                            .formatted(site, part, unit, day(until));
            case Reason.NotInThatNight(LocalDate night) ->
                    "%s does not fit into the night of %s;".formatted(unit, night);
        };
    }

    private String remedy() {
        return switch (change) {
            case Change.StageAhead(Duration saves) ->
                    "bringing the images of all its hops ahead would save %s min and make it fit"
                            .formatted(saves.toMinutes());
            case Change.LongerWindow(Duration atLeast) ->
                    "a window of at least %s min would hold it".formatted(atLeast.toMinutes());
            case Change.OneMore(Limit limit) ->
                    "it would fit if one more were allowed where %s".formatted(limit.sentence());
            case Change.AnotherNight(LocalDate night) ->
                    "it would fit into the night of %s".formatted(night);
            case Change.ShorterSoak() ->
                    "it would fit if the pilots were watched for a shorter time";
            case Change.LookFurther(Instant until) ->
                    "look further ahead than %s, or leave it out".formatted(day(until));
        };
    }

    private static String day(Instant at) {
        return at.toString().substring(0, 10);
    }
}
