package calmstep.service.runs;

import static calmstep.core.known.Known.known;

import calmstep.core.plan.Timetable;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;

/**
 * Makes the rows of a run's units and of their steps: a few statements for a thousand of them,
 * since whoever says start waits for it.
 */
@Component
class NewUnits {
    private final RunRows runs;
    private final UnitRows units;
    private final ReachedSites reached;
    private final Fleet fleet;
    private final Json json;
    private final JdbcTemplate sql;

    NewUnits(
            RunRows runs,
            UnitRows units,
            ReachedSites reached,
            Fleet fleet,
            Json json,
            JdbcTemplate sql) {
        this.runs = runs;
        this.units = units;
        this.reached = reached;
        this.fleet = fleet;
        this.json = json;
        this.sql = sql;
    }

    /**
     * Within a transaction, before anything is written in it. @throws Refusal when a device is in
     * another unfinished run
     */
    void mustBeFree(List<UnitPlan> plans) {
        units.oneStartsAtATime();
        Collection<Long> devices = fleet.ids(devicesOf(plans)).values();
        units.inUnfinishedRuns(devices).stream()
                .findFirst()
                .ifPresent(
                        other -> {
                            String otherRun =
                                    runs.findById(other.runId).map(run -> run.name).orElse("");
                            throw Refusal.conflict(
                                    "%s is in the run %s, which is not finished. Finish it or set the unit aside there first."
                                            .formatted(other.name, otherRun));
                        });
    }

    private static List<String> devicesOf(List<UnitPlan> plans) {
        return plans.stream().map(UnitPlan::device).toList();
    }

    /**
     * Within a transaction.
     *
     * @param timetable empty for a plan without nights
     * @param asks whether a person is asked at the gate of a unit
     */
    void add(
            RunRow run,
            List<UnitPlan> plans,
            Optional<Timetable> timetable,
            Predicate<Optional<Timetable.Entry>> asks) {
        Map<String, Long> devices = fleet.ids(devicesOf(plans));
        List<Object[]> steps = new ArrayList<>();
        Map<String, Long> ids = new HashMap<>();
        for (UnitPlan plan : plans) {
            Optional<Timetable.Entry> entry =
                    timetable.map(table -> table.units().get(plan.device()));
            UnitRow unit = new UnitRow();
            unit.runId = run.id();
            unit.deviceId = known(devices, plan.device());
            unit.name = plan.device();
            unit.site = plan.site();
            unit.plan = json.write(plan);
            entry.ifPresent(
                    known -> {
                        unit.turns = json.write(known.turns());
                        unit.beside = json.write(known.beside());
                    });
            unit.asks = asks.test(entry);
            unit.gateOpen = !unit.asks;
            units.save(unit);
            ids.put(unit.name, unit.id());
            int ordinal = 0;
            for (StepRecord record : UnitMachine.start(plan)) {
                steps.add(
                        new Object[] {
                            unit.id(),
                            ++ordinal,
                            record.hop(),
                            record.name().toString(),
                            StepState.DUE.toString()
                        });
            }
        }
        units.flush();
        sql.batchUpdate(
                "insert into run_step (unit_id, ordinal, hop, name, state, attempts, version)"
                        + " values (?, ?, ?, ?, ?, 0, 0)",
                steps);
        if (!run.rehearsal) {
            reached.keep(plans, ids);
        }
    }
}
