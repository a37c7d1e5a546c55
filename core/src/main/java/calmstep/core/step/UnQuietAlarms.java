package calmstep.core.step;

/** Ends the quiet, as soon as the unit is proven. */
final class UnQuietAlarms implements Step {
    @Override
    public Looked look(Scene scene) {
        return scene.around()
                .alarms()
                .<Looked>map(
                        alarms ->
                                new Looked.ToDo(
                                        "alarms of %s ring again"
                                                .formatted(String.join(", ", alarms.about())),
                                        alarms.areQuiet()
                                                ? "quiet"
                                                : "not all of them are quiet any more"))
                .orElseGet(() -> new Looked.NotNeeded("no alarm system is told"));
    }

    @Override
    public void act(Scene scene) {
        scene.around().alarms().orElseThrow().unQuiet();
    }

    @Override
    public Proof prove(Scene scene) {
        return new Proof.Proven(
                "",
                scene.around().alarms().orElseThrow().areQuiet()
                        ? "the alarm system took it, and is quiet for something else"
                        : "they ring again",
                Evidence.NONE);
    }
}
