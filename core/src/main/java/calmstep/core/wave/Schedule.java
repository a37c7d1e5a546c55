package calmstep.core.wave;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.SequencedSet;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Every part at its place, and the units that no window holds.
 *
 * @param from beginning of the task
 * @param placements by beginning, then unit
 * @param nowhere by unit
 * @param atLeast what no schedule can beat
 */
public record Schedule(
        Instant from, List<Placement> placements, List<FitsNowhere> nowhere, Bound atLeast) {
    public Schedule {
        placements = List.copyOf(placements);
        nowhere = List.copyOf(nowhere);
    }

    /**
     * What holds for every schedule of the units that this one places.
     *
     * @param nights how many it takes at least
     * @param end before which none ends; the beginning of the task where nothing is placed
     */
    public record Bound(int nights, Instant end) {}

    public SequencedSet<LocalDate> nights() {
        return placements.stream()
                .map(Placement::night)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    public Optional<Instant> end() {
        return placements.stream().map(Placement::ends).max(Instant::compareTo);
    }

    /**
     * How much later than the bound it ends, as a share of the bound; 0 where it cannot end
     * earlier.
     */
    public double distance() {
        double least = Duration.between(from, atLeast.end()).toSeconds();
        return end().filter(_ -> least > 0)
                .map(end -> Duration.between(from, end).toSeconds() / least - 1)
                .orElse(0.0);
    }

    public List<Placement> of(String unit) {
        return placements.stream().filter(p -> p.unit().equals(unit)).toList();
    }

    /** The same without some units: what a person left out is not done. */
    public Schedule without(Collection<String> units) {
        return units.isEmpty()
                ? this
                : new Schedule(
                        from,
                        placements.stream().filter(p -> !units.contains(p.unit())).toList(),
                        nowhere.stream().filter(n -> !units.contains(n.unit())).toList(),
                        atLeast);
    }
}
