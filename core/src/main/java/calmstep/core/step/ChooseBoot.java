package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;

/** Points the device at the new image, keeps the running one as fallback, saves, and reads it back. */
final class ChooseBoot implements Step {
    @Override
    public Looked look(Scene scene) {
        BootChoice boot = scene.door().session().read().boot();
        return isChosen(scene, boot)
                ? new Looked.NotNeeded(describe(boot))
                : new Looked.ToDo("next %s, saved".formatted(scene.file()), describe(boot));
    }

    private static boolean isChosen(Scene scene, BootChoice boot) {
        return boot.next().equals(scene.file()) && boot.saved();
    }

    @Override
    public void act(Scene scene) {
        Reading reading = scene.door().session().read();
        scene.door().session().choose(scene.file(), reading.boot().running());
    }

    @Override
    public Proof prove(Scene scene) {
        BootChoice boot = scene.door().session().read().boot();
        return isChosen(scene, boot)
                ? new Proof.Proven("", describe(boot), Evidence.NONE)
                : new Proof.Unproven(new Trouble("next %s, saved".formatted(scene.file()), describe(boot),
                        "The device did not keep the choice. Set it by hand and try the step again, or set the unit aside."));
    }

    private static String describe(BootChoice boot) {
        return "next %s, fallback %s, %s".formatted(boot.next(), boot.fallback().isEmpty() ? "none" : boot.fallback(),
                boot.saved() ? "saved" : "not saved");
    }
}
