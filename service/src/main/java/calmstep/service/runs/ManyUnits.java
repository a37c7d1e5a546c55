package calmstep.service.runs;

import calmstep.core.fleet.Site;
import calmstep.core.step.Turn;
import calmstep.core.window.Window;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** One word for many units of a run; each hears it for itself. */
@Component
class ManyUnits {
    private final Runs runs;
    private final UnitRows units;
    private final Fleet fleet;
    private final Json json;

    ManyUnits(Runs runs, UnitRows units, Fleet fleet, Json json) {
        this.runs = runs;
        this.units = units;
        this.fleet = fleet;
        this.json = json;
    }

    /**
     * Which units of a run.
     *
     * @param site empty for all sites
     * @param night that of a wave, as its sites name it: the evening in which its windows open;
     *     empty for all
     */
    record Those(Optional<String> site, Optional<LocalDate> night) {
        static Those of(@Nullable String site, @Nullable LocalDate night) {
            return new Those(Optional.ofNullable(site), Optional.ofNullable(night));
        }

        boolean areAll() {
            return site.isEmpty() && night.isEmpty();
        }

        @Override
        public String toString() {
            return site.map(" at "::concat).orElse("")
                    + night.map(" in the night of %s"::formatted).orElse("");
        }
    }

    /** Says go for all that stand at their gate. */
    RunView go(String runName, Those those, String who) {
        List<String> atGate =
                find(runName, those).stream()
                        .filter(
                                unit ->
                                        unit.gateQuestion != null
                                                && !unit.gateOpen
                                                && !unit.isOver())
                        .map(unit -> unit.name)
                        .toList();
        if (atGate.isEmpty()) {
            throw Refusal.conflict("No unit%s is at a gate.".formatted(those));
        }
        atGate.forEach(unit -> runs.sayGo(runName, unit, who));
        return runs.find(runName);
    }

    /** Holds them, or lets them go on. */
    RunView hold(String runName, Those those, boolean held, String who) {
        List<String> concerned =
                find(runName, those).stream()
                        .filter(unit -> !unit.isOver() && unit.held != held)
                        .map(unit -> unit.name)
                        .toList();
        if (concerned.isEmpty()) {
            throw Refusal.conflict(
                    "No unit%s is %s.".formatted(those, held ? "left to be held" : "held"));
        }
        concerned.forEach(unit -> runs.sayHold(runName, unit, held, who));
        return runs.find(runName);
    }

    private List<UnitRow> find(String runName, Those those) {
        List<UnitRow> all = units.findByRunIdOrderByName(runs.idOf(runName));
        those.site()
                .filter(name -> all.stream().noneMatch(unit -> unit.site.equals(name)))
                .ifPresent(
                        name -> {
                            throw Refusal.notFound("site of this run", name);
                        });
        Map<String, Site> sites = fleet.sitesByAnyName();
        return all.stream()
                .filter(unit -> those.site().isEmpty() || unit.site.equals(those.site().get()))
                .filter(unit -> isOfNight(unit, those, sites))
                .toList();
    }

    private static ZoneId zoneOf(UnitRow unit, Map<String, Site> sites) {
        return Optional.ofNullable(sites.get(unit.site)).map(Site::zone).orElse(ZoneOffset.UTC);
    }

    private boolean isOfNight(UnitRow unit, Those those, Map<String, Site> sites) {
        return those.night().isEmpty() || nightOf(unit, zoneOf(unit, sites)).equals(those.night());
    }

    /** Of the part that is in work, or comes next. */
    private Optional<LocalDate> nightOf(UnitRow unit, ZoneId zone) {
        List<Turn> turns = json.read(unit.turns, Runs.TURNS);
        return turns.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        Window.nightOf(
                                turns.get(
                                                Math.min(
                                                        turns.size() - 1,
                                                        unit.inWork ? unit.begun - 1 : unit.begun))
                                        .begins(),
                                zone));
    }
}
