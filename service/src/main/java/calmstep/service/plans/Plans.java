package calmstep.service.plans;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.plan.Choice;
import calmstep.core.plan.Draft;
import calmstep.core.plan.DraftChanges;
import calmstep.core.plan.Finding;
import calmstep.core.plan.NightChanges;
import calmstep.core.plan.Nights;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.PlanOrder;
import calmstep.core.plan.PlanText;
import calmstep.core.plan.Start;
import calmstep.core.plan.Target;
import calmstep.core.plan.Timetable;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Wishes;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.people.People;
import calmstep.service.problems.Refusal;
import calmstep.service.reach.Reaches;
import java.time.Clock;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Drafts plans and leads them to approval. */
@Component
public class Plans {
    private static final Set<String> APPROVERS = Set.of("approver", "admin");

    private final PlanRows rows;
    private final StoredPlans stored;
    private final CurrentPlans current;
    private final Acknowledgements acknowledgements;
    private final Fleet fleet;
    private final Reaches reaches;
    private final PlanNights planNights;
    private final People people;
    private final Events events;
    private final Json json;
    private final Settings settings;
    private final Clock clock;

    Plans(
            PlanRows rows,
            StoredPlans stored,
            CurrentPlans current,
            Acknowledgements acknowledgements,
            Fleet fleet,
            Reaches reaches,
            PlanNights planNights,
            People people,
            Events events,
            Json json,
            Settings settings,
            Clock clock) {
        this.rows = rows;
        this.stored = stored;
        this.current = current;
        this.acknowledgements = acknowledgements;
        this.fleet = fleet;
        this.reaches = reaches;
        this.planNights = planNights;
        this.people = people;
        this.events = events;
        this.json = json;
        this.settings = settings;
        this.clock = clock;
    }

    @Transactional
    public PlanView draft(String name, List<String> devices, String target, String who) {
        return draft(name, devices, target, Start.NEXT_WINDOW, who);
    }

    @Transactional
    public PlanView draft(
            String name, List<String> devices, String target, String begins, String who) {
        return draft(name, devices, target, WayWanted.BEST, begins, who);
    }

    /**
     * @param begins when it may begin: {@code next-window}, {@code now}, or a moment
     */
    @Transactional
    public PlanView draft(
            String name,
            List<String> devices,
            String target,
            WayWanted way,
            String begins,
            String who) {
        Start start = PlanNights.startOf(begins);
        mustBeFree(name);
        List<String> named =
                devices.isEmpty()
                        ? fleet.devices().stream().map(Device::name).toList()
                        : devices.stream().distinct().toList();
        if (named.isEmpty()) {
            throw Refusal.conflict("The fleet is empty. Import an inventory file first.");
        }
        return worked(
                new PlanOrder(name, Target.parse(target), way, start, named, "", Wishes.NONE), who);
    }

    private PlanRow keep(PlanOrder order, Draft worked, String who) {
        String name = order.name();
        Wishes wishes = order.wishes();
        Start start = order.begins();
        planNights.mustBeAhead(start);
        Optional<Nights> nights = planNights.workedOut(worked.units(), wishes, start);
        Draft draft = worked.withNights(PlanNights.findings(nights, wishes, start));
        PlanRow row = new PlanRow();
        row.name = name;
        row.target = order.target().words();
        row.prefer = order.way().prefer().key();
        row.alternative = order.way().alternative();
        row.roles = order.way().roles().toString();
        row.body = json.write(draft);
        row.devices = json.write(order.devices());
        row.wishes = json.write(wishes);
        row.begins = start.words();
        nights.ifPresent(known -> stored.keepNights(row, known, draft.units()));
        row.writtenBy = who;
        row.writtenAt = clock.instant();
        row.state = new Decisions(draft, Map.of(), wishes.excluded()).state();
        rows.save(row);
        events.append(
                Optional.empty(),
                name,
                "plan",
                who,
                "Plan %s drafted: %s units, %s findings."
                        .formatted(name, draft.units().size(), draft.findings().size()));
        return row;
    }

