package calmstep.service.plans;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.known.Known;
import calmstep.core.order.RollingOrder;
import calmstep.core.order.UnitOrder;
import calmstep.core.plan.Concern;
import calmstep.core.plan.Finding;
import calmstep.core.plan.NightPlanning;
import calmstep.core.plan.Nights;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.Severity;
import calmstep.core.plan.Start;
import calmstep.core.plan.Timetable;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Placement;
import calmstep.core.wave.Schedule;
import calmstep.core.wave.Wishes;
import calmstep.core.window.NightRules;
import calmstep.core.window.Window;
import calmstep.service.durations.LearntTimes;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import calmstep.service.reach.Reaches;
import calmstep.service.releases.Catalogues;
import calmstep.service.windows.Windows;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Works out the nights of plans and tells them. */
@Component
class PlanNights {
    private final Fleet fleet;
    private final Catalogues catalogues;
    private final Windows windows;
    private final Reaches reaches;
    private final LearntTimes learnt;
    private final Clock clock;

    PlanNights(
            Fleet fleet,
            Catalogues catalogues,
            Windows windows,
            Reaches reaches,
            LearntTimes learnt,
            Clock clock) {
        this.fleet = fleet;
        this.catalogues = catalogues;
        this.windows = windows;
        this.reaches = reaches;
        this.learnt = learnt;
        this.clock = clock;
    }

    /**
     * The nights from now on; empty as long as nobody said when sites may be disturbed and the plan
     * waits for windows.
     */
    Optional<Nights> workedOut(List<UnitPlan> units, Wishes wishes, Start start) {
        return known(units, start)
                .map(known -> NightPlanning.of(units, known, wishes, start, clock.instant()));
    }

    /**
     * What a person should know of when a plan is carried out, and who is asked.
     *
     * @param nights empty where there are none
     */
    static List<Finding> findings(Optional<Nights> nights, Wishes wishes, Start start) {
        List<Finding> found =
                new ArrayList<>(nights.map(some -> some.findings(start)).orElse(List.of()));
        if (wishes.asks() == Wishes.Asks.NOBODY) {
            found.add(new Concern.AsksNobody().about(""));
        }
        if (wishes.whenOdd() == Wishes.WhenOdd.GO_ON) {
            found.add(new Concern.GoesOnWhenOdd().about(""));
        }
        return found;
    }

    /** What was not to be accepted before, and is now, as sentences. */
    static Stream<String> toAccept(List<Finding> found, List<Finding> before) {
        Set<String> known = before.stream().map(Finding::key).collect(Collectors.toSet());
        return found.stream()
                .filter(finding -> finding.severity() == Severity.CAUTION)
                .filter(finding -> !known.contains(finding.key()))
                .map(Finding::fact)
                .map(fact -> "somebody has to accept: " + fact.replaceAll("\\.$", ""));
    }

    /**
     * @throws Refusal for a moment that has gone by
     */
    void mustBeAhead(Start start) {
        Instant now = clock.instant();
        if (start.isPast(now)) {
            throw Refusal.wrong(
                    "Expected a moment that is still to come, saw %s; now it is %s. Say another one, now, or next-window."
                            .formatted(start.words(), now.truncatedTo(ChronoUnit.SECONDS)));
        }
    }

    /**
     * With other wishes, and everything else where it was as far as that goes; anew where it is to
     * begin otherwise or sites are put in order.
     */
    Optional<Nights> wished(
            Nights before,
            Wishes wishesBefore,
            Start startBefore,
            List<UnitPlan> units,
            Wishes wishes,
            Start start) {
        boolean anew =
                !start.equals(startBefore) || !wishes.siteOrder().equals(wishesBefore.siteOrder());
        return anew
                ? workedOut(units, wishes, start)
                : known(units, start).map(known -> keeping(known, before, units, wishes, start));
    }

    private Nights keeping(
            NightPlanning.Known known,
            Nights before,
            List<UnitPlan> units,
            Wishes wishes,
            Start start) {
        return NightPlanning.keeping(before, units, known, wishes, start, clock.instant());
    }

    /**
     * What a run of these units that begins now keeps to.
     *
     * @param pace of the devices' clocks
     */
    Optional<Timetable> timetable(Nights nights, List<UnitPlan> units, Start start, int pace) {
        return known(units, start)
                .map(
                        known ->
                                NightPlanning.timetable(
                                        nights, units, known, start, clock.instant(), pace));
    }

