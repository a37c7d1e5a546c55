package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;

/**
 * Points the device at the new image, keeps the running one as fallback, saves, and reads it back. A component beside the system is handed its file instead, and takes it over
 * at its next restart.
 */
final class ChooseBoot implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.door().session().read();
        return scene.isChosen(reading) ? new Looked.NotNeeded(scene.choice(reading)) : new Looked.ToDo(scene.wantedChoice(), scene.choice(reading));
    }

    @Override
    public void act(Scene scene) {
        Reading reading = scene.door().session().read();
        scene.otherComponent().ifPresentOrElse(component -> scene.door().session().install(component, scene.file()), () -> scene.door().session().choose(scene.file(), reading.boot().running()));
    }

    @Override
    public Proof prove(Scene scene) {
        Reading reading = scene.door().session().read();
        return scene.isChosen(reading)
                ? new Proof.Proven("", scene.choice(reading), Evidence.NONE)
                : new Proof.Unproven(new Trouble(scene.wantedChoice(), scene.choice(reading), "The device did not keep the choice. Set it by hand and try the step again, or set the unit aside."));
    }
}
