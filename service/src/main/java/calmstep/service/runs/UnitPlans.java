package calmstep.service.runs;

import calmstep.core.step.UnitPlan;
import calmstep.service.json.Json;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * The plans of units, read once: a plan never changes once its run has begun (but for the box that
 * takes another's place, members that a person goes on without, and the configuration that a person
 * took over), and every step and every look asks for it.
 */
@Component
class UnitPlans {
    private static final int MOST = 2_500;

    private final Remembered<Long, UnitPlan> read = new Remembered<>(MOST);
    private final Json json;

    UnitPlans(Json json) {
        this.json = json;
    }

    UnitPlan of(UnitRow unit) {
        UnitPlan plan =
                read.of(unit.id(), _ -> json.read(unit.plan, UnitPlan.class))
                        .replacedBy(Optional.ofNullable(unit.serial))
                        .goingOnWithout(StepRow.lines(unit.without));
        return unit.takesOver ? plan.withAnyConfiguration() : plan;
    }
}
