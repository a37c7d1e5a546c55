package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.Trouble;
import java.time.Duration;
import java.util.Optional;

/**
 * Has every dependent fetch the image while it serves, so that behind its controller it only
 * restarts. The order is given once; then it is waited for.
 */
final class PreLoadDependents implements Step {
    private static final Duration AGAIN = Duration.ofMillis(500);

    /** Beyond this many times what is usual, nobody waits any more. */
    private static final int PATIENCE = 3;

    @Override
    public Looked look(Scene scene) {
        DeviceSession session = scene.door().session();
        Optional<String> why = session.whyNotPreLoaded(scene.file());
        if (why.isEmpty()) {
            return allHold(scene);
        }
        if (scene.intent().isEmpty()) {
            return new Looked.ToDo(expected(scene), why.get());
        }
        Duration waited = scene.sinceIntent();
        return waited.compareTo(patience(scene)) < 0
                ? new Looked.NotYet(
                        "%s, for %s".formatted(why.get(), ComeBack.words(waited)), AGAIN)
                : lagging(scene, why);
    }

    private static Looked allHold(Scene scene) {
        String seen = "all dependents hold %s".formatted(scene.file());
        return scene.intent().isEmpty()
                ? new Looked.NotNeeded(seen)
                : new Looked.Shown(expected(scene), seen, Evidence.NONE);
    }

    private static Looked.Impossible lagging(Scene scene, Optional<String> why) {
        return new Looked.Impossible(
                new Trouble(
                        "every dependent holds %s within %s"
                                .formatted(scene.file(), ComeBack.words(patience(scene))),
                        why.get(),
                        "Look at the dependents that lag behind: their power, their link to"
                                + " the controller. When all hold the image, try the step"
                                + " again; else set the unit aside."));
    }

    private static String expected(Scene scene) {
        return "every dependent holds %s before its controller restarts".formatted(scene.file());
    }

    private static Duration patience(Scene scene) {
        return scene.unit().giveUpAfter().multipliedBy(PATIENCE);
    }

    @Override
    public void act(Scene scene) {
        scene.door().session().preLoad(scene.file());
    }

    @Override
    public Proof prove(Scene scene) {
        return scene.door()
                .session()
                .whyNotPreLoaded(scene.file())
                .<Proof>map(why -> new Proof.NotYet(why, AGAIN))
                .orElse(
                        new Proof.Proven(
                                "",
                                "all dependents hold %s".formatted(scene.file()),
                                Evidence.NONE));
    }
}
