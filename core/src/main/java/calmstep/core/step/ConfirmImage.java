package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.util.Optional;

/** The device computes the digest of what it stored; only an image that is proven so is ever chosen. */
final class ConfirmImage implements Step {
    @Override
    public Looked look(Scene scene) {
        String expected = scene.hop().image().sha256();
        Optional<String> seen = scene.door().session().sha256Of(scene.file());
        if (seen.filter(expected::equals).isPresent()) {
            return new Looked.Shown("SHA-256 " + expected, "the device computes the same", Evidence.NONE);
        }
        return new Looked.Impossible(new Trouble("SHA-256 %s of %s on the device".formatted(expected, scene.file()),
                seen.map(s -> "SHA-256 " + s).orElse("no such file on the device"),
                "Two copies came out wrong: look at the link and at the device's storage. The image was not chosen."));
    }
}
