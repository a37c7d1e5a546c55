package calmstep.service.plans;

import calmstep.core.fleet.Site;
import calmstep.core.plan.Draft;
import calmstep.core.plan.NightsView;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The nights of plans as calendars. */
@Component
public class PlanCalendars {
    private final PlanRows rows;
    private final StoredPlans stored;
    private final PlanNights planNights;
    private final Fleet fleet;
    private final Clock clock;

    PlanCalendars(
            PlanRows rows, StoredPlans stored, PlanNights planNights, Fleet fleet, Clock clock) {
        this.rows = rows;
        this.stored = stored;
        this.planNights = planNights;
        this.fleet = fleet;
        this.clock = clock;
    }

    /** When a part of a unit's path is done. */
    public record Span(Instant begins, Instant ends) {}

    /**
     * As an iCalendar text.
     *
     * @param site name of a site; empty means all
     * @throws Refusal for a plan without nights, or one that never disturbed such a site
     */
    @Transactional(readOnly = true)
    public String of(String plan, String site) {
        return of(stored.require(plan), site, Map.of());
    }

    /**
     * Of a site in a run.
     *
     * @param spans when parts are done, by unit and part by part
     * @return empty where the plan has no nights, or none that concerns the site
     */
    @Transactional(readOnly = true)
    public Optional<String> ofRun(long planId, String site, Map<String, List<Span>> spans) {
        return rows.findById(planId)
                .filter(row -> !row.nights.isEmpty())
                .filter(row -> stored.siteNights(row).begins().containsKey(site))
                .map(row -> of(row, site, spans));
    }

    private String of(PlanRow row, String site, Map<String, List<Span>> spans) {
        Draft draft = stored.draftOf(row);
        NightsView nights =
                planNights.view(
                        row.name,
                        stored.nightsOf(row).orElseThrow(() -> StoredPlans.noNights(row, draft)),
                        stored.wishesOf(row),
                        StoredPlans.startOf(row),
                        draft.units(),
                        stored.decisions(row).leftOut());
        Map<String, Site> sites = fleet.sitesByAnyName();
        return new PlanCalendar(nights, row.state, sites, clock.instant(), stored.siteNights(row))
                .of(site, spans);
    }
}
