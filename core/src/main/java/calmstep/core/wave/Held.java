package calmstep.core.wave;

import calmstep.core.step.Turn;
import java.time.Instant;
import java.time.LocalDate;

/** Why a part does not begin earlier than it does. */
public sealed interface Held {
    /** It begins with the first window that holds it. */
    record FirstWindow() implements Held {}

    record AfterPilots(String likeness, Instant soakedBy) implements Held {}

    record AfterOwnPart(int part) implements Held {}

    record Staging(Instant until) implements Held {}

    record Pinned(LocalDate night) implements Held {}

    /** What it cuts off goes first. */
    record FartherFirst(String unit) implements Held {}

    /** Never in work together with the other one: it cuts this one off, or stands in for it. */
    record NotBeside(String unit) implements Held {}

    record Full(Limit limit) implements Held {}

    /** Nothing but the choice of fewer nights, or of an order that ends earlier over all. */
    record ForTheWhole() implements Held {}

    /**
     * @return the reason as the end of "It begins at … because"
     */
    default String sentence() {
        return switch (this) {
            case FirstWindow() -> "it is the first window that holds it";
            case AfterPilots(String _, Instant by) ->
                    "the pilots of its kind are watched until %s".formatted(Turn.words(by));
            case AfterOwnPart(int part) -> "part %s of its path goes before".formatted(part);
            case Staging(Instant until) ->
                    "its images are there by %s".formatted(Turn.words(until));
            case Pinned(LocalDate night) -> "it was pinned to the night of %s".formatted(night);
            case FartherFirst(String unit) -> "%s lies behind it and goes first".formatted(unit);
            case NotBeside(String unit) -> "it is never in work together with %s".formatted(unit);
            case Full(Limit limit) -> limit.sentence();
            case ForTheWhole() ->
                    "earlier would not end the whole earlier, or would take one night more";
        };
    }
}
