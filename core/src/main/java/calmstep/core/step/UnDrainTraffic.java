package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.util.Optional;

/** Lets a unit that was drained for our sake carry its traffic again, once it is proven. */
final class UnDrainTraffic implements Step {
    private static final String EXPECTED = "it carries its traffic again";

    @Override
    public Looked look(Scene scene) {
        if (scene.drained() == Scene.Drained.NO) {
            return new Looked.NotNeeded("it was not drained for this");
        }
        return scene.door()
                .session()
                .whyNotCarrying()
                .map(why -> whileDrained(scene, why))
                .orElseGet(() -> new Looked.Shown(EXPECTED, "it takes traffic", Evidence.NONE));
    }

    private static Looked whileDrained(Scene scene, String why) {
        if (scene.intent().isEmpty()) {
            return new Looked.ToDo(EXPECTED, why);
        }
        return scene.mayStillObey()
                ? new Looked.NotYet(why, DrainTraffic.AGAIN)
                : new Looked.Impossible(
                        new Trouble(
                                EXPECTED,
                                why,
                                "It was told to take its traffic again, and does not. Look at it:"
                                        + " until then others carry what it should."));
    }

    @Override
    public void act(Scene scene) {
        scene.door().session().undrain();
    }

    @Override
    public Proof prove(Scene scene) {
        Optional<String> why = scene.door().session().whyNotCarrying();
        return why.<Proof>map(seen -> new Proof.NotYet(seen, DrainTraffic.AGAIN))
                .orElseGet(() -> new Proof.Proven("", "it takes traffic", Evidence.NONE));
    }
}
