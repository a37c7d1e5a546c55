package calmstep.core.step;

import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;

/**
 * Begins the way back over a hop: the device is there, and the configuration that it has now is
 * kept and saved, since the one from before the hop takes its place. The steps behind this one take
 * it back as others take it forth.
 */
final class GoBack implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading now = scene.door().session().read();
        return new Looked.ToDo(
                "back to %s, with %s; the configuration that it has now is kept"
                        .formatted(scene.hop().to(), scene.file()),
                shown(now));
    }

    static String shown(Reading now) {
        return "it runs %s from %s%s"
                .formatted(
                        now.system(),
                        now.boot().running(),
                        now.unsavedChanges() ? ", with changes that were not saved" : "");
    }

    @Override
    public void act(Scene scene) {
        keepAndSave(scene);
    }

    /**
     * Its configuration is about to be written over: what it has goes into the store, and what was
     * not saved is saved.
     */
    static void keepAndSave(Scene scene) {
        DeviceSession session = scene.door().session();
        scene.backups()
                .keepOverwritten(
                        scene.hopPlan().ordinal(),
                        BackupKind.RUNNING,
                        session.pullOff(BackupKind.RUNNING));
        if (session.read().unsavedChanges()) {
            session.save();
        }
    }

    @Override
    public Proof prove(Scene scene) {
        return kept(scene);
    }

    static Proof kept(Scene scene) {
        Reading now = scene.door().session().read();
        return now.unsavedChanges()
                ? new Proof.Unproven(
                        new Trouble(
                                "no unsaved changes",
                                "the device still reports unsaved changes",
                                "Save on the device by hand and try the step again."))
                : new Proof.Proven(
                        "",
                        "it runs %s from %s; its configuration is kept, and saved"
                                .formatted(now.system(), now.boot().running()),
                        Evidence.of(now));
    }
}
