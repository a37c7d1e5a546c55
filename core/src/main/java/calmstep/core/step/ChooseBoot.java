package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import java.time.Duration;

/**
 * Points the device at the new image, keeps the running one as fallback, saves, and reads it back.
 * A component beside the system is handed its file instead, and takes it over at its next restart;
 * boards that restart on their own do so at once.
 */
final class ChooseBoot implements Step {
    /**
     * Within this time after the order nobody repeats it: boards that just restart for it would do
     * so once more.
     */
    private static final Duration OBEYS_WITHIN = Duration.ofMinutes(2);

    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.door().session().read();
        if (wasJustOrdered(scene)) {
            return new Looked.NotNeeded(
                    "the order was given at %s; %s"
                            .formatted(scene.intent().get().at(), scene.choice(reading)));
        }
        Members.mustBeWhole(scene, reading);
        return scene.isChosen(reading)
                ? new Looked.NotNeeded(scene.choice(reading))
                : new Looked.ToDo(scene.wantedChoice(), scene.choice(reading));
    }

    private static boolean wasJustOrdered(Scene scene) {
        return (scene.boardsRestartAlone()
                && scene.intent()
                        .filter(
                                order ->
                                        Duration.between(order.at(), scene.now())
                                                        .compareTo(scene.paced(OBEYS_WITHIN))
                                                < 0)
                        .isPresent());
    }

    @Override
    public void act(Scene scene) {
        Reading reading = scene.door().session().read();
        scene.otherComponent()
                .ifPresentOrElse(
                        component -> scene.door().session().install(component, scene.file()),
                        () -> scene.door().session().choose(scene.file(), scene.fallback(reading)));
    }

    @Override
    public Proof prove(Scene scene) {
        if (scene.boardsRestartAlone()) {
            return new Proof.Proven(
                    "",
                    "they take %s and restart, each on its own".formatted(scene.file()),
                    Evidence.NONE);
        }
        Reading reading = scene.door().session().read();
        return scene.isChosen(reading)
                ? new Proof.Proven("", scene.choice(reading), Evidence.NONE)
                : new Proof.Unproven(
                        new Trouble(
                                scene.wantedChoice(),
                                scene.choice(reading),
                                "The device did not keep the choice. Set it by hand and try the"
                                        + " step again, or set the unit aside."));
    }
}
