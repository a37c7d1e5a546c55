package calmstep.service.runs;

import calmstep.core.device.Trouble;
import calmstep.core.step.Evidence;
import calmstep.core.step.Next;
import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepRunner;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.dialect.SshDoor;
import calmstep.service.Settings;
import calmstep.service.backups.BackupStore;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.shelf.Shelf;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionException;

/** Takes one unit one step further. */
@Component
class UnitDriver {
    private static final Logger LOG = LoggerFactory.getLogger(UnitDriver.class);
    private static final Duration UNTIL_A_WORD = Duration.ofHours(1);
    private static final Duration LEASE_IS_TAKEN = Duration.ofSeconds(1);
    private static final Duration AGAIN = Duration.ofSeconds(2);

    private final UnitLedger ledger;
    private final LeasedDevices leases;
    private final Fleet fleet;
    private final BackupStore backups;
    private final Shelf shelf;
    private final Json json;
    private final Settings settings;
    private final Clock clock;
    private final StepRunner runner;

    UnitDriver(UnitLedger ledger, LeasedDevices leases, Fleet fleet, BackupStore backups, Shelf shelf, Json json, Settings settings, Clock clock) {
        this.ledger = ledger;
        this.leases = leases;
        this.fleet = fleet;
        this.backups = backups;
        this.shelf = shelf;
        this.json = json;
        this.settings = settings;
        this.clock = clock;
        this.runner = new StepRunner(clock);
    }

    /** @return when to come again; empty when the unit is over */
    Optional<Instant> drive(long unitId) {
        UnitLedger.Standing standing = ledger.standing(unitId);
        if (standing.isOver()) {
            return Optional.empty();
        }
        if (standing.isHeld()) {
            return after(UNTIL_A_WORD);
        }
        UnitPlan plan = json.read(standing.unit().plan, UnitPlan.class);
        List<StepRecord> records = standing.steps().stream().map(StepRow::record).toList();
        return switch (UnitMachine.next(plan, records, standing.unit().gateOpen)) {
            case Next.Settled() -> {
                ledger.settle(unitId);
                yield Optional.empty();
            }
            case Next.Stuck _ -> after(UNTIL_A_WORD);
            case Next.AtGate(StepRecord _, String question) -> {
                boolean opened = ledger.askAtGate(unitId, question);
                yield after(opened ? Duration.ZERO : UNTIL_A_WORD);
            }
            case Next.Carry(StepRecord step) -> carry(standing, plan, step);
        };
    }

    private Optional<Instant> after(Duration pause) {
        return Optional.of(clock.instant().plus(pause));
    }

    private Optional<Instant> carry(UnitLedger.Standing standing, UnitPlan plan, StepRecord step) {
        UnitRow unit = standing.unit();
        Optional<LeasedDevices.Lease> taken = leases.take(unit.deviceId, unit.id(), unit.name);
        if (taken.isEmpty()) {
            return after(LEASE_IS_TAKEN);
        }
        StepRow row = standing.row(step);
        try (LeasedDevices.Lease lease = taken.get();
                SshDoor door = fleet.door(unit.name, ledger.talk(unit, row))) {
            Scene scene = scene(standing, plan, step, door);
            StepOutcome outcome = runner.carry(step.name(), scene, ledger.journal(unit.id(), row.id(), lease));
            return switch (ledger.finish(unit.id(), row.id(), outcome, lease)) {
                case StepOutcome.Waiting(String _, Duration again) -> after(again);
                case StepOutcome.Failed(Trouble _, boolean mayPass) -> after(mayPass ? AGAIN : Duration.ZERO);
                case StepOutcome.Done _, StepOutcome.NotNeeded _ -> after(Duration.ZERO);
            };
        } catch (DataAccessException | TransactionException | LeaseLost notOurs) {
            LOG.warn("{} of {} is interrupted and will be looked at again: {}", step.name(), unit.name, notOurs.getMessage());
            throw notOurs;
        } catch (RuntimeException fault) {
            LOG.error("{} of {} failed for a reason of our own", step.name(), unit.name, fault);
            ledger.fault(unit.id(), row.id(), new Trouble("%s is carried out".formatted(step.name()), "a fault of Calm Step itself: %s".formatted(fault),
                    "Nothing more is done to the device. The service's log has more; try the step again when the cause is gone."));
            return after(UNTIL_A_WORD);
        }
    }

    private Scene scene(UnitLedger.Standing standing, UnitPlan plan, StepRecord step, SshDoor door) {
        UnitRow unit = standing.unit();
        Optional<StepRow> check = standing.find(step.hop(), StepName.CHECK);
        return new Scene(plan, plan.hop(step.hop()), door, backups.of(unit.runId, unit.id(), unit.deviceId), shelf, standing.row(step).intent(),
                standing.find(step.hop(), StepName.RESTART).flatMap(StepRow::intent),
                check.flatMap(row -> Optional.ofNullable(row.evidence)).flatMap(text -> json.read(text, Evidence.class).reading()), clock.instant(), settings.pace(),
                fleet.dialectOf(unit.name)::compare);
    }
}
