package calmstep.core.step;

import calmstep.core.device.Backups;
import calmstep.core.device.Backups.Kept;
import calmstep.core.device.ConfigurationKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.Trouble;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Pulls the configurations off the device and reads them back from the store. */
final class BackUpConfiguration implements Step {
    @Override
    public Looked look(Scene scene) {
        List<Kept> kept = scene.backups().kept(scene.hopPlan().ordinal());
        return missing(kept).isEmpty()
                ? new Looked.NotNeeded("kept already: " + describe(kept))
                : new Looked.ToDo("running and startup configuration kept, read back and equal", "none kept for this hop yet");
    }

    @Override
    public void act(Scene scene) {
        Backups backups = scene.backups();
        DeviceSession session = scene.door().session();
        for (ConfigurationKind kind : missing(backups.kept(scene.hopPlan().ordinal()))) {
            backups.keep(scene.hopPlan().ordinal(), kind, session.configuration(kind));
        }
    }

    @Override
    public Proof prove(Scene scene) {
        List<Kept> kept = scene.backups().kept(scene.hopPlan().ordinal());
        List<ConfigurationKind> missing = missing(kept);
        if (!missing.isEmpty()) {
            return new Proof.Unproven(new Trouble("both configurations in the store", "missing: " + missing, "Try the step again."));
        }
        for (Kept one : kept) {
            String text = scene.backups().readBack(one);
            if (text.isBlank() || !Digests.sha256(text).equals(one.sha256())) {
                return new Proof.Unproven(new Trouble("the %s configuration read back with SHA-256 %s".formatted(one.kind(), one.sha256()),
                        "%d characters with SHA-256 %s".formatted(text.length(), Digests.sha256(text)),
                        "The store gave back something else than it took. Look at the database before anything is restarted."));
            }
        }
        return new Proof.Proven("", describe(kept), Evidence.NONE);
    }

    private static List<ConfigurationKind> missing(List<Kept> kept) {
        List<ConfigurationKind> missing = new ArrayList<>(List.of(ConfigurationKind.values()));
        kept.forEach(one -> missing.remove(one.kind()));
        return missing;
    }

    private static String describe(List<Kept> kept) {
        return kept.stream()
                .map(k -> "%s configuration, %d bytes, SHA-256 %s…".formatted(k.kind(), k.sizeBytes(), k.sha256().substring(0, 12)))
                .collect(Collectors.joining("; "));
    }
}
