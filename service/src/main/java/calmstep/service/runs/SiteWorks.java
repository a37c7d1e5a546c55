package calmstep.service.runs;

import calmstep.core.fleet.Site;
import calmstep.core.plan.Reached;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitState;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/** What runs do to sites. */
@Component
public class SiteWorks {
    private final RunRows runs;
    private final UnitRows units;
    private final UnitPlans unitPlans;
    private final ReachedSites reached;
    private final Fleet fleet;
    private final Json json;

    SiteWorks(
            RunRows runs,
            UnitRows units,
            UnitPlans unitPlans,
            ReachedSites reached,
            Fleet fleet,
            Json json) {
        this.runs = runs;
        this.units = units;
        this.unitPlans = unitPlans;
        this.reached = reached;
        this.fleet = fleet;
        this.json = json;
    }

    /** As it stands now. */
    public SiteWork of(long runId, String site) {
        RunRow run = runs.findById(runId).orElseThrow();
        Map<Long, Reached> cutOff = reached.at(runId, site);
        Map<String, Site> sites = fleet.sitesByAnyName();
        List<SiteWork.Unit> concerned =
                units.findByRunIdOrderByName(runId).stream()
                        .filter(row -> row.site.equals(site) || cutOff.containsKey(row.id()))
                        .map(
                                row ->
                                        unit(
                                                row,
                                                row.site.equals(site)
                                                        ? ""
                                                        : Optional.ofNullable(sites.get(row.site))
                                                                .map(Site::title)
                                                                .orElse(row.site),
                                                Optional.ofNullable(cutOff.get(row.id()))))
                        .sorted(Comparator.comparing(unit -> !unit.isHere()))
                        .toList();
        return new SiteWork(run.name, run.startedBy, run.planId, concerned);
    }

    private static List<String> serves(String own, Optional<Reached> cutOff) {
        return Stream.concat(
                        Stream.of(own).filter(users -> !users.isEmpty()),
                        cutOff.stream().flatMap(behind -> behind.serves().stream()))
                .distinct()
                .toList();
    }

    private SiteWork.Unit unit(UnitRow row, String at, Optional<Reached> cutOff) {
        UnitPlan plan = unitPlans.of(row);
        return new SiteWork.Unit(
                row.name,
                at,
                cutOff.map(Reached::devices).orElse(List.of()),
                serves(at.isEmpty() ? plan.serves() : "", cutOff),
                plan.from(),
                plan.to(),
                plan.dark().toSeconds(),
                json.read(row.turns, Runs.TURNS),
                UnitState.parse(row.state),
                row.forContacts);
    }
}
