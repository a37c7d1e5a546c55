package calmstep.service.paths;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.path.Hop;
import calmstep.core.path.Reason;
import java.time.Duration;
import java.util.List;

/**
 * A hop as the interface shows it.
 *
 * @param lookAlikes the nearest other images of the release, each with the reason why it is not
 *     taken
 */
public record HopView(
        String component,
        String from,
        String to,
        List<ImageView> images,
        List<String> lookAlikes,
        List<String> brings,
        int restarts,
        long darkSeconds,
        String configuration,
        boolean mayRest,
        List<Reason> why,
        List<String> toKnow) {
    /** As {@link Hop#step}. */
    String step() {
        return component.equals(Catalogue.SYSTEM) ? to : component + " " + to;
    }

    /** An image that a hop installs. */
    public record ImageView(String fileName, long sizeBytes, String sha256) {}

    /**
     * @param dark for how long the unit serves nobody; of several members not the same as of one
     */
    public static HopView of(Hop hop, Duration dark) {
        return new HopView(
                hop.component(),
                hop.from(),
                hop.to(),
                hop.images().stream()
                        .map(i -> new ImageView(i.fileName(), i.sizeBytes(), i.sha256()))
                        .toList(),
                hop.lookAlikes(),
                hop.brings(),
                hop.restarts(),
                dark.toSeconds(),
                hop.configuration().toString(),
                hop.mayRest(),
                hop.why(),
                hop.toKnow());
    }
}
