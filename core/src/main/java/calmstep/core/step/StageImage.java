package calmstep.core.step;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.ImageSource;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.net.URI;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Puts the image on the device, with all its parts. Safe to repeat: after a crash we know only that
 * the step had begun, so it looks first.
 */
final class StageImage implements Step {
    @Override
    public Looked look(Scene scene) {
        List<FirmwareImage> missing = missing(scene);
        if (missing.isEmpty()) {
            return new Looked.NotNeeded(
                    "%s is on the device, SHA-256 as published".formatted(scene.file()));
        }
        Members.mustBeWhole(scene, scene.door().session().read());
        String expected = onTheDevice(missing);
        Optional<String> other = scene.door().session().sha256Of(missing.getFirst().fileName());
        return new Looked.ToDo(
                expected,
                other.map("a file of that name with SHA-256 %s"::formatted).orElse("no such file"));
    }

    private static String onTheDevice(List<FirmwareImage> missing) {
        String expected =
                missing.stream()
                                .map(
                                        image ->
                                                String.format(
                                                        Locale.ROOT,
                                                        "%s, %,d bytes",
                                                        image.fileName(),
                                                        image.sizeBytes()))
                                .collect(Collectors.joining("; "))
                        + ", on the device";
        return expected;
    }

    static List<FirmwareImage> missing(Scene scene) {
        return scene.hop().images().stream()
                .filter(
                        image ->
                                scene.door()
                                        .session()
                                        .sha256Of(image.fileName())
                                        .filter(image.sha256()::equals)
                                        .isEmpty())
                .toList();
    }

    @Override
    public void act(Scene scene) {
        missing(scene)
                .forEach(
                        image -> {
                            if (isTakenFromMedium(scene, image)) {
                                return;
                            }
                            if (scene.door().session().takesPush()) {
                                send(scene, image);
                            } else {
                                bring(scene, image.fileName());
                            }
                        });
    }

    /**
     * Whether what is plugged in holds the image as it was published; if not, whatever came from
     * there goes, and the shelf's is taken.
     */
    private static boolean isTakenFromMedium(Scene scene, FirmwareImage image) {
        Optional<String> medium = scene.unit().supply().medium();
        boolean taken = medium.filter(plugged -> holds(plugged, scene, image)).isPresent();
        if (medium.isPresent() && !taken) {
            scene.around()
                    .teller()
                    .tell(
                            "%s: %s does not hold %s as it was published; it comes from the shelf. Look at what is plugged in before somebody relies on it."
                                    .formatted(
                                            scene.unit().device(), medium.get(), image.fileName()));
        }
        return taken;
    }

    private static boolean holds(String medium, Scene scene, FirmwareImage image) {
        DeviceSession session = scene.door().session();
        if (session.sha256Of(image.fileName()).isPresent()) {
            session.delete(image.fileName());
        }
        return session.takeFrom(medium, image.fileName())
                && session.sha256Of(image.fileName()).filter(image.sha256()::equals).isPresent();
    }

    private static void send(Scene scene, FirmwareImage image) {
        DeviceSession session = scene.door().session();
        if (session.sha256Of(image.fileName()).isPresent()) {
            session.delete(image.fileName());
        }
        try (ImageSource.Opened file =
                scene.shelf().read(image.fileName(), scene.unit().address())) {
            session.push(image.fileName(), file, image.sizeBytes());
        }
    }

    private static void bring(Scene scene, String file) {
        DeviceSession session = scene.door().session();
        if (session.fetching().filter(file::equals).isPresent()) {
            session.awaitFetch(file);
            return;
        }
        URI source =
                reached(
                        session,
                        scene.unit().device(),
                        scene.shelf().open(file, scene.unit().address()));
        if (session.sha256Of(file).isPresent()) {
            session.delete(file);
        }
        session.fetch(source, file);
    }

    static URI reached(DeviceSession session, String device, URI source) {
        session.whyNotReached(source)
                .ifPresent(
                        said -> {
                            throw notReached(said, device, source);
                        });
        return source;
    }

    private static DeviceTrouble notReached(String said, String device, URI source) {
        return new DeviceTrouble(
                DeviceTrouble.Kind.SOURCE_NOT_REACHED,
                new Trouble(
                        "%s reaches the shelf at %s:%s"
                                .formatted(device, source.getHost(), source.getPort()),
                        "the device says: %s".formatted(said),
                        "Look at the address that the shelf is bound to, the"
                                + " firewall, and the route in the management"
                                + " network."));
    }

    @Override
    public Proof prove(Scene scene) {
        Members.mustBeWhole(scene, scene.door().session().read());
        return whole(scene);
    }

    static Proof whole(Scene scene) {
        List<Volume> volumes = scene.door().session().read().imageVolumes();
        Optional<Trouble> cut =
                scene.hop().images().stream()
                        .flatMap(image -> notWhole(image, volumes).stream())
                        .findFirst();
        return cut.<Proof>map(trouble -> new Proof.Unproven(trouble, Hope.COPIED_AGAIN))
                .orElseGet(() -> proven(scene, volumes));
    }

    private static Proof.Proven proven(Scene scene, List<Volume> volumes) {
        return new Proof.Proven(
                "",
                scene.hop().images().stream()
                                .map(
                                        image ->
                                                String.format(
                                                        Locale.ROOT,
                                                        "%s, %,d bytes",
                                                        image.fileName(),
                                                        image.sizeBytes()))
                                .collect(Collectors.joining("; "))
                        + onEach(volumes),
                Evidence.NONE);
    }

    private static Optional<Trouble> notWhole(FirmwareImage image, List<Volume> volumes) {
        if (volumes.isEmpty()) {
            return Optional.of(
                    new Trouble(
                            "%s on the device".formatted(image.fileName()),
                            "no storage on the device",
                            "Look at the device's storage by hand."));
        }
        return volumes.stream()
                .filter(
                        volume ->
                                volume.find(image.fileName()).map(StoredFile::sizeBytes).orElse(0L)
                                        != image.sizeBytes())
                .findFirst()
                .map(
                        without ->
                                new Trouble(
                                        String.format(
                                                Locale.ROOT,
                                                "%s with %,d bytes%s",
                                                image.fileName(),
                                                image.sizeBytes(),
                                                onEach(volumes)),
                                        without.find(image.fileName())
                                                        .map(
                                                                f ->
                                                                        String.format(
                                                                                Locale.ROOT,
                                                                                "%,d bytes",
                                                                                f.sizeBytes()))
                                                        .orElse("no such file")
                                                + (without.part().isEmpty()
                                                        ? " on the device"
                                                        : " on member " + without.part()),
                                        "The copy was cut again and again. Look at the link and at"
                                                + " the device's messages; the step starts from"
                                                + " scratch when it is tried again."));
    }

    private static String onEach(List<Volume> volumes) {
        return volumes.size() > 1 ? " on each of %s members".formatted(volumes.size()) : "";
    }
}
