package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.StoredFile;
import java.util.List;

/**
 * Removes published images that nothing needs any more. Running, next and fallback stay, and so
 * does every unknown file. Its proof is a reading, so that the fleet shows the storage as the run
 * left it.
 */
final class TidyImages implements Step {
    @Override
    public Looked look(Scene scene) {
        List<String> old = oldImages(scene, scene.door().session().read());
        return old.isEmpty()
                ? new Looked.NotNeeded("no old image is left")
                : new Looked.ToDo(
                        "running, next and fallback image kept, older ones removed",
                        "no longer needed: " + String.join(", ", old));
    }

    private static List<String> oldImages(Scene scene, Reading reading) {
        return reading.volumes().stream()
                .flatMap(v -> v.files().stream())
                .map(StoredFile::name)
                .distinct()
                .filter(
                        name ->
                                scene.unit().knownImages().contains(name)
                                        && !reading.boot().isProtected(name))
                .sorted()
                .toList();
    }

    @Override
    public void act(Scene scene) {
        oldImages(scene, scene.door().session().read()).forEach(scene.door().session()::delete);
    }

    @Override
    public Proof prove(Scene scene) {
        Reading reading = scene.door().session().read();
        List<String> left = oldImages(scene, reading);
        return left.isEmpty()
                ? new Proof.Proven("", "removed", Evidence.of(reading))
                : new Proof.Unproven(
                        new Trouble(
                                "old images removed",
                                "still there: " + String.join(", ", left),
                                "Remove them by hand; nothing depends on it."));
    }
}
