package calmstep.core.plan;

import calmstep.core.step.UnitPlan;
import java.util.List;

/** What drafting gives: the units that have something to do, and every finding. */
public record Draft(List<UnitPlan> units, List<Finding> findings) {
    public Draft {
        units = List.copyOf(units);
        findings = List.copyOf(findings);
    }
}
