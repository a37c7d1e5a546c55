package calmstep.service.records;

import calmstep.core.step.Digests;
import calmstep.service.backups.BackupStore;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.plans.Plans;
import calmstep.service.problems.Refusal;
import calmstep.service.records.RunRecord.UnitRecord;
import calmstep.service.runs.RunFinished;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunViews;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** Makes records and gives them back. */
@Component
class Records {
    private final RecordRows rows;
    private final RunViews runs;
    private final Plans plans;
    private final BackupStore backups;
    private final Events events;
    private final Json json;
    private final Clock clock;

    Records(RecordRows rows, RunViews runs, Plans plans, BackupStore backups, Events events, Json json, Clock clock) {
        this.rows = rows;
        this.runs = runs;
        this.plans = plans;
        this.backups = backups;
        this.events = events;
        this.json = json;
        this.clock = clock;
    }

    /** @param sha256 digest of the record's JSON text */
    record RecordSummary(String run, Instant madeAt, String sha256, int settled, int units) {}

    @EventListener
    @Transactional(propagation = Propagation.MANDATORY)
    public void make(RunFinished finished) {
        RunView run = runs.byId(finished.runId());
        List<UnitRecord> units = run.units().stream().map(unit -> {
            RunViews.BeforeAfter readings = runs.readingsOf(unit.id());
            return new UnitRecord(unit.device(), unit.state(), readings.before().orElse(null), readings.after().orElse(null), backups.ofUnit(unit.id()), runs.talkOf(unit.id()));
        }).toList();
        RecordRow row = new RecordRow();
        row.runId = finished.runId();
        row.madeAt = clock.instant();
        row.body = json.write(new RunRecord(run.name(), row.madeAt, plans.find(run.plan()), run, units, events.ofRun(finished.runId()), events.isChainWhole(finished.runId())));
        row.sha256 = Digests.sha256(row.body);
        rows.save(row);
    }

    List<RecordSummary> all() {
        return rows.findAllByOrderByIdDesc().stream().map(row -> {
            RunRecord record = json.read(row.body, RunRecord.class);
            int settled = (int) record.units().stream().filter(u -> u.state().equals("settled")).count();
            return new RecordSummary(record.run(), row.madeAt, row.sha256, settled, record.units().size());
        }).toList();
    }

    private RecordRow require(String run) {
        return rows.findByRunId(runs.idOf(run)).orElseThrow(() -> runs.find(run).rehearsal() ? Refusal.conflict("%s is a rehearsal; what came out of it stays with its plan: calmstep rehearse PLAN --list".formatted(run)) : Refusal.conflict("The run %s is not finished; its record is made when it is.".formatted(run)));
    }

    /** The record's text, exactly as its digest was taken. */
    String text(String run) {
        return require(run).body;
    }

    RunRecord find(String run) {
        return json.read(text(run), RunRecord.class);
    }

    String sha256(String run) {
        return require(run).sha256;
    }
}
