package calmstep.core.plan;

import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.path.Obstacle;
import calmstep.core.path.Reason;
import calmstep.core.step.Turn;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** Something that a person should know about one device before a plan is approved. */
public interface Concern {
    /** In words, of a device: each concern has its own. */
    Finding about(String device);

    record NeverRead() implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device, "never-read", "%s was never read.".formatted(device), "Read it first.");
        }
    }

    record NoCatalogue(String family) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "no-catalogue",
                    "No catalogue of %s is here.".formatted(family),
                    "Import the family's catalogue file.");
        }
    }

    record LoginWithoutSecret(String login) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "no-secret",
                    "The login \"%s\" has no password here.".formatted(login),
                    "Give it one.");
        }
    }

    record ReadLongAgo(Duration age) implements Concern {
        private String words() {
            return age.toDays() > 0
                    ? age.toDays() + " days"
                    : age.toHours() > 0 ? age.toHours() + " h" : age.toMinutes() + " min";
        }

        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "read-long-ago",
                    "%s was read %s ago.".formatted(device, words()),
                    "Read it again, or accept what was seen then.");
        }
    }

    record UnsavedChanges() implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.caution(
                    device,
                    "unsaved-changes",
                    "%s runs changes that were not saved; a restart would lose them."
                            .formatted(device),
                    "Save them first, or leave the device out.",
                    Choice.SAVE_FIRST,
                    Choice.LEAVE_OUT);
        }
    }

    /**
     * What the device says of its health. A unit that lacks one of its own is not begun; a licence
     * that ends later informs.
     */
    record Unwell(Ailment ailment) implements Concern {
        @Override
        public Finding about(String device) {
            String fact = "%s: %s.".formatted(device, ailment.sentence());
            return switch (ailment) {
                case Ailment.OutOfStep part when part.standsIn() ->
                        Finding.stop(
                                device,
                                "out-of-step-" + part.name(),
                                fact,
                                "Bring it back into step and read the device again; nothing"
                                        + " restarts as long as nobody could take over.");
                case Ailment.OutOfStep part -> unwell(device, "out-of-step-" + part.name(), fact);
                case Ailment.NotWell sick ->
                        unwell(device, "not-well-%s-%s".formatted(sick.kind(), sick.name()), fact);
                case Ailment.Ends right when right.over() ->
                        unwell(device, "%s-ended-%s".formatted(right.kind(), right.name()), fact);
                case Ailment.Ends right ->
                        Finding.note(
                                device, "%s-ends-%s".formatted(right.kind(), right.name()), fact);
                case Ailment.InProgress change ->
                        Finding.stop(
                                device,
                                "change-in-progress-" + change.name(),
                                fact,
                                "Wait until that change is over, or have it ended, and read the"
                                        + " device again.");
                case Ailment.FactorySignIn open ->
                        Finding.toAccept(
                                device,
                                "factory-sign-in-" + open.name(),
                                fact,
                                "Close it and read the device again, or say why it stays open.");
                case Ailment.OverItsOwnLink way ->
                        Finding.toAccept(
                                device,
                                "reached-over-" + way.name(),
                                fact,
                                "Have a second way to it, or somebody near it, before it restarts,"
                                        + " and say so.");
                case Ailment.ReachedBy way ->
                        Finding.toAccept(
                                device,
                                "reached-by-" + way.name(),
                                fact,
                                "Have somebody near it who can reach it otherwise, and say so.");
            };
        }

        private static Finding unwell(String device, String key, String fact) {
            return Finding.toAccept(
                    device,
                    key,
                    fact,
                    "Mend it and read the device again, or say why it may be disturbed as it is.");
        }
    }

    record BootChoiceNotSaved(String next) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "choice-not-saved",
                    "%s would start %s next, and that choice is not saved.".formatted(device, next),
                    "The run chooses and saves anew; somebody may be at work on it.");
        }
    }

    record NextIsNotRunning(String running, String next) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "next-is-not-running",
                    "%s runs %s and would start %s next.".formatted(device, running, next),
                    "The run chooses anew; find out who chose that.");
        }
    }

    record NoTarget(String policy) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "no-target",
                    "The catalogue has no release for \"%s\".".formatted(policy),
                    "Name a release, or another policy.");
        }
    }

    record NoPath(String target, List<Obstacle> obstacles, Optional<String> highestReachable)
            implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "no-path",
                    "%s cannot reach %s: %s."
                            .formatted(
                                    device,
                                    target,
                                    obstacles.stream()
                                            .map(Obstacle::sentence)
                                            .collect(Collectors.joining("; "))),
                    highestReachable
                            .map("It can reach %s today."::formatted)
                            .orElse("Nothing newer can be reached today."));
        }
    }

    record NoSuchAlternative(int alternative) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "no-such-alternative",
                    "%s has no alternative path %s; it takes its best one."
                            .formatted(device, alternative));
        }
    }

    record AlreadyThere(String release) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "already-there",
                    "%s runs %s already; nothing to do.".formatted(device, release));
        }
    }

    record ImageNotOnShelf(String fileName, String release) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "not-on-shelf-" + fileName,
                    "%s, which takes %s to %s, is not on the shelf."
                            .formatted(fileName, device, release),
                    "Take the image in first, or fetch what the plan lacks.");
        }
    }

    /**
     * @param unknown what lies there and is no image that the catalogue knows
     */
    record ShortOfRoom(String fileName, String release, long missingBytes, List<StoredFile> unknown)
            implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "short-of-room-" + fileName,
                    String.format(
                            Locale.ROOT,
                            "%s, which takes %s to %s, does not fit: %,d bytes are missing, even"
                                    + " without old images%s.",
                            fileName,
                            device,
                            release,
                            missingBytes,
                            unknown.isEmpty()
                                    ? ""
                                    : " and without what the catalogue does not know: "
                                            + InTheWay.words(unknown)),
                    "Move files that are not images off the device, and read it again.");
        }
    }

    /** There would be room if files went that may be somebody's. */
    record InTheWay(String fileName, String release, List<StoredFile> files) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.caution(
                    device,
                    "in-the-way-" + fileName,
                    "%s, which takes %s to %s, fits only if files go that the catalogue does not know: %s."
                            .formatted(fileName, device, release, words(files)),
                    "Find out whose they are. Say that they may go, or move them off the device"
                            + " and read it again.",
                    Choice.MAY_GO,
                    Choice.LEAVE_OUT);
        }

        private static String words(List<StoredFile> files) {
            return files.stream().map(StoredFile::words).collect(Collectors.joining(", "));
        }
    }

    /** The inventory says one thing and the device another: which of them is right is not ours. */
    record NotAsWritten(List<Discrepancy> discrepancies) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "identity",
                    "The inventory describes another box than the one that answers as %s: %s."
                            .formatted(
                                    device,
                                    discrepancies.stream()
                                            .map(Discrepancy::sentence)
                                            .collect(Collectors.joining("; "))),
                    "Find out which is right. Where the device is, take over what was read:"
                            + " calmstep fleet as-read %s; else correct the inventory or the"
                                    .formatted(device)
                            + " address.");
        }
    }

    record ImagesWillGo(List<String> fileNames) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "images-will-go",
                    "Old images are removed from %s to make room: %s."
                            .formatted(device, String.join(", ", fileNames)));
        }
    }

    /**
     * A hop that a path may hold and that no run can carry out yet; {@code what} says which part of
     * it.
     */
    record NotYetCarriedOut(String release, String what) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "not-yet-" + release,
                    "The move of %s to %s cannot be carried out by a run yet: %s."
                            .formatted(device, release, what),
                    "Do this move by hand, read the device, and draft the plan again.");
        }
    }

    /** Its base is to send it its files, and nobody described how. */
    record CannotBeFed(String base) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.stop(
                    device,
                    "cannot-be-fed",
                    "%s is to be sent its files by %s, and the family's dialect does not say how."
                            .formatted(device, base),
                    "Add the acts channel, send-to-all, send-missing and missing to the"
                            + " dialect, or take \"fed-by\" off the device.");
        }
    }

    /** Images are said to be on a medium in the device, and nobody described how it copies them. */
    record MediumOfNoUse(String medium) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "medium-of-no-use",
                    "%s is said to have %s plugged in, and the family's dialect does not say how it copies from there; it takes its files from the shelf."
                            .formatted(device, medium));
        }
    }

    record SteppingStone(String release, List<Reason> why) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "stepping-stone-" + release,
                    "%s goes by way of %s: %s."
                            .formatted(
                                    device,
                                    release,
                                    why.stream()
                                            .map(Object::toString)
                                            .collect(Collectors.joining("; "))));
        }
    }

    /** No window holds it; the reason, and the cheapest change that would make it fit. */
    record FitsNowhere(String sentence) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    Finding.FITS_NOWHERE,
                    sentence,
                    "Change the windows or the plan's nights, leave the unit out, or accept"
                            + " that it is begun by hand.");
        }
    }

    /** A night in which this unit is what the end most often waits for. */
    record NightMayRunOver(LocalDate night, double chance, String step) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    Finding.MAY_RUN_OVER + night,
                    "The night of %s ends inside its windows in %s of 100 cases only; the %s of %s decides most often."
                            .formatted(night, Math.round(100 * chance), step, device),
                    "Move units to another night, leave this one out, or accept it.");
        }
    }

    /** A part of a path that begins where its site may not be disturbed: somebody said when. */
    record OutsideWindows(Instant begins, String why) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    Finding.OUTSIDE_WINDOWS + begins,
                    "%s begins at %s outside its windows: %s."
                            .formatted(device, Turn.words(begins), why),
                    "Let the plan begin in the next window, or say why it cannot wait.");
        }
    }

    /** What entitles the unit today does not any more in the night that it was placed in. */
    record EndsBeforeItsTurn(Ailment.Ends right, Instant over) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "%s%s-%s".formatted(Finding.ENDS_BEFORE_ITS_TURN, right.kind(), right.name()),
                    "%s: %s, before its turn is over at %s."
                            .formatted(device, right.sentence(), Turn.words(over)),
                    "Renew it and read the device again, move the unit to an earlier night, or"
                            + " say why it may change without it.");
        }
    }

    /** Several in work at one time cut off somebody, although no two of them do. */
    record CutOffTogether(List<String> beside, List<String> cutOff) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "cut-off-together-" + String.join("-", beside),
                    "%s would be in work together with %s, and all of them together cut off %s."
                            .formatted(
                                    device, String.join(", ", beside), String.join(", ", cutOff)),
                    "Move one of them to another night, or accept that the run lets the last of"
                            + " them wait until another one is out of work.");
        }
    }

    /** Units restart without a person's word. */
    record AsksNobody() implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.caution(
                    device,
                    Finding.ASKS_NOBODY,
                    "Nobody is asked at the gates of this plan: each unit restarts when its turn"
                            + " comes.",
                    "Have somebody asked for each unit, or for the pilots; or say why nobody has"
                            + " to be.",
                    Choice.ACCEPT);
        }
    }

    /** A loss behind one restart does not stop the next one. */
    record GoesOnWhenOdd() implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.caution(
                    device,
                    Finding.GOES_ON_WHEN_ODD,
                    "What is odd behind a restart does not stop the next restart of the same unit:"
                            + " a person judges it at the end of its path.",
                    "Have somebody asked before the next restart; or say why that can wait.",
                    Choice.ACCEPT);
        }
    }

    /** What the device sees beside it and what the inventory joins it with are not the same. */
    record NeighboursDiffer(String sentence) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "neighbours-differ",
                    sentence + "; who is cut off is worked out from both.");
        }
    }

    record ToKnow(String release, String text) implements Concern {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "to-know-" + release + "-" + Integer.toHexString(text.hashCode()),
                    "%s on %s: %s.".formatted(release, device, text));
        }
    }
}
