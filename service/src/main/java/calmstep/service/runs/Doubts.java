package calmstep.service.runs;

import calmstep.core.step.Evidence;
import calmstep.core.step.StepName;
import calmstep.service.events.Events;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
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
     * hop that another one follows, unless the plan says to go on: then it waits until the end.
     * What somebody accepted once is not asked again.
     */
    void raise(RunRow run, UnitRow unit, StepRow step, Evidence evidence) {
        boolean atTheEnd = step.name.equals(StepName.SOAK.toString());
        boolean between = step.name.equals(StepName.PROVE.toString()) && isFollowed(unit, step);
        if (!atTheEnd && !between) {
            return;
        }
        List<String> odd =
                Stream.concat(
                                atTheEnd ? unit.passedOver.lines() : Stream.empty(),
                                evidence.cautions().stream())
                        .distinct()
                        .filter(one -> unit.accepted.lines().noneMatch(one::equals))
                        .toList();
        if (odd.isEmpty()) {
            return;
        }
        if (between && run.goesOnWhenOdd) {
            unit.passedOver =
                    Stream.concat(unit.passedOver.lines(), odd.stream())
                            .distinct()
                            .collect(Collectors.joining("\n"));
            tell(
                    unit,
                    "%s goes on although something is odd behind hop %s, for its plan says so: %s."
                            .formatted(unit.name, step.hop, String.join("; ", odd)));
            return;
        }
        unit.doubt = String.join("\n", odd);
        unit.judgedAt = null;
        unit.judgedBy = null;
        unit.judgedWhy = null;
        tell(unit, "%s waits for a judgement: %s.".formatted(unit.name, String.join("; ", odd)));
    }

    private void tell(UnitRow unit, String sentence) {
        events.append(Optional.of(unit.runId), unit.name, "unit", Events.SERVICE, sentence);
    }

    private boolean isFollowed(UnitRow unit, StepRow step) {
        return steps.findByUnitIdOrderByOrdinal(unit.id()).stream()
                .anyMatch(other -> other.hop > step.hop && !other.stepState().isFinished());
    }
}
