package calmstep.core.step;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.LoaderSession;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * Starts a device from memory that stands in its boot loader. Nothing that it keeps is touched: the
 * steps behind this one prove its image, choose it and have it start by itself. May be begun anew
 * as long as the loader answers, since it only loads; once it was started it is out of its loader,
 * and the look sees that.
 */
final class RescueFromLoader implements Step {
    private static final Duration AGAIN = Duration.ofMillis(500);

    @Override
    public Looked look(Scene scene) {
        return switch (scene.door().whereabouts()) {
            case Whereabouts.InBootLoader(List<String> lines) ->
                    new Looked.ToDo(
                            "%s runs from its memory".formatted(image(scene).fileName()),
                            "it stands in its boot loader: %s"
                                    .formatted(
                                            lines.size() < 2 ? "" : lines.get(lines.size() - 2)));
            case Whereabouts.Silent(String seen) -> waitOrGiveUp(scene, seen);
            case Whereabouts.AtCommandLine() -> atCommandLine(scene);
        };
    }

    private static FirmwareImage image(Scene scene) {
        return scene.loads().orElseThrow();
    }

    private static Looked atCommandLine(Scene scene) {
        try {
            Reading now = scene.door().session().read();
            String seen = "it runs %s, from %s".formatted(now.system(), now.boot().running());
            return scene.intent().isEmpty()
                    ? new Looked.NotNeeded("it is out of its boot loader; " + seen)
                    : new Looked.Shown(
                            "%s runs from its memory".formatted(image(scene).fileName()),
                            seen,
                            Evidence.of(now));
        } catch (DeviceTrouble trouble) {
            if (!trouble.isSilence()) {
                throw trouble;
            }
            return waitOrGiveUp(scene, trouble.trouble().seen());
        }
    }

    /** Silent is one that starts, and one whose console line is not there. */
    private static Looked waitOrGiveUp(Scene scene, String seen) {
        Instant since = scene.intent().map(Intent::at).orElse(scene.now());
        boolean hopeless =
                scene.intent().isEmpty()
                        || Duration.between(since, scene.now())
                                        .compareTo(scene.paced(scene.unit().giveUpAfter()))
                                > 0;
        return hopeless
                ? new Looked.Impossible(
                        new Trouble(
                                "the boot loader answers on its console line",
                                seen,
                                "See that the console line is plugged in and named in the"
                                        + " inventory, or send somebody. Then try the step again."))
                : new Looked.NotYet(seen, AGAIN);
    }

    @Override
    public void act(Scene scene) {
        FirmwareImage image = image(scene);
        try (LoaderSession loader = scene.door().loader().orElseThrow(() -> withoutLoader())) {
            URI source = scene.shelf().openForLoader(image.fileName(), scene.unit().address());
            loader.load(source)
                    .filter(digest -> !digest.equals(image.sha256()))
                    .ifPresent(
                            digest -> {
                                throw damaged(image, digest);
                            });
            loader.startLoaded();
        }
    }

    private static DeviceTrouble damaged(FirmwareImage image, String digest) {
        return refused(
                "%s in its memory, SHA-256 %s".formatted(image.fileName(), image.sha256()),
                "SHA-256 " + digest,
                "The copy is damaged; nothing was started. Look at the line"
                        + " to it, and try the step again.");
    }

    private static DeviceTrouble withoutLoader() {
        return refused(
                "a way out of its boot loader in the dialect of its" + " family",
                "there is none",
                "Start an image by hand over its console line, then" + " try the step again.");
    }

    private static DeviceTrouble refused(String expected, String seen, String remedy) {
        return new DeviceTrouble(
                DeviceTrouble.Kind.REFUSED_BY_DEVICE, new Trouble(expected, seen, remedy));
    }

    @Override
    public Proof prove(Scene scene) {
        return new Proof.NotYet(
                "it starts %s from its memory".formatted(image(scene).fileName()), AGAIN);
    }
}
