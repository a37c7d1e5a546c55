package calmstep.core.plan;

import calmstep.core.path.Obstacle;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A concern in words.
 *
 * @param key names it within the plan: the same concern has the same key when the plan is worked
 *     out again
 * @param fact what is so
 * @param remedy what to do about it; empty for notes
 * @param choices what can be said to it; empty unless it is a caution
 */
public record Finding(
        String key,
        Severity severity,
        String device,
        String fact,
        String remedy,
        List<Choice> choices) {
    private static final String FITS_NOWHERE = "fits-nowhere";
    private static final String MAY_RUN_OVER = "night-may-run-over-";

    public Finding {
        choices = List.copyOf(choices);
    }

    static Finding of(String device, Concern concern) {
        return switch (concern) {
            case Concern.NeverRead() ->
                    stop(
                            device,
                            "never-read",
                            "%s was never read.".formatted(device),
                            "Read it first.");
            case Concern.NoCatalogue(String family) ->
                    stop(
                            device,
                            "no-catalogue",
                            "No catalogue of %s is here.".formatted(family),
                            "Import the family's catalogue file.");
            case Concern.LoginWithoutSecret(String login) ->
                    stop(
                            device,
                            "no-secret",
                            "The login \"%s\" has no password here.".formatted(login),
                            "Give it one.");
            case Concern.ReadLongAgo(Duration age) ->
                    caution(
                            device,
                            "read-long-ago",
                            "%s was read %s ago.".formatted(device, words(age)),
                            "Read it again, or accept what was seen then.",
                            Choice.ACCEPT,
                            Choice.LEAVE_OUT);
            case Concern.UnsavedChanges() ->
                    caution(
                            device,
                            "unsaved-changes",
                            "%s runs changes that were not saved; a restart would lose them."
                                    .formatted(device),
                            "Save them first, or leave the device out.",
                            Choice.SAVE_FIRST,
                            Choice.LEAVE_OUT);
            case Concern.BootChoiceNotSaved(String next) ->
                    caution(
                            device,
                            "choice-not-saved",
                            "%s would start %s next, and that choice is not saved."
                                    .formatted(device, next),
                            "The run chooses and saves anew; somebody may be at work on it.",
                            Choice.ACCEPT,
                            Choice.LEAVE_OUT);
            case Concern.NextIsNotRunning(String running, String next) ->
                    caution(
                            device,
                            "next-is-not-running",
                            "%s runs %s and would start %s next.".formatted(device, running, next),
                            "The run chooses anew; find out who chose that.",
                            Choice.ACCEPT,
                            Choice.LEAVE_OUT);
            case Concern.NoTarget(String policy) ->
                    stop(
                            device,
                            "no-target",
                            "The catalogue has no release for \"%s\".".formatted(policy),
                            "Name a release, or another policy.");
            case Concern.NoPath(
                            String target,
                            List<Obstacle> obstacles,
                            Optional<String> highest) ->
                    stop(
                            device,
                            "no-path",
                            "%s cannot reach %s: %s."
                                    .formatted(
                                            device,
                                            target,
                                            obstacles.stream()
                                                    .map(Obstacle::sentence)
                                                    .collect(Collectors.joining("; "))),
                            highest.map("It can reach %s today."::formatted)
                                    .orElse("Nothing newer can be reached today."));
            case Concern.AlreadyThere(String release) ->
                    note(
                            device,
                            "already-there",
                            "%s runs %s already; nothing to do.".formatted(device, release));
            case Concern.ImageNotOnShelf(String file, String release) ->
                    stop(
                            device,
                            "not-on-shelf-" + file,
                            "%s, which takes %s to %s, is not on the shelf."
                                    .formatted(file, device, release),
                            "Take the image in first, or fetch what the plan lacks.");
            case Concern.ShortOfRoom(String file, long missing) ->
                    stop(
                            device,
                            "short-of-room-" + file,
                            "%s does not fit on %s: %,d bytes are missing, even without old images."
                                    .formatted(file, device, missing),
                            "Move files that are not images off the device.");
            case Concern.ImagesWillGo(List<String> files) ->
                    note(
                            device,
                            "images-will-go",
                            "Old images are removed from %s to make room: %s."
                                    .formatted(device, String.join(", ", files)));
            case Concern.NotYetCarriedOut(String release, String what) ->
                    stop(
                            device,
                            "not-yet-" + release,
                            "The move of %s to %s cannot be carried out by a run yet: %s."
                                    .formatted(device, release, what),
                            "Do this move by hand, read the device, and draft the plan again.");
            case Concern.CannotBeFed(String base) ->
                    stop(
                            device,
                            "cannot-be-fed",
                            "%s is to be sent its files by %s, and the family's dialect does not say how."
                                    .formatted(device, base),
                            "Add the acts channel, send-to-all, send-missing and missing to the"
                                    + " dialect, or take \"fed-by\" off the device.");
            case Concern.MediumOfNoUse(String medium) ->
                    note(
                            device,
                            "medium-of-no-use",
                            "%s is said to have %s plugged in, and the family's dialect does not say how it copies from there; it takes its files from the shelf."
                                    .formatted(device, medium));
            case Concern.SteppingStone(String release, var why) ->
                    note(
                            device,
                            "stepping-stone-" + release,
                            "%s goes by way of %s: %s."
                                    .formatted(
                                            device,
                                            release,
                                            why.stream()
                                                    .map(Object::toString)
                                                    .collect(Collectors.joining("; "))));
            case Concern.FitsNowhere(String sentence) ->
                    caution(
                            device,
                            FITS_NOWHERE,
                            sentence,
                            "Change the windows or the plan's nights, leave the unit out, or accept"
                                    + " that it is begun by hand.",
                            Choice.ACCEPT,
                            Choice.LEAVE_OUT);
            case Concern.NightMayRunOver(LocalDate night, double chance, String step) ->
                    caution(
                            device,
                            MAY_RUN_OVER + night,
                            "The night of %s ends inside its windows in %d of 100 cases only; the %s of %s decides most often."
                                    .formatted(night, Math.round(100 * chance), step, device),
                            "Move units to another night, leave this one out, or accept it.",
                            Choice.ACCEPT,
                            Choice.LEAVE_OUT);
            case Concern.NeighboursDiffer(String sentence) ->
                    note(
                            device,
                            "neighbours-differ",
                            sentence + "; who is cut off is worked out from both.");
            case Concern.ToKnow(String release, String text) ->
                    note(
                            device,
                            "to-know-" + release + "-" + Integer.toHexString(text.hashCode()),
                            "%s on %s: %s.".formatted(release, device, text));
        };
    }

    /** Whether a finding is about the nights, which are worked out on their own. */
    public boolean isOfNights() {
        return key.endsWith("/" + FITS_NOWHERE) || key.contains("/" + MAY_RUN_OVER);
    }

    private static Finding stop(String device, String key, String fact, String remedy) {
        return new Finding(device + "/" + key, Severity.STOP, device, fact, remedy, List.of());
    }

    private static Finding caution(
            String device, String key, String fact, String remedy, Choice... choices) {
        return new Finding(
                device + "/" + key, Severity.CAUTION, device, fact, remedy, List.of(choices));
    }

    private static Finding note(String device, String key, String fact) {
        return new Finding(device + "/" + key, Severity.NOTE, device, fact, "", List.of());
    }

    private static String words(Duration age) {
        return age.toDays() > 0
                ? age.toDays() + " days"
                : age.toHours() > 0 ? age.toHours() + " h" : age.toMinutes() + " min";
    }
}
