package calmstep.core.plan;

import calmstep.core.step.UnitPlan;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** What drafting gives: the units that have something to do, and every finding. */
public record Draft(List<UnitPlan> units, List<Finding> findings) {
    public Draft {
        units = List.copyOf(units);
        findings = List.copyOf(findings);
    }

    /** The same units with what the nights came to; what was found of earlier nights is gone. */
    public Draft withNights(List<Finding> ofNights) {
        return new Draft(units, Stream.concat(findings.stream().filter(f -> !f.isOfNights()), ofNights.stream()).sorted(Comparator.comparing(Finding::severity).thenComparing(Finding::key)).toList());
    }
}
