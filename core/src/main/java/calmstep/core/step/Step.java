package calmstep.core.step;

/**
 * One step. All three may throw {@link calmstep.core.device.DeviceTrouble}; the runner turns it
 * into a failed step.
 */
interface Step {
    Looked look(Scene scene);

    /**
     * Does it. Called only behind a look that said {@link Looked.ToDo}, with the intent written
     * down.
     */
    default void act(Scene scene) {}

    default Proof prove(Scene scene) {
        return new Proof.Proven("", "", Evidence.NONE);
    }
}