    /**
     * Works a plan out again from what is known now. What was acknowledged stays so where the
     * finding is the same to the letter; the approval is gone. The earlier version stays, dropped,
     * under the name with a number behind it.
     */
    @Transactional
    public PlanView again(String name, String who) {
        PlanRow row = stored.require(name);
        stored.mustBe(row, "draft", "ready", "approved");
        Reaches.Look network = reaches.look();
        PlanOrder asked = orderOf(row, name);
        PlanOrder order = asked.of(CurrentPlans.there(asked.devices(), network));
        Draft before = stored.draftOf(row);
        Draft after = current.workedOut(row.target, order.way(), order.devices(), network);
        dropUnderAnotherName(name, row);
        PlanRow fresh = keep(order, after, who);
        takeAlongAcknowledgements(fresh, before, row);
        stored.takeAlongSiteNights(fresh, row);
        fresh.state = stored.decisions(fresh).state();
        return current.view(fresh, List.of(), network);
    }

    private void takeAlongAcknowledgements(PlanRow fresh, Draft before, PlanRow row) {
        Map<String, Finding> same =
                stored.draftOf(fresh).findings().stream()
                        .filter(before.findings()::contains)
                        .collect(Collectors.toMap(Finding::key, f -> f));
        stored.acknowledged(row).values().stream()
                .filter(a -> same.containsKey(a.finding))
                .forEach(a -> acknowledgements.saveAndFlush(a.copiedTo(fresh.id())));
    }

    private void dropUnderAnotherName(String name, PlanRow row) {
        int number = 1;
        while (rows.findByName("%s~%s".formatted(name, number)).isPresent()) {
            number++;
        }
        row.name = "%s~%s".formatted(name, number);
        row.state = "dropped";
        rows.saveAndFlush(row);
    }

    /** What differs between two plans. */
    @Transactional(readOnly = true)
    public List<String> compare(String one, String other) {
        return DraftChanges.between(
                stored.draftOf(stored.require(one)), stored.draftOf(stored.require(other)));
    }

    @Transactional
    public PlanView acknowledge(String name, String key, String choice, String reason, String who) {
        PlanRow row = stored.require(name);
        stored.mustBe(row, "draft", "ready");
        Draft draft = stored.draftOf(row);
        Finding finding =
                draft.findings().stream()
                        .filter(f -> f.key().equals(key))
                        .findFirst()
                        .orElseThrow(() -> Refusal.notFound("finding", key));
        Choice given = Decisions.sayable(finding, choice, reason);
        if (stored.acknowledged(row).containsKey(key)) {
            throw Refusal.conflict(
                    "This finding was acknowledged already. Draft the plan again to decide"
                            + " otherwise.");
        }
        Acknowledgement acknowledgement = new Acknowledgement();
        acknowledgement.planId = row.id();
        acknowledgement.finding = key;
        acknowledgement.choice = given.toString();
        acknowledgement.reason = reason;
        acknowledgement.givenBy = who;
        acknowledgement.at = clock.instant();
        acknowledgements.saveAndFlush(acknowledgement);
        row.state = stored.decisions(row).state();
        events.append(
                Optional.empty(),
                name,
                "plan",
                who,
                "Plan %s: %s Acknowledged: %s.".formatted(name, finding.fact(), given));
        return current.view(row);
    }

    @Transactional
    public PlanView approve(String name, String who) {
        PlanRow row = stored.require(name);
        if (row.state.equals("draft")) {
            refuseDraft(row);
        }
        stored.mustBe(row, "ready");
        current.mustBeFresh(row);
        mustBeAnother(row, who);
        row.state = "approved";
        row.approvedBy = who;
        row.approvedAt = clock.instant();
        events.append(Optional.empty(), name, "plan", who, "Plan %s approved.".formatted(name));
        return current.view(row, List.of(), reaches.look());
    }

