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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "run_step")
class StepRow {
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

    /** Members whose absence is its trouble, a line each. */
    String membersOut = "";

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
        Map<StepRecord, StepRow> ofHop = new LinkedHashMap<>();
        rows.stream().filter(row -> row.hop == hop).forEach(row -> ofHop.put(row.record(), row));
        return Scene.Drained.of(
                List.copyOf(ofHop.keySet()),
                record -> Objects.requireNonNull(ofHop.get(record)).intent().isPresent());
    }

    Set<String> membersOut() {
        return lines(membersOut);
    }

    static Set<String> lines(String text) {
        return text.lines().collect(Collectors.toCollection(TreeSet::new));
    }

    /** The state of a unit with these steps. */
    static UnitState stateOf(List<StepRow> rows) {
        return UnitMachine.stateOf(rows.stream().map(StepRow::record).toList());
    }
}
