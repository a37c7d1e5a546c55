package calmstep.core.step;

import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Waits until the device answers again after the restart; says late when late, and gives up when
 * hopeless.
 */
final class ComeBack implements Step {
    private static final Duration AT_LEAST = Duration.ofMillis(500);
    private static final Duration AT_MOST = Duration.ofSeconds(30);

    /** Of the time that is left to when it should be back. */
    private static final int PART_OF_WHAT_IS_LEFT = 8;

    /** Of the time that a start takes: nobody would notice that it was seen so much later. */
    private static final int PART_OF_A_START = 60;

    @Override
    public Looked look(Scene scene) {
        return switch (scene.door().whereabouts()) {
            case Whereabouts.InBootLoader(List<String> lines) ->
                    new Looked.Impossible(
                            new Trouble(
                                    "it starts %s and answers on its command line"
                                            .formatted(scene.file()),
                                    "it stands in its boot loader, and answers on its console line"
                                            + " only",
                                    "Read its last lines. Start another image from the boot loader"
                                        + " over the console line, or set the unit aside and send"
                                        + " somebody.",
                                    lines));
            case Whereabouts.Silent(String seen) -> waitOrGiveUp(scene, seen);
            case Whereabouts.AtCommandLine() -> atCommandLine(scene);
        };
    }

    private static Looked atCommandLine(Scene scene) {
        try {
            if (scene.boardsRestartAlone()) {
                return boards(scene, scene.door().session().read());
            }
            String mark = scene.door().session().bootMark();
            String before = scene.restart().map(Intent::mark).orElse("");
            return mark.equals(before)
                    ? waitOrGiveUp(scene, "it answers, and has not restarted yet")
                    : withItsMembers(scene, scene.door().session().read(), mark);
        } catch (DeviceTrouble trouble) {
            if (!trouble.isSilence()) {
                throw trouble;
            }
            return waitOrGiveUp(scene, trouble.trouble().seen());
        }
    }

    /** Boards that restart on their own are back when each of them serves on the new release. */
    private static Looked boards(Scene scene, Reading now) {
        List<PartShown> missing = scene.boardsNotThere(now);
        if (missing.isEmpty()) {
            return new Looked.Shown(
                    "each %s runs %s and serves"
                            .formatted(scene.hop().component(), scene.hop().to()),
                    "all %s do, after %s"
                            .formatted(
                                    now.boards(scene.hop().component()).size(),
                                    words(sinceRestart(scene))),
                    Evidence.NONE);
        }
        String seen = Parts.shown(scene.hop().component(), missing);
        return sinceRestart(scene).compareTo(scene.unit().giveUpAfter()) <= 0
                ? waitOrGiveUp(scene, seen)
                : new Looked.Impossible(boardsDoNotServe(scene, seen));
    }

    private static Trouble boardsDoNotServe(Scene scene, String seen) {
        return new Trouble(
                "each %s runs %s and serves".formatted(scene.hop().component(), scene.hop().to()),
                "%s, after %s".formatted(seen, words(sinceRestart(scene))),
                "The other boards serve. Look at the board's own lamp and at the"
                        + " device's messages; when it serves, try the step again:"
                        + " nothing is restarted twice.");
    }

    /** A unit of several members is back when all of them are. */
    private static Looked withItsMembers(Scene scene, Reading now, String mark) {
        Optional<Trouble> anotherBox = SameBox.difference(scene.unit(), now);
        if (anotherBox.isPresent()) {
            return new Looked.Impossible(anotherBox.get());
        }
        List<String> out = Members.out(scene, now);
        if (out.isEmpty()) {
            String members =
                    now.members().isEmpty()
                            ? ""
                            : ", with all %s members".formatted(now.members().size());
            return new Looked.Shown(
                    "it answers again after one restart",
                    "it answers%s%s; %s".formatted(afterHowLong(scene), members, mark),
                    Evidence.NONE);
        }
        return sinceRestart(scene).compareTo(scene.unit().giveUpAfter()) > 0
                ? new Looked.Impossible(Members.stayOut(out, now, words(sinceRestart(scene))))
                : waitOrGiveUp(scene, "it answers; " + Members.shown(out, now));
    }

    /** Nothing where no restart was ordered, as after one that was not needed. */
    private static String afterHowLong(Scene scene) {
        return scene.restart().isPresent() ? " after " + words(sinceRestart(scene)) : "";
    }

    private static Duration sinceRestart(Scene scene) {
        Instant ordered = scene.restart().map(Intent::at).orElse(scene.now());
        return Duration.between(ordered, scene.now()).multipliedBy(scene.pace());
    }

    private static Looked waitOrGiveUp(Scene scene, String seen) {
        Duration waited = sinceRestart(scene);
        Duration normal = scene.hopPlan().restarts();
        if (waited.compareTo(scene.unit().giveUpAfter()) > 0) {
            return new Looked.Impossible(
                    new Trouble(
                            "back within %s, given up after %s"
                                    .formatted(words(normal), words(scene.unit().giveUpAfter())),
                            seen,
                            "Look at its console line or send somebody. The unit can be tried"
                                    + " again: it is not restarted twice."));
        }
        String late = waited.compareTo(normal) > 0 ? "late: " : "";
        Duration again = again(waited, normal).dividedBy(scene.pace());
        return new Looked.NotYet(
                "%s%s for %s, normally %s".formatted(late, seen, words(waited), words(normal)),
                again.compareTo(AT_LEAST) < 0 ? AT_LEAST : again);
    }

    /**
     * Seldom while it cannot be back yet, and often around the time when it should be: a thousand
     * that start at once are looked at all the while.
     */
    private static Duration again(Duration waited, Duration normal) {
        Duration part = normal.minus(waited).abs().dividedBy(PART_OF_WHAT_IS_LEFT);
        Duration least = normal.dividedBy(PART_OF_A_START);
        return part.compareTo(least) < 0 ? least : part.compareTo(AT_MOST) > 0 ? AT_MOST : part;
    }

    static String words(Duration duration) {
        String seconds = "%s s".formatted(duration.toSecondsPart());
        if (duration.toMinutes() == 0) {
            return seconds;
        }
        String minutes = "%s min".formatted(duration.toMinutes());
        return duration.toSecondsPart() == 0 ? minutes : minutes + " " + seconds;
    }
}
