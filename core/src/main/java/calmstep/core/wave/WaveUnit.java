package calmstep.core.wave;

import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/**
 * A unit to be placed.
 *
 * @param likeness model, role and path in one text: units of the same likeness stand for each other
 *     as pilots
 * @param chunks the parts of its path, in order
 * @param cutsOff units that lose every way to a root while it restarts
 * @param mates names of the redundancy groups that it is in
 */
public record WaveUnit(
        String name,
        String site,
        String family,
        String likeness,
        List<Chunk> chunks,
        Set<String> cutsOff,
        Set<String> mates) {
    public WaveUnit {
        chunks = List.copyOf(chunks);
        cutsOff = Collections.unmodifiableSet(new TreeSet<>(cutsOff));
        mates = Collections.unmodifiableSet(new TreeSet<>(mates));
        if (chunks.isEmpty()) {
            throw new IllegalArgumentException("%s has nothing to do".formatted(name));
        }
    }
}
