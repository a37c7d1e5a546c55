package calmstep.service.runs;

import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import java.util.List;
import java.util.Optional;

/** How a unit stands: a copy of its rows. */
record Standing(RunRow run, UnitRow unit, List<StepRow> steps) {
    boolean isOver() {
        return run.isOver() || unit.isOver();
    }

    /**
     * Whether something odd about it waits for a person; in a rehearsal there is none who could
     * judge.
     */
    boolean isDoubtful() {
        return unit.isDoubtful() && !run.rehearsal;
    }

    boolean isHeld() {
        return run.state.equals(RunRow.HELD) || unit.held;
    }

    StepRow row(StepRecord record) {
        return steps.stream().filter(s -> s.is(record)).findFirst().orElseThrow();
    }

    /** Where a step was put in once more, the last one. */
    Optional<StepRow> find(int hop, StepName name) {
        return steps.stream()
                .filter(s -> s.hop == hop && s.name.equals(name.toString()))
                .reduce((_, last) -> last);
    }

    /** As {@link StepRow#drained}. */
    Scene.Drained drained(int hop) {
        return StepRow.drained(steps, hop);
    }
}
