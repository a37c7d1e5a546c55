package calmstep.core.plan;

import calmstep.core.path.Obstacle;
import calmstep.core.path.Reason;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;

/** Something that a person should know about one device before a plan is approved. */
public sealed interface Concern {
    record NeverRead() implements Concern {}

    record NoCatalogue(String family) implements Concern {}

    record LoginWithoutSecret(String login) implements Concern {}

    record ReadLongAgo(Duration age) implements Concern {}

    record UnsavedChanges() implements Concern {}

    record BootChoiceNotSaved(String next) implements Concern {}

    record NextIsNotRunning(String running, String next) implements Concern {}

    record NoTarget(String policy) implements Concern {}

    record NoPath(String target, List<Obstacle> obstacles, Optional<String> highestReachable)
            implements Concern {}

    record AlreadyThere(String release) implements Concern {}

    record ImageNotOnShelf(String fileName, String release) implements Concern {}

    record ShortOfRoom(String fileName, long missingBytes) implements Concern {}

    record ImagesWillGo(List<String> fileNames) implements Concern {}

    /**
     * A hop that a path may hold and that no run can carry out yet; {@code what} says which part of
     * it.
     */
    record NotYetCarriedOut(String release, String what) implements Concern {}

    /** Its base is to send it its files, and nobody described how. */
    record CannotBeFed(String base) implements Concern {}

    /** Images are said to be on a medium in the device, and nobody described how it copies them. */
    record MediumOfNoUse(String medium) implements Concern {}

    record SteppingStone(String release, List<Reason> why) implements Concern {}

    /** No window holds it; the reason, and the cheapest change that would make it fit. */
    record FitsNowhere(String sentence) implements Concern {}

    /** A night in which this unit is what the end most often waits for. */
    record NightMayRunOver(LocalDate night, double chance, String step) implements Concern {}

    /** What the device sees beside it and what the inventory joins it with are not the same. */
    record NeighboursDiffer(String sentence) implements Concern {}

    record ToKnow(String release, String text) implements Concern {}
}
