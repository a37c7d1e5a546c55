package calmstep.service.runs;

import calmstep.service.problems.Refusal;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** One word for many units of a run; each hears it for itself. */
@Component
class ManyUnits {
    private final Runs runs;
    private final UnitRows units;

    ManyUnits(Runs runs, UnitRows units) {
        this.runs = runs;
        this.units = units;
    }

    /** Says go for all that stand at their gate. @param site empty for all sites */
    RunView go(String runName, Optional<String> site, String who) {
        List<String> atGate = atSite(runName, site).stream().filter(unit -> unit.gateQuestion != null && !unit.gateOpen && !unit.isOver()).map(unit -> unit.name).toList();
        if (atGate.isEmpty()) {
            throw Refusal.conflict("No unit%s is at a gate.".formatted(site.map(" at "::concat).orElse("")));
        }
        atGate.forEach(unit -> runs.sayGo(runName, unit, who));
        return runs.find(runName);
    }

    /** Holds all units of a site, or lets them go on. */
    RunView hold(String runName, String site, boolean held, String who) {
        List<String> concerned = atSite(runName, Optional.of(site)).stream().filter(unit -> !unit.isOver() && unit.held != held).map(unit -> unit.name).toList();
        if (concerned.isEmpty()) {
            throw Refusal.conflict("No unit at %s is %s.".formatted(site, held ? "left to be held" : "held"));
        }
        concerned.forEach(unit -> runs.sayHold(runName, unit, held, who));
        return runs.find(runName);
    }

    private List<UnitRow> atSite(String runName, Optional<String> site) {
        List<UnitRow> all = units.findByRunIdOrderByName(runs.idOf(runName));
        site.filter(name -> all.stream().noneMatch(unit -> unit.site.equals(name))).ifPresent(name -> {
            throw Refusal.notFound("site of this run", name);
        });
        return all.stream().filter(unit -> site.isEmpty() || unit.site.equals(site.get())).toList();
    }
}
