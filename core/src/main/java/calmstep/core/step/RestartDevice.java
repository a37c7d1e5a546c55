package calmstep.core.step;

import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Restarts the device, once. The intent holds the device's mark of its last start: whoever finds
 * the intent later compares. Another mark means that the restart has happened. The same mark
 * shortly after the intent may be a device that has the order and has not gone down yet, so it is
 * given time before the order is repeated; no answer means that it is on its way.
 */
final class RestartDevice implements Step {
    /** Whether it is the second restart of a hop, for the boards alone. */
    private final boolean again;

    RestartDevice(boolean again) {
        this.again = again;
    }

    private static final Duration AGAIN = Duration.ofMillis(500);

    @Override
    public Looked look(Scene scene) {
        if (scene.intent().isPresent()) {
            return lookAfterIntent(scene, scene.intent().get());
        }
        return due(scene, scene.door().session());
    }

    private Looked lookAfterIntent(Scene scene, Intent intent) {
        if (!(scene.door().whereabouts() instanceof Whereabouts.AtCommandLine)) {
            return new Looked.Shown(
                    "the device goes down",
                    "it does not answer; the order was given at %s".formatted(intent.at()),
                    Evidence.NONE);
        }
        Optional<String> mark = markOf(scene);
        if (mayStillObey(mark, intent, scene)) {
            return waiting(intent);
        }
        return mark.get().equals(intent.mark())
                ? due(scene, scene.door().session())
                : new Looked.Shown(
                        "one restart for this hop",
                        "it has restarted since the order: %s".formatted(mark.get()),
                        Evidence.NONE);
    }

    private static Looked waiting(Intent intent) {
        return new Looked.NotYet(
                "waiting whether the order that was given at %s is carried out"
                        .formatted(intent.at()),
                AGAIN);
    }

    private static boolean mayStillObey(Optional<String> mark, Intent intent, Scene scene) {
        return (mark.isEmpty() || (scene.mayStillObey() && mark.get().equals(intent.mark())));
    }

    /**
     * Empty while the line is accepted but lost again: a device that is just going down, or just
     * coming up.
     */
    private static Optional<String> markOf(Scene scene) {
        try {
            return Optional.of(scene.door().session().bootMark());
        } catch (DeviceTrouble lost) {
            if (!lost.isSilence()) {
                throw lost;
            }
            return Optional.empty();
        }
    }

    private Looked due(Scene scene, DeviceSession session) {
        Reading reading = session.readNow();
        return again
                ? dueForBoards(scene, session, reading)
                : dueForTheRelease(scene, session, reading);
    }

    /** What the release brought for its boards waits there, until the next start. */
    private static Looked dueForBoards(Scene scene, DeviceSession session, Reading reading) {
        List<Brought> behind = behind(scene, reading);
        String words = behind.stream().map(Brought::toString).collect(Collectors.joining(", "));
        if (behind.isEmpty()) {
            return nothingWaits(scene, reading);
        }
        Members.mustBeWhole(scene, reading);
        List<Brought> notWaiting =
                behind.stream()
                        .filter(one -> !reading.waiting().containsKey(one.component()))
                        .toList();
        return notWaiting.isEmpty()
                ? new Looked.ToDo(
                        "a second restart, in which it takes over %s".formatted(words),
                        Brought.seen(behind, reading),
                        Optional.of(session.bootMark()))
                : notHandedOver(words, notWaiting, reading);
    }

    private static Looked nothingWaits(Scene scene, Reading reading) {
        return new Looked.NotNeeded(
                "nothing waits: %s"
                        .formatted(Brought.seen(Brought.of(scene.hop()).toList(), reading)));
    }

    private static List<Brought> behind(Scene scene, Reading reading) {
        List<Brought> behind =
                Brought.of(scene.hop())
                        .filter(one -> one.isShown(reading) && !one.runs(reading))
                        .toList();
        return behind;
    }

    private static Looked.Impossible notHandedOver(
            String words, List<Brought> notWaiting, Reading reading) {
        return new Looked.Impossible(
                new Trouble(
                        "%s waits for the next start".formatted(words),
                        Brought.seen(notWaiting, reading),
                        "The release did not hand it over. Read its start-up messages; it"
                                + " serves meanwhile, on what its boards ran before."));
    }

    private static Looked dueForTheRelease(Scene scene, DeviceSession session, Reading reading) {
        if (!Members.haveGoneAhead(scene, reading)) {
            Members.mustBeWhole(scene, reading);
        }
        if (!scene.isChosen(reading)) {
            return choiceChanged(scene, reading);
        }
        if (scene.otherComponent().isEmpty()
                && BootChoice.isSame(reading.boot().running(), scene.file())
                && reading.system().equals(scene.hop().to())) {
            return new Looked.NotNeeded(
                    "it runs %s from %s already".formatted(reading.system(), scene.file()));
        }
        return new Looked.ToDo(
                "one restart into %s".formatted(scene.file()),
                "runs %s".formatted(reading.boot().running()),
                Optional.of(session.bootMark()));
    }

    private static Looked choiceChanged(Scene scene, Reading reading) {
        return new Looked.Impossible(
                new Trouble(
                        scene.wantedChoice() + ", before the restart",
                        scene.choice(reading),
                        "Somebody changed the boot choice. Look at the device before it is"
                                + " restarted."));
    }

    @Override
    public void act(Scene scene) {
        QuietAlarms.renew(scene);
        DrainTraffic.mustHold(scene, "");
        scene.door().session().restart();
    }

    /**
     * The order is proven when the device is seen going down; until then the next look tells
     * whether it took the order at all.
     */
    @Override
    public Proof prove(Scene scene) {
        return scene.door().whereabouts() instanceof Whereabouts.AtCommandLine
                ? new Proof.NotYet("the order is given; it still answers", AGAIN)
                : new Proof.Proven("", "it took the order and went down", Evidence.NONE);
    }
}
