package calmstep.service.records;

import calmstep.core.fleet.Reading;
import calmstep.core.step.Digests;
import calmstep.service.backups.BackupStore;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.ReadDevices;
import calmstep.service.json.Json;
import calmstep.service.plans.Plans;
import calmstep.service.problems.Refusal;
import calmstep.service.records.RunRecord.UnitRecord;
import calmstep.service.runs.RunFinished;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunView.UnitInRun;
import calmstep.service.runs.RunViews;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.event.TransactionPhase;
import org.springframework.transaction.event.TransactionalEventListener;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes records and gives them back. */
@Configuration
class Records {
    private static final Logger LOG = LoggerFactory.getLogger(Records.class);

    /** Whoever ended a run waits for its record, and devices that are away take their time. */
    private static final Duration READ_WITHIN = Duration.ofSeconds(60);

    private final RecordRows rows;
    private final RunViews runs;
    private final Plans plans;
    private final BackupStore backups;
    private final Fleet fleet;
    private final ReadDevices devices;
    private final Events events;
    private final Json json;
    private final TransactionTemplate transactions;
    private final Clock clock;

    Records(
            RecordRows rows,
            RunViews runs,
            Plans plans,
            BackupStore backups,
            Fleet fleet,
            ReadDevices devices,
            Events events,
            Json json,
            TransactionTemplate transactions,
            Clock clock) {
        this.rows = rows;
        this.runs = runs;
        this.plans = plans;
        this.backups = backups;
        this.fleet = fleet;
        this.devices = devices;
        this.events = events;
        this.json = json;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * @param sha256 digest of the record's JSON text
     */
    record RecordSummary(String run, Instant madeAt, String sha256, int settled, int units) {}

    /**
     * Behind the end of a run, not within it: reading a thousand units takes its time, and whoever
     * writes down that a run ends keeps all others from writing.
     */
    @TransactionalEventListener(phase = TransactionPhase.AFTER_COMMIT)
    public void make(RunFinished finished) {
        // On a thread of its own: on this one the session of what was committed is still open, with
        // all that it holds, and each reading would compare all of it.
        Thread making =
                Thread.ofVirtual().name("record").start(() -> makeNowOrLater(finished.runId()));
        try {
            making.join();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    /** Nothing of it changes any more, so it can be made at any time: also behind a crash. */
    @Bean
    RecurringTask<Void> recordsAreMade() {
        return Tasks.recurring("records-are-made", FixedDelay.ofSeconds(10))
                .execute((_, _) -> rows.missing().forEach(this::makeNowOrLater));
    }

    private void makeNowOrLater(long runId) {
        try {
            make(runId);
        } catch (RuntimeException failed) {
            LOG.error("The record of run {} could not be made just now", runId, failed);
        }
    }

    private void make(long runId) {
        RunView run = runs.byId(runId);
        devices.readNow(
                run.units().stream().filter(this::isUnseen).map(UnitInRun::device).toList(),
                READ_WITHIN);
        List<UnitRecord> units = run.units().stream().map(this::recordOf).toList();
        RecordRow row = new RecordRow();
        row.runId = runId;
        row.madeAt = clock.instant();
        row.body =
                json.write(
                        new RunRecord(
                                run.name(),
                                row.madeAt,
                                plans.find(run.plan()),
                                run,
                                units,
                                events.ofRun(runId),
                                events.isChainWhole(runId)));
        row.sha256 = Digests.sha256(row.body);
        transactions.executeWithoutResult(
                _ -> {
                    rows.oneMakesIt(runId);
                    if (!rows.existsByRunId(runId)) {
                        rows.save(row);
                    }
                });
    }

    /** It left the run without a proof, and nobody has read it since. */
    private boolean isUnseen(UnitInRun unit) {
        return !isProven(unit) && readSince(unit).isEmpty();
    }

    private static boolean isProven(UnitInRun unit) {
        return unit.state().equals("settled") || unit.state().equals("returned");
    }

    /** What the fleet shows of it, where that was read when nothing was done to it any more. */
    private Optional<Reading> readSince(UnitInRun unit) {
        Instant last =
                unit.steps().stream()
                        .flatMap(step -> Stream.of(step.startedAt(), step.finishedAt()))
                        .filter(Objects::nonNull)
                        .max(Comparator.naturalOrder())
                        .orElse(Instant.MIN);
        return fleet.newestReading(unit.device()).filter(read -> read.takenAt().isAfter(last));
    }

    private UnitRecord recordOf(UnitInRun unit) {
        RunViews.BeforeAfter readings = runs.readingsOf(unit.id());
        return new UnitRecord(
                unit.device(),
                unit.state(),
                readings.before().orElse(null),
                (isProven(unit) ? readings.after() : readSince(unit)).orElse(null),
                backups.ofUnit(unit.id()),
                runs.talkOf(unit.id()),
                runs.turnsOf(unit.id()));
    }

    List<RecordSummary> all() {
        return rows.listed().stream()
                .map(
                        row ->
                                new RecordSummary(
                                        row.getRun(),
                                        row.getMadeAt(),
                                        row.getSha256(),
                                        row.getSettled(),
                                        row.getUnits()))
                .toList();
    }

    private RecordRow require(String name) {
        long run = runs.idOf(name);
        return rows.findByRunId(run).or(() -> madeNow(name, run)).orElseThrow();
    }

    /** Whoever asks in the moment behind a run's end waits for it. */
    private Optional<RecordRow> madeNow(String name, long run) {
        RunView view = runs.find(name);
        if (view.rehearsal()) {
            throw Refusal.conflict(
                    "%s is a rehearsal; what came out of it stays with its plan: calmstep rehearse PLAN --list"
                            .formatted(name));
        }
        if (view.finishedAt() == null) {
            throw Refusal.conflict(
                    "The run %s is not finished; its record is made when it is.".formatted(name));
        }
        make(run);
        return rows.findByRunId(run);
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
