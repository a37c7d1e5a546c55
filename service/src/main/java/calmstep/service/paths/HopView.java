package calmstep.service.paths;

import calmstep.core.path.Hop;
import calmstep.core.path.Reason;
import java.util.List;

/** A hop as the interface shows it. */
public record HopView(String component, String from, String to, String image, long sizeBytes, String sha256, int restarts, long darkSeconds,
        String configuration, boolean mayRest, List<Reason> why, List<String> toKnow) {
    public static HopView of(Hop hop) {
        return new HopView(hop.component(), hop.from(), hop.to(), hop.image().fileName(), hop.image().sizeBytes(), hop.image().sha256(), hop.restarts(),
                hop.dark().toSeconds(), hop.configuration().toString(), hop.mayRest(), hop.why(), hop.toKnow());
    }
}
