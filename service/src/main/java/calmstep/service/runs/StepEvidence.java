package calmstep.service.runs;

import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Reading;
import calmstep.core.step.Evidence;
import calmstep.core.step.StepName;
import calmstep.service.json.Json;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** What steps left for the record: kept apart from their rows, which are read all the time. */
@Component
class StepEvidence {
    private static final int MOST_READ = 1_500;

    private final EvidenceRows rows;
    private final Json json;

    /** What a device showed at its check is asked for by each step behind it. */
    private final Remembered<Told, Optional<Reading>> read = new Remembered<>(MOST_READ);

    /** A step that is done once more tells something else. */
    private record Told(long step, @Nullable Instant at) {}

    StepEvidence(EvidenceRows rows, Json json) {
        this.rows = rows;
        this.json = json;
    }

    /** What is shown of it with the step. */
    record Shown(List<Change> changes, Optional<ConfigurationComparison> configuration) {
        static final Shown NOTHING = new Shown(List.of(), Optional.empty());
    }

    /** Within a transaction. A step that is done once more leaves its newest. */
    void keep(StepRow step, Evidence evidence) {
        EvidenceRow row = rows.findById(step.id()).orElseGet(EvidenceRow::new);
        row.stepId = step.id();
        row.body = json.write(evidence);
        rows.save(row);
        boolean tells = !evidence.changes().isEmpty() || evidence.configuration().isPresent();
        step.shown =
                tells ? json.write(new Shown(evidence.changes(), evidence.configuration())) : null;
    }

    Shown shown(StepRow step) {
        return step.shown == null ? Shown.NOTHING : json.read(step.shown, Shown.class);
    }

    /** What the check of a hop saw; where that did not come so far, the one before it. */
    Optional<Reading> before(List<StepRow> rows, int hop) {
        return checks(rows)
                .filter(row -> row.hop <= hop)
                .sorted(
                        Comparator.comparingInt((StepRow row) -> row.hop)
                                .thenComparingInt(row -> row.ordinal)
                                .reversed())
                .flatMap(row -> reading(row).stream())
                .findFirst();
    }

    /** What the very first check of a unit saw. */
    Optional<Reading> first(List<StepRow> rows) {
        return checks(rows)
                .sorted(Comparator.comparingInt((StepRow row) -> row.ordinal))
                .flatMap(row -> reading(row).stream())
                .findFirst();
    }

    private static Stream<StepRow> checks(List<StepRow> rows) {
        return rows.stream().filter(row -> row.name.equals(StepName.CHECK.toString()));
    }

    /** What the device showed at a step. */
    Optional<Reading> reading(StepRow step) {
        Optional<Optional<Reading>> known = read.find(new Told(step.id(), step.finishedAt));
        if (known.isPresent()) {
            return known.get();
        }
        Optional<Reading> found =
                rows.findById(step.id())
                        .flatMap(row -> json.read(row.body, Evidence.class).reading());
        if (step.stepState().isFinished()) {
            read.put(new Told(step.id(), step.finishedAt), found);
        }
        return found;
    }
}
