package calmstep.service.runs;

import calmstep.core.step.Evidence;
import calmstep.core.step.StepName;
import calmstep.service.events.Events;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** What is odd about units, and waits for a person. */
@Component
class Doubts {
    private final StepRows steps;
    private final Events events;

    Doubts(StepRows steps, Events events) {
        this.steps = steps;
        this.events = events;
    }

    /**
     * What is still odd when the watch is over waits for a person, and so does what is odd behind a
     * hop that another one follows. What somebody accepted once is not asked again.
     */
    void raise(UnitRow unit, StepRow step, Evidence evidence) {
        List<String> accepted = unit.accepted.lines().toList();
        List<String> odd =
                evidence.cautions().stream().filter(one -> !accepted.contains(one)).toList();
        boolean isAsked =
                step.name.equals(StepName.SOAK.toString())
                        || (step.name.equals(StepName.PROVE.toString()) && isFollowed(unit, step));
        if (isAsked && !odd.isEmpty()) {
            unit.doubt = String.join("\n", odd);
            unit.judgedAt = null;
            unit.judgedBy = null;
            unit.judgedWhy = null;
            events.append(
                    Optional.of(unit.runId),
                    unit.name,
                    "unit",
                    Events.SERVICE,
                    "%s waits for a judgement: %s.".formatted(unit.name, String.join("; ", odd)));
        }
    }

    private boolean isFollowed(UnitRow unit, StepRow step) {
        return steps.findByUnitIdOrderByOrdinal(unit.id()).stream()
                .anyMatch(other -> other.hop > step.hop && !other.stepState().isFinished());
    }
}
