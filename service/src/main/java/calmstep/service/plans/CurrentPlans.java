package calmstep.service.plans;

import calmstep.core.plan.Choice;
import calmstep.core.plan.Draft;
import calmstep.core.plan.DraftChanges;
import calmstep.core.plan.Finding;
import calmstep.core.plan.PlanDrafting;
import calmstep.core.plan.Subject;
import calmstep.core.plan.Target;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.json.Json;
import calmstep.service.paths.HopView;
import calmstep.service.paths.OrderView;
import calmstep.service.plans.PlanView.Answer;
import calmstep.service.plans.PlanView.FindingView;
import calmstep.service.plans.PlanView.PlannedHop;
import calmstep.service.plans.PlanView.PlannedUnit;
import calmstep.service.problems.Refusal;
import calmstep.service.reach.Reaches;
import calmstep.service.releases.Catalogues;
import calmstep.service.releases.Dialects;
import calmstep.service.shelf.Shelf;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;

/** What plans come to now: a plan is only as good as what was known when it was worked out. */
@Component
class CurrentPlans {
    static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    /** Up to so many devices are looked up one by one. */
    private static final int ASKED_ONE_BY_ONE = 20;

    private final StoredPlans stored;
    private final Fleet fleet;
    private final Logins logins;
    private final Catalogues catalogues;
    private final Dialects dialects;
    private final Shelf shelf;
    private final Reaches reaches;
    private final PlanNights planNights;
    private final Json json;
    private final Clock clock;

    CurrentPlans(
            StoredPlans stored,
            Fleet fleet,
            Logins logins,
            Catalogues catalogues,
            Dialects dialects,
            Shelf shelf,
            Reaches reaches,
            PlanNights planNights,
            Json json,
            Clock clock) {
        this.stored = stored;
        this.fleet = fleet;
        this.logins = logins;
        this.catalogues = catalogues;
        this.dialects = dialects;
        this.shelf = shelf;
        this.reaches = reaches;
        this.planNights = planNights;
        this.json = json;
        this.clock = clock;
    }

    /** What comes out for these devices from what is known now. */
    Draft workedOut(String target, WayWanted way, List<String> devices, Reaches.Look network) {
        Set<String> onShelf = shelf.fileNames();
        Set<String> wanted = Set.copyOf(devices);
        List<Fleet.Known> known = asked(devices, wanted);
        return PlanDrafting.draft(
                        Target.parse(target),
                        way,
                        known.stream().map(k -> subject(k, onShelf)).toList(),
                        clock.instant())
                .withContradictions(network.contradictions());
    }

    private List<Fleet.Known> asked(List<String> devices, Set<String> wanted) {
        List<Fleet.Known> known =
                devices.size() > ASKED_ONE_BY_ONE
                        ? fleet.all().stream()
                                .filter(k -> wanted.contains(k.device().name()))
                                .toList()
                        : devices.stream().map(fleet::require).toList();
        return known;
    }

    private Subject subject(Fleet.Known k, Set<String> onShelf) {
        return new Subject(
                k.written(),
                k.reading(),
                catalogues.find(k.device().family()),
                onShelf,
                k.device().logins().stream().anyMatch(logins::hasSecret),
                dialects.can(k.device().family()));
    }

    /**
     * What would come out otherwise if the plan were worked out now; empty for one that is over.
     */
    List<String> changes(PlanRow row, Reaches.Look network) {
        if (!List.of("draft", "ready", "approved").contains(row.state)) {
            return List.of();
        }
        List<String> asked = json.read(row.devices, NAMES);
        List<String> there = there(asked, network);
        List<String> gone =
                asked.stream().filter(device -> !network.devices().containsKey(device)).toList();
        List<String> changes =
                new ArrayList<>(
                        gone.stream()
                                .map("%s is not in the inventory any more"::formatted)
                                .toList());
        changes.addAll(
                DraftChanges.between(
                        stored.draftOf(row).without(gone),
                        workedOut(row.target, StoredPlans.wayOf(row), there, network)));
        stored.nightsOf(row)
                .ifPresent(
                        nights ->
                                changes.addAll(
                                        planNights.outdated(
                                                nights,
                                                StoredPlans.startOf(row),
                                                stored.decisions(row).leftOut())));
        return changes;
    }

    /** Which of some devices are in the inventory still. */
    static List<String> there(List<String> devices, Reaches.Look network) {
        return devices.stream().filter(network.devices()::containsKey).toList();
    }

    void mustBeFresh(PlanRow row) {
        List<String> changes = changes(row, reaches.look());
        if (!changes.isEmpty()) {
            throw Refusal.unusable(
                    "The plan \"%s\" is stale: it would come out otherwise now. Work it out again: calmstep plan again %s"
                            .formatted(row.name, row.name),
                    changes);
        }
    }

    PlanView view(PlanRow row) {
        Reaches.Look network = reaches.look();
        return view(row, changes(row, network), network);
    }

    /**
     * @param changes as {@link #changes} gave them; none for a plan that was worked out or found
     *     fresh just now
     */
    PlanView view(PlanRow row, List<String> changes, Reaches.Look network) {
        Decisions decisions = stored.decisions(row);
        Draft draft = decisions.draft();
        Set<String> leftOut = decisions.leftOut();
        return new PlanView(
                row.name,
                row.target,
                row.prefer,
                row.alternative,
                row.roles,
                changes.isEmpty() ? row.state : "stale",
                row.writtenBy,
                row.writtenAt,
                row.approvedBy,
                row.approvedAt,
                row.version,
                draft.units().stream()
                        .map(
                                u ->
                                        unit(
                                                u,
                                                leftOut.contains(u.device()),
                                                decisions.savesFirst(u.device()),
                                                u.darkensOthers()
                                                        ? List.copyOf(
                                                                network.graph()
                                                                        .cutOffBy(u.device()))
                                                        : List.of(),
                                                planNights
                                                        .orderOf(
                                                                u,
                                                                network.devices().get(u.device()))
                                                        .map(OrderView::of)
                                                        .orElse(null)))
                        .toList(),
                draft.findings().stream()
                        .map(f -> finding(f, Optional.ofNullable(decisions.given().get(f.key()))))
                        .toList(),
                changes);
    }

    private static PlannedUnit unit(
            UnitPlan u,
            boolean leftOut,
            boolean saveFirst,
            List<String> cutsOff,
            @Nullable OrderView order) {
        return new PlannedUnit(
                u.device(),
                u.site(),
                u.serves(),
                cutsOff,
                u.from(),
                u.to(),
                u.restarts(),
                u.dark().toSeconds(),
                u.readAt().orElse(null),
                saveFirst,
                leftOut,
                u.hops().stream()
                        .map(
                                h ->
                                        new PlannedHop(
                                                HopView.of(h.hop(), h.dark()),
                                                h.steps().stream()
                                                        .map(StepName::toString)
                                                        .toList()))
                        .toList(),
                order);
    }

    private static FindingView finding(Finding f, Optional<Acknowledgement> given) {
        return new FindingView(
                f.key(),
                f.severity().toString(),
                f.device(),
                f.fact(),
                f.remedy(),
                f.choices().stream().map(Choice::toString).toList(),
                given.map(a -> new Answer(a.choice, a.reason, a.givenBy, a.at)).orElse(null));
    }
}
