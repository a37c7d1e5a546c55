package calmstep.core.path;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import java.time.Duration;
import java.util.List;

/**
 * One move of a path.
 *
 * @param component the component that moves
 * @param from release before, as the device or the catalogue writes it
 * @param to release after
 * @param images what is installed: one image, or the parts that belong together
 * @param lookAlikes the nearest other images of the release, each with the reason why it is not
 *     taken
 * @param brings other components that change with it, as "board 1.15"
 * @param mayRest whether the device may stay on {@code to} until a later window
 * @param why the rules that bar the first later move that is barred when this hop is left out;
 *     empty for the last hop
 * @param toKnow caveats and losses, to be read before
 */
public record Hop(
        String component,
        String from,
        String to,
        List<FirmwareImage> images,
        List<String> lookAlikes,
        List<String> brings,
        int restarts,
        Duration dark,
        Effect.Configuration configuration,
        boolean mayRest,
        List<Reason> why,
        List<String> toKnow) {
    public Hop {
        images = List.copyOf(images);
        lookAlikes = List.copyOf(lookAlikes);
        brings = List.copyOf(brings);
        why = List.copyOf(why);
        toKnow = List.copyOf(toKnow);
    }

    /** The image, or the first of its parts. */
    public FirmwareImage image() {
        return images.getFirst();
    }

    /** The hop as a word of a way: its release, with the component where it is not the system. */
    public String step() {
        return component.equals(Catalogue.SYSTEM) ? to : component + " " + to;
    }

    /** Whether what it brings for boards takes a second restart. */
    public boolean restartsForBoards() {
        return restarts > 1 && !brings.isEmpty();
    }

    /** Bytes to bring to the device. */
    public long bytes() {
        return images.stream().mapToLong(FirmwareImage::sizeBytes).sum();
    }
}
