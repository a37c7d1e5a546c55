package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.time.Duration;
import java.time.Instant;

/**
 * Quiets the alarms of what goes dark, for no longer than it may take: whatever becomes of us,
 * somebody hears of a unit that stays dark.
 */
final class QuietAlarms implements Step {
    /** For looks, proofs and copies between the restarts of a hop. */
    private static final Duration BESIDE_RESTARTS = Duration.ofMinutes(15);

    @Override
    public Looked look(Scene scene) {
        return scene.around()
                .alarms()
                .<Looked>map(alarms -> lookAt(alarms, scene))
                .orElseGet(() -> new Looked.NotNeeded("no alarm system is told"));
    }

    private static Looked lookAt(Around.Alarms alarms, Scene scene) {
        return scene.intent().isPresent() && alarms.areQuiet()
                ? new Looked.Shown(
                        "alarms of %s quiet".formatted(about(alarms)), "they are", Evidence.NONE)
                : new Looked.ToDo(
                        "alarms of %s quiet until %s"
                                .formatted(about(alarms), Turn.words(until(scene))),
                        "not yet");
    }

    private static String about(Around.Alarms alarms) {
        return String.join(", ", alarms.about());
    }

    private static Instant until(Scene scene) {
        Duration hop =
                scene.unit()
                        .giveUpAfter()
                        .multipliedBy(Math.max(1, scene.hop().restarts()))
                        .plus(BESIDE_RESTARTS);
        return scene.now().plus(scene.paced(hop));
    }

    @Override
    public void act(Scene scene) {
        quiet(scene.around().alarms().orElseThrow(), scene);
    }

    private static void quiet(Around.Alarms alarms, Scene scene) {
        alarms.quiet(
                until(scene),
                "%s goes from %s to %s"
                        .formatted(scene.unit().device(), scene.hop().from(), scene.hop().to()));
    }

    /**
     * Before anything goes dark: what was quieted may have run out while a person held the unit, or
     * while we were away.
     */
    static void renew(Scene scene) {
        Instant needed = scene.now().plus(scene.paced(scene.unit().giveUpAfter()));
        scene.around()
                .alarms()
                .filter(
                        alarms ->
                                alarms.askedUntil().filter(needed::isBefore).isEmpty()
                                        || !alarms.areQuiet())
                .ifPresent(alarms -> quiet(alarms, scene));
    }

    @Override
    public Proof prove(Scene scene) {
        return scene.around().alarms().orElseThrow().areQuiet()
                ? new Proof.Proven("", "the alarm system says so", Evidence.NONE)
                : new Proof.Unproven(
                        new Trouble(
                                "the alarm system says that they are quiet",
                                "it took the order, and says that they are not",
                                "Look at the alarm system, and try again; or leave the step out,"
                                        + " and whoever is on call hears of the restart."));
    }
}