    private void mustBeAnother(PlanRow row, String who) {
        if (row.writtenBy.equals(who)
                && people.all().stream()
                        .anyMatch(p -> !p.name().equals(who) && APPROVERS.contains(p.role()))) {
            throw Refusal.conflict(
                    "%s wrote this plan; another one who may approve has to look at it."
                            .formatted(who));
        }
    }

    private void refuseDraft(PlanRow row) {
        PlanView view = current.view(row);
        Set<String> leftOut = stored.decisions(row).leftOut();
        List<String> open =
                view.findings().stream()
                        .filter(f -> f.answer() == null && !f.severity().equals("note"))
                        .filter(f -> !leftOut.contains(f.device()))
                        .map(f -> "%s: %s %s".formatted(f.severity(), f.fact(), f.remedy()))
                        .toList();
        throw Refusal.unusable(
                "The plan is not ready: %s"
                        .formatted(open.isEmpty() ? "it changes nothing." : "findings are open."),
                open);
    }

    @Transactional
    public void drop(String name, String who) {
        PlanRow row = stored.require(name);
        stored.mustBe(row, "draft", "ready", "approved");
        row.state = "dropped";
        events.append(Optional.empty(), name, "plan", who, "Plan %s dropped.".formatted(name));
    }

    /**
     * What a run carries out: the units that were not left out, with what people decided.
     *
     * @param wishes among them for which units a person is asked
     * @param timetable empty where the plan has no nights
     */
    public record Used(
            long planId, List<UnitPlan> units, Wishes wishes, Optional<Timetable> timetable) {}

    /** What is carried out of an approved plan, which is used from now on. */
    @Transactional
    public Used use(String name) {
        PlanRow row = stored.require(name);
        stored.mustBe(row, "approved");
        current.mustBeFresh(row);
        row.state = "used";
        List<UnitPlan> units = stored.decisions(row).units();
        return new Used(
                row.id(),
                units,
                stored.wishesOf(row),
                stored.nightsOf(row).flatMap(nights -> timetable(nights, units, row)));
    }

    private Optional<Timetable> timetable(Nights nights, List<UnitPlan> units, PlanRow row) {
        return planNights.timetable(nights, units, StoredPlans.startOf(row), settings.pace());
    }

    /** What was asked of a plan, as a plan file. */
    @Transactional(readOnly = true)
    public String file(String name) {
        return PlanText.write(orderOf(stored.require(name), name));
    }

    private PlanOrder orderOf(PlanRow row, String name) {
        return new PlanOrder(
                name,
                Target.parse(row.target),
                StoredPlans.wayOf(row),
                StoredPlans.startOf(row),
                json.read(row.devices, CurrentPlans.NAMES),
                "",
                stored.wishesOf(row));
    }

    /**
     * Works out what a plan file asks for.
     *
     * @throws calmstep.core.text.RejectedText with everything that is wrong in the text
     */
    @Transactional
    public PlanView take(String fileName, String text, String who) {
        return ordered(
                PlanText.read(
                        fileName,
                        text,
                        fleet.devices().stream().map(Device::name).collect(Collectors.toSet())),
                who);
    }

    /**
     * The same plan under another name, worked out from what is known now; nothing that was said to
     * its findings comes along.
     */
    @Transactional
    public PlanView copy(String name, String to, String who) {
        return ordered(orderOf(stored.require(name), to), who);
    }

    private PlanView ordered(PlanOrder order, String who) {
        mustBeFree(order.name());
        return worked(order, who);
    }

    private PlanView worked(PlanOrder order, String who) {
        Reaches.Look network = reaches.look();
        Draft worked =
                current.workedOut(order.target().words(), order.way(), order.devices(), network);
        return current.view(keep(order, worked, who), List.of(), network);
    }

    private void mustBeFree(String name) {
        if (rows.findByName(name).isPresent()) {
            throw Refusal.conflict(
                    "There is a plan \"%s\" already. Give this one another name.".formatted(name));
        }
    }

