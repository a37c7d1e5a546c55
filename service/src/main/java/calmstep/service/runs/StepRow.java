package calmstep.service.runs;

import calmstep.core.step.Intent;
import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitState;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "run_step")
class StepRow {
    private static final Set<StepName> DRAINING =
            EnumSet.of(StepName.DRAIN, StepName.RESTORE_ROLES);

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long unitId;
    int ordinal;
    int hop;
    int detour;
    String name = "";
    String state = StepState.DUE.toString();
    int attempts;
    String expected = "";
    String seen = "";
    String remedy = "";
    String lastLines = "";
    String waiting = "";
    @Nullable Instant intentAt;
    @Nullable String intentMark;

    /** Of its evidence, what is shown with it; null where nothing is. */
    @Nullable String shown;

    @Nullable String loads;
    @Nullable Instant startedAt;
    @Nullable Instant finishedAt;

    @Version int version;

    long id() {
        return id == null ? 0 : id;
    }

    StepRecord record() {
        return new StepRecord(hop, detour, StepName.parse(name), stepState(), attempts);
    }

    StepState stepState() {
        return StepState.parse(state);
    }

    Optional<Intent> intent() {
        return intentAt == null || intentMark == null
                ? Optional.empty()
                : Optional.of(new Intent(intentAt, intentMark));
    }

    boolean is(StepRecord record) {
        return hop == record.hop()
                && detour == record.detour()
                && name.equals(record.name().toString());
    }

    /** What became of a unit's traffic in a hop, whichever step told it to go another way. */
    static Scene.Drained drained(List<StepRow> rows, int hop) {
        List<StepRow> ofHop = rows.stream().filter(row -> row.hop == hop).toList();
        boolean told =
                ofHop.stream()
                        .filter(row -> DRAINING.contains(StepName.parse(row.name)))
                        .anyMatch(row -> row.intent().isPresent());
        boolean proven =
                ofHop.stream()
                        .filter(row -> row.name.equals(StepName.DRAIN.toString()))
                        .reduce((_, last) -> last)
                        .map(StepRow::stepState)
                        .filter(state -> state == StepState.DONE || state == StepState.NOT_NEEDED)
                        .isPresent();
        return !told ? Scene.Drained.NO : proven ? Scene.Drained.PROVEN : Scene.Drained.TOLD;
    }

    /** The state of a unit with these steps. */
    static UnitState stateOf(List<StepRow> rows) {
        return UnitMachine.stateOf(rows.stream().map(StepRow::record).toList());
    }
}
