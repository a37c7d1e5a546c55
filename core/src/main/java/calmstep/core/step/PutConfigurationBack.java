package calmstep.core.step;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.Trouble;
import java.util.List;
import java.util.Optional;

/**
 * Writes the configuration that was backed up for this hop into a device that the hop wiped, and
 * keeps it.
 */
final class PutConfigurationBack implements Step {
    private static final int LINES_NAMED = 5;

    @Override
    public Looked look(Scene scene) {
        Optional<String> kept = scene.kept(BackupKind.RUNNING);
        if (kept.isEmpty()) {
            return new Looked.Impossible(
                    new Trouble(
                            "the configuration that was backed up before this hop",
                            "none is kept",
                            "Put the configuration back by hand from an older backup, and set the"
                                    + " unit aside."));
        }
        List<String> missing = missing(scene, kept.get());
        return missing.isEmpty() && !scene.door().session().read().unsavedChanges()
                ? new Looked.NotNeeded("the configuration is as it was backed up, and saved")
                : new Looked.ToDo(
                        "the configuration of the backup, saved",
                        "%s of its lines are missing".formatted(missing.size()));
    }

    private static List<String> missing(Scene scene, String kept) {
        ConfigurationComparison now =
                scene.talk().compare(kept, scene.door().session().pullOff(BackupKind.RUNNING));
        return now.dropped();
    }

    @Override
    public void act(Scene scene) {
        scene.backups()
                .keepOverwritten(
                        scene.hopPlan().ordinal(),
                        BackupKind.RUNNING,
                        scene.door().session().pullOff(BackupKind.RUNNING));
        scene.door()
                .session()
                .putBack(BackupKind.RUNNING, scene.kept(BackupKind.RUNNING).orElseThrow());
        scene.door().session().save();
    }

    @Override
    public Proof prove(Scene scene) {
        List<String> missing = missing(scene, scene.kept(BackupKind.RUNNING).orElseThrow());
        if (!missing.isEmpty()) {
            return new Proof.Unproven(notTaken(missing));
        }
        return scene.door().session().read().unsavedChanges()
                ? new Proof.Unproven(
                        new Trouble(
                                "the configuration saved",
                                "the device still reports unsaved changes",
                                "Save on the device by hand and try the step again."))
                : new Proof.Proven(
                        "", "put back and saved, every line of the backup is there", Evidence.NONE);
    }

    private static Trouble notTaken(List<String> missing) {
        return new Trouble(
                "every line of the backup",
                "%s lines were not taken: %s"
                        .formatted(
                                missing.size(),
                                String.join(
                                        "; ",
                                        missing.subList(0, Math.min(LINES_NAMED, missing.size())))),
                "The new release may write them another way. Put what is missing back"
                        + " by hand and try the step again; what the new release cannot"
                        + " have is a reason to set the unit aside.");
    }
}
