package calmstep.service.plans;

import calmstep.core.path.Preference;
import calmstep.core.plan.Draft;
import calmstep.core.plan.Nights;
import calmstep.core.plan.Start;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Wishes;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;

/** What stands in the row of a plan. */
@Component
class StoredPlans {
    private static final TypeReference<Map<String, List<Instant>>> SITE_NIGHTS =
            new TypeReference<>() {};

    private final PlanRows rows;
    private final Acknowledgements acknowledgements;
    private final Json json;

    StoredPlans(PlanRows rows, Acknowledgements acknowledgements, Json json) {
        this.rows = rows;
        this.acknowledgements = acknowledgements;
        this.json = json;
    }

    void mustBe(PlanRow row, String... states) {
        if (!List.of(states).contains(row.state)) {
            throw Refusal.conflict(
                    "The plan \"%s\" is %s; expected %s."
                            .formatted(row.name, row.state, String.join(" or ", states)));
        }
    }

    PlanRow require(String name) {
        return rows.findByName(name).orElseThrow(() -> Refusal.notFound("plan", name));
    }

    Optional<Nights> nightsOf(PlanRow row) {
        return row.nights.isEmpty()
                ? Optional.empty()
                : Optional.of(json.read(row.nights, Nights.class));
    }

    /** Keeps its nights as they were worked out now. */
    void keepNights(PlanRow row, Nights nights, List<UnitPlan> units) {
        row.nights = json.write(nights);
        row.siteNights =
                json.write(siteNights(row).and(PlanCalendar.Planned.of(nights, units)).begins());
    }

    /** What was ever planned under its name concerns a new version of it as well. */
    void takeAlongSiteNights(PlanRow fresh, PlanRow before) {
        fresh.siteNights = json.write(siteNights(before).and(siteNights(fresh)).begins());
    }

    PlanCalendar.Planned siteNights(PlanRow row) {
        return new PlanCalendar.Planned(json.read(row.siteNights, SITE_NIGHTS));
    }

    Wishes wishesOf(PlanRow row) {
        return row.wishes.equals("{}") ? Wishes.NONE : json.read(row.wishes, Wishes.class);
    }

    static WayWanted wayOf(PlanRow row) {
        return new WayWanted(
                Preference.parse(row.prefer), row.alternative, WayWanted.Roles.parse(row.roles));
    }

    static Start startOf(PlanRow row) {
        return PlanNights.startOf(row.begins);
    }

    Decisions decisions(PlanRow row) {
        return new Decisions(draftOf(row), acknowledged(row), wishesOf(row).excluded());
    }

    Draft draftOf(PlanRow row) {
        return json.read(row.body, Draft.class);
    }

    Map<String, Acknowledgement> acknowledged(PlanRow row) {
        Map<String, Acknowledgement> given = new LinkedHashMap<>();
        acknowledgements.findByPlanIdOrderById(row.id()).forEach(a -> given.put(a.finding, a));
        return given;
    }

    static Refusal noNights(PlanRow row, Draft draft) {
        return Refusal.conflict(
                draft.units().isEmpty()
                        ? "The plan \"%s\" changes nothing, so it has no nights."
                                .formatted(row.name)
                        : "The plan \"%s\" has no nights: nobody said when sites may be disturbed. Import a windows file, then work it out again: calmstep plan again %s"
                                .formatted(row.name, row.name));
    }
}