    private Optional<NightPlanning.Known> known(List<UnitPlan> units, Start start) {
        Optional<NightRules> rules = windows.current();
        if ((rules.isEmpty() && start instanceof Start.NextWindow) || units.isEmpty()) {
            return Optional.empty();
        }
        Reaches.Look network = reaches.look();
        mustBeThere(units, network);
        Map<String, Catalogue> known =
                catalogues.all().stream()
                        .collect(Collectors.toMap(Catalogue::family, c -> c, (a, _) -> a));
        return Optional.of(
                new NightPlanning.Known(
                        network.devices(),
                        known,
                        fleet.sitesByAnyName(),
                        rules.orElse(NightRules.NONE),
                        network.graph(),
                        learnt.times(),
                        rights(units, network)));
    }

    private Map<String, List<Ailment.Ends>> rights(List<UnitPlan> units, Reaches.Look network) {
        Instant now = clock.instant();
        return units.stream()
                .map(UnitPlan::device)
                .collect(
                        Collectors.toMap(
                                Function.identity(),
                                device -> network.rights(device, now),
                                (a, _) -> a));
    }

    private static void mustBeThere(List<UnitPlan> units, Reaches.Look network) {
        units.stream()
                .map(UnitPlan::device)
                .filter(device -> !network.devices().containsKey(device))
                .findFirst()
                .ifPresent(
                        gone -> {
                            throw Refusal.conflict(
                                    "%s is not in the inventory any more. Work the plan out again: calmstep plan again"
                                            .formatted(gone));
                        });
    }

    /**
     * The order inside a unit; empty for a device that is not several, or is not in the inventory
     * any more.
     */
    Optional<RollingOrder> orderOf(UnitPlan unit, @Nullable Device device) {
        return Optional.ofNullable(device)
                .flatMap(
                        d ->
                                catalogues
                                        .find(d.family())
                                        .flatMap(
                                                catalogue ->
                                                        UnitOrder.of(d, catalogue, unit.path())))
                .map(order -> asPlanned(order, unit));
    }

    private static RollingOrder asPlanned(RollingOrder order, UnitPlan unit) {
        boolean restores = unit.hops().getLast().steps().contains(StepName.RESTORE_ROLES);
        RollingOrder whole = order.rolesBack().filter(_ -> restores).map(order::and).orElse(order);
        boolean drains = unit.hops().stream().anyMatch(h -> h.steps().contains(StepName.DRAIN));
        return drains ? whole.drained() : whole;
    }

    private Map<String, Device> devices() {
        return fleet.devices().stream()
                .collect(Collectors.toMap(Device::name, Function.identity()));
    }

    /**
     * What keeps nights from being carried out as they were worked out: windows that are not there
     * any more, and time that has gone by.
     */
    List<String> outdated(Nights nights, Start start, Set<String> leftOut) {
        Schedule schedule = nights.schedule().without(leftOut);
        if (!(start instanceof Start.NextWindow) || schedule.placements().isEmpty()) {
            return List.of();
        }
        List<String> changes = new ArrayList<>();
        Map<String, Site> sites = fleet.sitesByAnyName();
        Map<String, Device> devices = devices();
        NightRules rules = windows.current().orElse(NightRules.NONE);
        Instant until = schedule.end().orElseThrow().plusSeconds(86_400);
        Map<String, List<Window>> open = new HashMap<>();
        for (Placement placement : schedule.placements()) {
            Optional<String> site =
                    Optional.ofNullable(devices.get(placement.unit())).map(Device::site);
            if (site.isPresent()
                    && open
                            .computeIfAbsent(
                                    site.get(),
                                    name ->
                                            rules.of(
                                                    Known.known(sites, name),
                                                    schedule.from(),
                                                    until))
                            .stream()
                            .noneMatch(
                                    w ->
                                            !placement.begins().isBefore(w.opens())
                                                    && !placement.ends().isAfter(w.closes()))) {
                changes.add(
                        "%s was to be done in the night of %s; that is outside of the windows of %s now"
                                .formatted(placement.unit(), placement.night(), site.get()));
            }
        }
        Placement first = schedule.placements().getFirst();
        if (first.closes().isBefore(clock.instant())) {
            changes.add(
                    "the window in the night of %s, in which %s was to begin, has closed without it"
                            .formatted(first.night(), first.unit()));
        }
        return changes;
    }

    NightsView view(
            String plan,
            Nights all,
            Wishes wishes,
            Start start,
            List<UnitPlan> units,
            Collection<String> leftOut) {
        return NightsView.of(
                plan, all, wishes, start, units, devices(), fleet.sitesByAnyName(), leftOut);
    }

    /**
     * @throws Refusal for a start that is none
     */
    static Start startOf(String words) {
        return Refusal.reading(() -> Start.parse(words));
    }
}
