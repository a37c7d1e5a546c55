package calmstep.core.path;

import java.util.List;

/** Ordered hops and what they cost together. */
public record Path(List<Hop> hops, Cost cost) {
    public Path {
        hops = List.copyOf(hops);
    }
}
