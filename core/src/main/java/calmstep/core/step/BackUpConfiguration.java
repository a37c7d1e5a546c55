package calmstep.core.step;

import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.device.Backups.Kept;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.Trouble;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Pulls off the device what its family can give, both configurations first, and reads it back from
 * the store.
 */
final class BackUpConfiguration implements Step {
    @Override
    public Looked look(Scene scene) {
        List<Kept> kept = scene.backups().kept(scene.hopPlan().ordinal());
        List<BackupKind> missing = missing(scene, kept);
        if (missing.isEmpty() && isOutdated(scene)) {
            return new Looked.ToDo(
                    "%s kept, read back and equal".formatted(words(scene.door().session().kinds())),
                    "the configuration is not the one that was kept: " + describe(kept));
        }
        return missing.isEmpty()
                ? new Looked.NotNeeded("kept already: " + describe(kept))
                : new Looked.ToDo(
                        "%s kept, read back and equal".formatted(words(missing)),
                        kept.isEmpty()
                                ? "none kept for this hop yet"
                                : "kept so far: " + describe(kept));
    }

    @Override
    public void act(Scene scene) {
        Backups backups = scene.backups();
        DeviceSession session = scene.door().session();
        List<BackupKind> missing = missing(scene, backups.kept(scene.hopPlan().ordinal()));
        for (BackupKind kind : missing.isEmpty() ? session.kinds() : missing) {
            backups.keep(scene.hopPlan().ordinal(), kind, session.pullOff(kind));
        }
    }

    @Override
    public Proof prove(Scene scene) {
        List<Kept> kept = scene.backups().kept(scene.hopPlan().ordinal());
        List<BackupKind> missing = missing(scene, kept);
        if (!missing.isEmpty()) {
            return notInStore(scene, missing);
        }
        for (Kept one : kept) {
            String text = scene.backups().readBack(one);
            if (text.isBlank() || !Digests.sha256(text).equals(one.sha256())) {
                return readBackOtherwise(one, text);
            }
        }
        return new Proof.Proven("", describe(kept), Evidence.NONE);
    }

    /** Somebody changed it since it was kept: what counts is what stands on the device now. */
    private static boolean isOutdated(Scene scene) {
        return scene.kept(BackupKind.RUNNING)
                .map(
                        kept ->
                                scene.talk()
                                        .compare(
                                                kept,
                                                scene.door().session().pullOff(BackupKind.RUNNING)))
                .filter(comparison -> !comparison.isSame())
                .isPresent();
    }

    private static Proof notInStore(Scene scene, List<BackupKind> missing) {
        return new Proof.Unproven(
                new Trouble(
                        "%s in the store".formatted(words(scene.door().session().kinds())),
                        "missing: " + words(missing),
                        "Try the step again."));
    }

    private static Proof readBackOtherwise(Kept one, String text) {
        return new Proof.Unproven(
                new Trouble(
                        "the %s read back with SHA-256 %s"
                                .formatted(one.kind().words(), one.sha256()),
                        "%s characters with SHA-256 %s"
                                .formatted(text.length(), Digests.sha256(text)),
                        "The store gave back something else than it took. Look at the"
                                + " database before anything is restarted."));
    }

    private static List<BackupKind> missing(Scene scene, List<Kept> kept) {
        List<BackupKind> missing = new ArrayList<>(scene.door().session().kinds());
        kept.forEach(one -> missing.remove(one.kind()));
        return missing;
    }

    private static String words(List<BackupKind> kinds) {
        return kinds.stream().map(BackupKind::words).collect(Collectors.joining(", "));
    }

    private static String describe(List<Kept> kept) {
        return kept.stream()
                .map(
                        k ->
                                "%s, %s bytes, SHA-256 %s…"
                                        .formatted(
                                                k.kind().words(),
                                                k.sizeBytes(),
                                                k.sha256().substring(0, 12)))
                .collect(Collectors.joining("; "));
    }
}
