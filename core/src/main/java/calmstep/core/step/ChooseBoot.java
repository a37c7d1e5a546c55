package calmstep.core.step;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

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

    private static final int LINES_TOLD = 20;

    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.door().session().read();
        if (wasJustOrdered(scene)) {
            return new Looked.NotNeeded(
                    "the order was given at %s; %s"
                            .formatted(scene.intent().get().at(), scene.choice(reading)));
        }
        Optional<Trouble> anotherBox = SameBox.difference(scene.unit(), reading);
        if (anotherBox.isPresent()) {
            return new Looked.Impossible(anotherBox.get());
        }
        Optional<Trouble> notThere = imageIsNotThere(scene, reading);
        if (notThere.isPresent()) {
            return new Looked.Impossible(notThere.get());
        }
        Optional<Trouble> changed = changedSinceItsBackup(scene, reading);
        if (changed.isPresent()) {
            return new Looked.Impossible(changed.get());
        }
        Members.mustBeWhole(scene, reading);
        return scene.isChosen(reading) && !mayLackIt(scene, reading)
                ? new Looked.NotNeeded(scene.choice(reading))
                : new Looked.ToDo(scene.wantedChoice(), scene.choice(reading));
    }

    /**
     * The unit shows one choice for all. Where somebody put in a member since it was made, that one
     * may not have heard it: it is told once more, which changes nothing for the others.
     */
    private static boolean mayLackIt(Scene scene, Reading reading) {
        return scene.detour() > 0
                && scene.intent().isEmpty()
                && scene.otherComponent().isEmpty()
                && !reading.members().isEmpty();
    }

    /** Days may lie between its proof and its night. */
    private static Optional<Trouble> imageIsNotThere(Scene scene, Reading reading) {
        if (scene.isChosen(reading) || scene.boardsRestartAlone()) {
            return Optional.empty();
        }
        return StageImage.missing(scene).stream()
                .findFirst()
                .map(
                        image ->
                                new Trouble(
                                        "%s with SHA-256 %s on the device"
                                                .formatted(image.fileName(), image.sha256()),
                                        scene.door()
                                                .session()
                                                .sha256Of(image.fileName())
                                                .map(
                                                        "a file of that name with SHA-256 %s"
                                                                ::formatted)
                                                .orElse("no such file"),
                                        "It was proven there, and somebody changed it since. Try"
                                                + " again: it is brought once more."));
    }

    /**
     * What the run may have to put back is what stands on the device now, not what stood there days
     * ago when its images were brought.
     */
    private static Optional<Trouble> changedSinceItsBackup(Scene scene, Reading reading) {
        Optional<String> kept = scene.kept(BackupKind.RUNNING);
        boolean isSame =
                scene.detour() > 0
                        || scene.before()
                                .map(Reading::configurationSha256)
                                .filter(sha256 -> !sha256.equals(reading.configurationSha256()))
                                .isEmpty();
        if (isSame || kept.isEmpty() || scene.isChosen(reading)) {
            return Optional.empty();
        }
        ConfigurationComparison changed =
                scene.talk()
                        .compare(kept.get(), scene.door().session().pullOff(BackupKind.RUNNING));
        return changed.isSame()
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                "the configuration that was backed up before its images were"
                                        + " brought",
                                "somebody changed it since: %s lines new, %s gone"
                                        .formatted(
                                                changed.added().size(), changed.dropped().size()),
                                "Look at the lines. Take the configuration over as it is (calmstep run take-over RUN %s --why …): it is backed up anew; or have it changed back, and try the step again."
                                        .formatted(scene.unit().device()),
                                lines(changed)));
    }

    private static List<String> lines(ConfigurationComparison changed) {
        return Stream.concat(
                        changed.added().stream().map("+ "::concat),
                        changed.dropped().stream().map("- "::concat))
                .limit(LINES_TOLD)
                .toList();
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
        QuietAlarms.renew(scene);
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
