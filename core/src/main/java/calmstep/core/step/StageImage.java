package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/** Puts the image on the device. Safe to repeat: after a crash we know only that the step had begun, so it looks first. */
final class StageImage implements Step {
    @Override
    public Looked look(Scene scene) {
        Optional<String> seen = scene.door().session().sha256Of(scene.file());
        return seen.filter(scene.hop().image().sha256()::equals).isPresent()
                ? new Looked.NotNeeded("%s is on the device, SHA-256 as published".formatted(scene.file()))
                : new Looked.ToDo("%s, %,d bytes, on the device".formatted(scene.file(), scene.hop().image().sizeBytes()),
                        seen.isPresent() ? "a file of that name with SHA-256 %s".formatted(seen.get()) : "no such file");
    }

    @Override
    public void act(Scene scene) {
        DeviceSession session = scene.door().session();
        URI source = scene.shelf().open(scene.file(), scene.unit().address());
        session.whyNotReached(source).ifPresent(said -> {
            throw new DeviceTrouble(DeviceTrouble.Kind.SOURCE_NOT_REACHED, new Trouble(
                    "%s reaches the shelf at %s:%d".formatted(scene.unit().device(), source.getHost(), source.getPort()),
                    "the device says: %s".formatted(said),
                    "Look at the address that the shelf is bound to, the firewall, and the route in the management network."));
        });
        if (session.sha256Of(scene.file()).isPresent()) {
            session.delete(scene.file());
        }
        session.fetch(source, scene.file());
    }

    @Override
    public Proof prove(Scene scene) {
        long expected = scene.hop().image().sizeBytes();
        List<Volume> volumes = scene.door().session().read().imageVolumes();
        Optional<Volume> without = volumes.stream().filter(v -> v.find(scene.file()).map(StoredFile::sizeBytes).orElse(0L) != expected).findFirst();
        String where = volumes.size() > 1 ? " on each of %d members".formatted(volumes.size()) : "";
        return without.isEmpty() && !volumes.isEmpty()
                ? new Proof.Proven("", "%s, %,d bytes%s".formatted(scene.file(), expected, where), Evidence.NONE)
                : new Proof.Unproven(new Trouble("%s with %,d bytes%s".formatted(scene.file(), expected, where),
                        without.flatMap(v -> v.find(scene.file())).map(f -> "%,d bytes".formatted(f.sizeBytes())).orElse("no such file") + without.filter(v -> !v.part().isEmpty()).map(v -> " on member " + v.part()).orElse(" on the device"),
                        "The copy was cut. Try the step again; it starts from scratch."));
    }
}
