package calmstep.core.step;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.Trouble;
import java.util.Optional;

/**
 * The device computes the digest of what it stored, on each member that was there at its check;
 * only an image that is proven so, with all its parts, is ever chosen.
 */
final class ConfirmImage implements Step {
    @Override
    public Looked look(Scene scene) {
        Members.mustBeWhole(scene, scene.door().session().read());
        if (StageImage.whole(scene) instanceof Proof.Unproven(Trouble missing, var _)) {
            return new Looked.Impossible(missing);
        }
        for (FirmwareImage image : scene.hop().images()) {
            Optional<String> seen = scene.door().session().sha256Of(image.fileName());
            if (seen.filter(image.sha256()::equals).isEmpty()) {
                return cameOutWrong(image, seen);
            }
        }
        return proven(scene);
    }

    private static Looked cameOutWrong(FirmwareImage image, Optional<String> seen) {
        return new Looked.Impossible(
                new Trouble(
                        "SHA-256 %s of %s on the device"
                                .formatted(image.sha256(), image.fileName()),
                        seen.map(s -> "SHA-256 " + s).orElse("no such file on the device"),
                        "Two copies came out wrong: look at the link and at the device's"
                                + " storage. The image was not chosen."));
    }

    private static Looked proven(Scene scene) {
        boolean inParts = scene.hop().images().size() > 1;
        String expected =
                inParts
                        ? "the published SHA-256 of each of %s parts"
                                .formatted(scene.hop().images().size())
                        : "SHA-256 " + scene.hop().image().sha256();
        return new Looked.Shown(
                expected,
                inParts ? "the device computes the same of each" : "the device computes the same",
                Evidence.NONE);
    }
}