    /** The nights of a plan. */
    @Transactional(readOnly = true)
    public NightsView nights(String name) {
        PlanRow row = stored.require(name);
        Draft draft = stored.draftOf(row);
        return nightsView(
                row,
                draft,
                stored.nightsOf(row).orElseThrow(() -> StoredPlans.noNights(row, draft)),
                stored.wishesOf(row),
                StoredPlans.startOf(row));
    }

    private NightsView nightsView(
            PlanRow row, Draft draft, Nights nights, Wishes wishes, Start start) {
        return planNights.view(
                row.name, nights, wishes, start, draft.units(), stored.decisions(row).leftOut());
    }

    /**
     * What other wishes for its nights come to.
     *
     * @param wanted empty fields stay as they are
     * @param keep whether the plan is to be so from now on; otherwise nothing is changed
     */
    @Transactional
    public WishedView wish(String name, Wanted wanted, boolean keep, String who) {
        PlanRow row = stored.require(name);
        stored.mustBe(row, "draft", "ready");
        Draft draft = stored.draftOf(row);
        Wishes wishes =
                wanted.on(
                        stored.wishesOf(row),
                        draft.units().stream().map(UnitPlan::device).collect(Collectors.toSet()),
                        fleet.sitesByAnyName().keySet());
        Start start =
                wanted.begins() == null
                        ? StoredPlans.startOf(row)
                        : PlanNights.startOf(wanted.begins());
        if (wanted.begins() != null) {
            planNights.mustBeAhead(start);
        }
        Nights before = stored.nightsOf(row).orElseThrow(() -> StoredPlans.noNights(row, draft));
        Nights after =
                planNights
                        .wished(
                                before,
                                stored.wishesOf(row),
                                StoredPlans.startOf(row),
                                draft.units(),
                                wishes,
                                start)
                        .orElseThrow(() -> StoredPlans.noNights(row, draft));
        after.schedule().nowhere().stream()
                .filter(unit -> wanted.pin() != null && wanted.pin().containsKey(unit.unit()))
                .findFirst()
                .ifPresent(
                        unit -> {
                            throw Refusal.unusable(
                                    "%s It stays where it was.".formatted(unit.sentence()),
                                    List.of());
                        });
        List<Finding> found = PlanNights.findings(Optional.of(after), wishes, start);
        List<String> costs =
                Stream.concat(
                                NightChanges.between(
                                        before.schedule(),
                                        after.schedule(),
                                        zoneOf(draft.units().getFirst().site()))
                                        .stream(),
                                PlanNights.toAccept(
                                        found,
                                        PlanNights.findings(
                                                Optional.of(before),
                                                stored.wishesOf(row),
                                                StoredPlans.startOf(row))))
                        .toList();
        if (keep) {
            row.wishes = json.write(wishes);
            row.begins = start.words();
            stored.keepNights(row, after, draft.units());
            row.body = json.write(draft.withNights(found));
            row.state = stored.decisions(row).state();
            tellWished(name, costs, who);
        }
        return new WishedView(nightsView(row, draft, after, wishes, start), costs);
    }

    private void tellWished(String name, List<String> costs, String who) {
        events.append(
                Optional.empty(),
                name,
                "plan",
                who,
                "Plan %s: nights as wished: %s."
                        .formatted(
                                name,
                                costs.isEmpty()
                                        ? "nothing changes by it"
                                        : String.join("; ", costs)));
    }

    private ZoneId zoneOf(String site) {
        return Optional.ofNullable(fleet.sitesByAnyName().get(site))
                .map(Site::zone)
                .orElse(ZoneOffset.UTC);
    }

    @Transactional(readOnly = true)
    public PlanView find(String name) {
        return current.view(stored.require(name));
    }

    @Transactional(readOnly = true)
    public String nameOf(long id) {
        return rows.findById(id)
                .map(row -> row.name)
                .orElseThrow(() -> Refusal.notFound("plan", String.valueOf(id)));
    }

    @Transactional(readOnly = true)
    public List<PlanView> all() {
        Reaches.Look network = reaches.look();
        return rows.findAllByOrderByIdDesc().stream()
                .map(row -> current.view(row, current.changes(row, network), network))
                .toList();
    }
}
