package calmstep.core.plan;

import calmstep.core.reach.Contradiction;
import calmstep.core.step.UnitPlan;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What drafting gives: the units that have something to do, and every finding. */
public record Draft(List<UnitPlan> units, List<Finding> findings) {
    public Draft {
        units = List.copyOf(units);
        findings = List.copyOf(findings);
    }

    /** With what the network shows of its devices. */
    public Draft withContradictions(List<Contradiction> contradictions) {
        Set<String> devices = units.stream().map(UnitPlan::device).collect(Collectors.toSet());
        return new Draft(
                units,
                sorted(
                        Stream.concat(
                                findings.stream(),
                                contradictions.stream()
                                        .filter(c -> devices.contains(c.device()))
                                        .map(
                                                c ->
                                                        new Concern.NeighboursDiffer(c.sentence())
                                                                .about(c.device())))));
    }

    /** The same, as far as it is not about these devices. */
    public Draft without(Collection<String> devices) {
        return new Draft(
                units.stream().filter(unit -> !devices.contains(unit.device())).toList(),
                findings.stream().filter(found -> !devices.contains(found.device())).toList());
    }

    private static List<Finding> sorted(Stream<Finding> findings) {
        return findings.sorted(Comparator.comparing(Finding::severity).thenComparing(Finding::key))
                .toList();
    }

    /** The same units with what the nights came to; what was found of earlier nights is gone. */
    public Draft withNights(List<Finding> ofNights) {
        return new Draft(
                units,
                sorted(
                        Stream.concat(
                                findings.stream().filter(f -> !f.isOfNights()),
                                ofNights.stream())));
    }
}
