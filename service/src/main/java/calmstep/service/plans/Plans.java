package calmstep.service.plans;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.path.Preference;
import calmstep.core.plan.Choice;
import calmstep.core.plan.Draft;
import calmstep.core.plan.DraftChanges;
import calmstep.core.plan.Finding;
import calmstep.core.plan.NightChanges;
import calmstep.core.plan.Nights;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.PlanDrafting;
import calmstep.core.plan.PlanOrder;
import calmstep.core.plan.PlanText;
import calmstep.core.plan.Start;
import calmstep.core.plan.Subject;
import calmstep.core.plan.Target;
import calmstep.core.plan.Timetable;
import calmstep.core.step.Digests;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Wishes;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.paths.HopView;
import calmstep.service.paths.OrderView;
import calmstep.service.people.People;
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
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** Drafts plans and leads them to approval. */
@Component
public class Plans {
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};
    private static final Set<String> APPROVERS = Set.of("approver", "admin");

    /** For more devices the whole fleet is read at once. */
    private static final int ASKED_ONE_BY_ONE = 20;

    private final PlanRows rows;
    private final Acknowledgements acknowledgements;
    private final Fleet fleet;
    private final Catalogues catalogues;
    private final Dialects dialects;
    private final Shelf shelf;
    private final Reaches reaches;
    private final PlanNights planNights;
    private final People people;
    private final Events events;
    private final Json json;
    private final Settings settings;
    private final Clock clock;

    Plans(
            PlanRows rows,
            Acknowledgements acknowledgements,
            Fleet fleet,
            Catalogues catalogues,
            Dialects dialects,
            Shelf shelf,
            Reaches reaches,
            PlanNights planNights,
            People people,
            Events events,
            Json json,
            Settings settings,
            Clock clock) {
        this.rows = rows;
        this.acknowledgements = acknowledgements;
        this.fleet = fleet;
        this.catalogues = catalogues;
        this.dialects = dialects;
        this.shelf = shelf;
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

    /**
     * @param begins when it may begin: {@code next-window}, {@code now}, or a moment
     */
    @Transactional
    public PlanView draft(
            String name, List<String> devices, String target, String begins, String who) {
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
                new PlanOrder(name, Target.parse(target), start, named, "", Wishes.NONE), who);
    }

    /** What comes out for these devices from what is known now. */
    private Draft workedOut(String target, List<String> devices, Reaches.Look network) {
        Set<String> onShelf = shelf.fileNames();
        Set<String> wanted = Set.copyOf(devices);
        List<Fleet.Known> known = asked(devices, wanted);
        return PlanDrafting.draft(
                        Target.parse(target),
                        Preference.FEWEST_RESTARTS,
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
                k.device(),
                k.reading(),
                catalogues.find(k.device().family()),
                onShelf,
                k.device().logins().stream().anyMatch(fleet::hasSecret),
                dialects.can(k.device().family()));
    }

    private PlanRow keep(
            String name,
            String target,
            List<String> devices,
            Draft worked,
            Wishes wishes,
            Start start,
            String who) {
        Optional<Nights> nights = planNights.workedOut(worked.units(), wishes, start);
        Draft draft = worked.withNights(nights.map(Nights::findings).orElse(List.of()));
        PlanRow row = new PlanRow();
        row.name = name;
        row.target = target;
        row.body = json.write(draft);
        row.devices = json.write(devices);
        row.wishes = json.write(wishes);
        row.begins = start.words();
        row.nights = nights.map(json::write).orElse("");
        row.writtenBy = who;
        row.writtenAt = clock.instant();
        row.state = new Decisions(draft, Map.of(), wishes.excluded()).state();
        rows.save(row);
        events.append(
                Optional.empty(),
                name,
                "plan",
                who,
                "Plan %s drafted: %d units, %d findings."
                        .formatted(name, draft.units().size(), draft.findings().size()));
        return row;
    }

    /**
     * What would come out otherwise if the plan were worked out now; empty for one that is over.
     */
    private List<String> changes(PlanRow row, Reaches.Look network) {
        if (!List.of("draft", "ready", "approved").contains(row.state)) {
            return List.of();
        }
        Draft draft = draftOf(row);
        List<String> changes =
                new ArrayList<>(
                        DraftChanges.between(
                                draft,
                                workedOut(row.target, json.read(row.devices, NAMES), network)));
        nightsOf(row)
                .ifPresent(
                        nights ->
                                changes.addAll(
                                        planNights.outdated(
                                                nights, startOf(row), decisions(row).leftOut())));
        return changes;
    }

    private void mustBeFresh(PlanRow row) {
        List<String> changes = changes(row, reaches.look());
        if (!changes.isEmpty()) {
            throw Refusal.unusable(
                    "The plan \"%s\" is stale: it would come out otherwise now. Work it out again: calmstep plan again %s"
                            .formatted(row.name, row.name),
                    changes);
        }
    }

    /**
     * Works a plan out again from what is known now. What was acknowledged stays so where the
     * finding is the same to the letter; the approval is gone. The earlier version stays, dropped,
     * under the name with a number behind it.
     */
    @Transactional
    public PlanView again(String name, String who) {
        PlanRow row = require(name);
        mustBe(row, "draft", "ready", "approved");
        List<String> devices = json.read(row.devices, NAMES);
        Draft before = draftOf(row);
        Reaches.Look network = reaches.look();
        Draft after = workedOut(row.target, devices, network);
        dropUnderAnotherName(name, row);
        PlanRow fresh = keep(name, row.target, devices, after, wishesOf(row), startOf(row), who);
        takeAlongAcknowledgements(fresh, before, row);
        fresh.state = decisions(fresh).state();
        return view(fresh, List.of(), network);
    }

    private void takeAlongAcknowledgements(PlanRow fresh, Draft before, PlanRow row) {
        Map<String, Finding> same =
                draftOf(fresh).findings().stream()
                        .filter(before.findings()::contains)
                        .collect(Collectors.toMap(Finding::key, f -> f));
        acknowledged(row).values().stream()
                .filter(a -> same.containsKey(a.finding))
                .forEach(a -> acknowledgements.saveAndFlush(a.copiedTo(fresh.id())));
    }

    private void dropUnderAnotherName(String name, PlanRow row) {
        int number = 1;
        while (rows.findByName("%s~%d".formatted(name, number)).isPresent()) {
            number++;
        }
        row.name = "%s~%d".formatted(name, number);
        row.state = "dropped";
        rows.saveAndFlush(row);
    }

    /** What differs between two plans. */
    @Transactional(readOnly = true)
    public List<String> compare(String one, String other) {
        return DraftChanges.between(draftOf(require(one)), draftOf(require(other)));
    }

    @Transactional
    public PlanView acknowledge(String name, String key, String choice, String reason, String who) {
        PlanRow row = require(name);
        mustBe(row, "draft", "ready");
        Draft draft = draftOf(row);
        Finding finding =
                draft.findings().stream()
                        .filter(f -> f.key().equals(key))
                        .findFirst()
                        .orElseThrow(() -> Refusal.notFound("finding", key));
        Choice given = choiceOf(choice);
        if (!finding.choices().contains(given)) {
            throw Refusal.wrong(
                    "To this finding one can say %s, saw \"%s\"."
                            .formatted(
                                    finding.choices().isEmpty() ? "nothing" : finding.choices(),
                                    choice));
        }
        if (acknowledged(row).containsKey(key)) {
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
        row.state = decisions(row).state();
        events.append(
                Optional.empty(),
                name,
                "plan",
                who,
                "Plan %s: %s Acknowledged: %s.".formatted(name, finding.fact(), given));
        return view(row);
    }

    private static Choice choiceOf(String text) {
        try {
            return Choice.parse(text);
        } catch (IllegalArgumentException unknown) {
            throw Refusal.wrong(String.valueOf(unknown.getMessage()));
        }
    }

    @Transactional
    public PlanView approve(String name, String who) {
        PlanRow row = require(name);
        if (row.state.equals("draft")) {
            refuseDraft(row);
        }
        mustBe(row, "ready");
        mustBeFresh(row);
        mustBeAnother(row, who);
        row.state = "approved";
        row.approvedBy = who;
        row.approvedAt = clock.instant();
        events.append(Optional.empty(), name, "plan", who, "Plan %s approved.".formatted(name));
        return view(row, List.of(), reaches.look());
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
        PlanView view = view(row);
        List<String> open =
                view.findings().stream()
                        .filter(f -> f.answer() == null && !f.severity().equals("note"))
                        .map(f -> "%s: %s %s".formatted(f.severity(), f.fact(), f.remedy()))
                        .toList();
        throw Refusal.unusable(
                "The plan is not ready: %s"
                        .formatted(open.isEmpty() ? "it changes nothing." : "findings are open."),
                open);
    }

    @Transactional
    public void drop(String name, String who) {
        PlanRow row = require(name);
        mustBe(row, "draft", "ready", "approved");
        row.state = "dropped";
        events.append(Optional.empty(), name, "plan", who, "Plan %s dropped.".formatted(name));
    }

    /** An image that a plan needs and the shelf does not have. */
    public record MissingImage(
            String fileName,
            String family,
            String release,
            long sizeBytes,
            @Nullable String archive,
            List<String> devices) {}

    /** File names of all images that a plan needs; units that were left out need none. */
    @Transactional(readOnly = true)
    public Set<String> images(String name) {
        return decisions(require(name)).units().stream()
                .flatMap(u -> u.hops().stream())
                .flatMap(h -> h.hop().images().stream())
                .map(FirmwareImage::fileName)
                .collect(Collectors.toSet());
    }

    /** The images that a plan still needs, by name; units that were left out need none. */
    @Transactional(readOnly = true)
    public List<MissingImage> missing(String name) {
        Set<String> onShelf = shelf.fileNames();
        Map<String, MissingImage> missing = new TreeMap<>();
        for (UnitPlan unit : decisions(require(name)).units()) {
            for (UnitPlan.HopPlan hop : unit.hops()) {
                hop.hop().images().stream()
                        .filter(image -> !onShelf.contains(image.fileName()))
                        .forEach(
                                image ->
                                        missing.merge(
                                                image.fileName(),
                                                new MissingImage(
                                                        image.fileName(),
                                                        fleet.require(unit.device())
                                                                .device()
                                                                .family(),
                                                        hop.hop().to(),
                                                        image.sizeBytes(),
                                                        image.archive()
                                                                .map(
                                                                        FirmwareImage.Archive
                                                                                ::fileName)
                                                                .orElse(null),
                                                        List.of(unit.device())),
                                                (known, more) ->
                                                        new MissingImage(
                                                                known.fileName(),
                                                                known.family(),
                                                                known.release(),
                                                                known.sizeBytes(),
                                                                known.archive(),
                                                                Stream.concat(
                                                                                known
                                                                                        .devices()
                                                                                        .stream(),
                                                                                more
                                                                                        .devices()
                                                                                        .stream())
                                                                        .toList())));
            }
        }
        return List.copyOf(missing.values());
    }

    /**
     * What a run carries out: the units that were not left out, with what people decided.
     *
     * @param asks for which of them a person is asked
     * @param timetable empty where the plan has no nights
     */
    public record Used(
            long planId, List<UnitPlan> units, Wishes.Asks asks, Optional<Timetable> timetable) {}

    /** What is carried out of an approved plan, which is used from now on. */
    @Transactional
    public Used use(String name) {
        PlanRow row = require(name);
        mustBe(row, "approved");
        mustBeFresh(row);
        row.state = "used";
        List<UnitPlan> units = decisions(row).units();
        return new Used(
                row.id(),
                units,
                wishesOf(row).asks(),
                nightsOf(row)
                        .flatMap(
                                nights ->
                                        planNights.timetable(
                                                nights, units, startOf(row), settings.pace())));
    }

    /**
     * A plan as it is now: {@code sha256} is another one as soon as other units, or the same in
     * other nights, are to be done.
     */
    public record Version(long planId, String sha256) {}

    @Transactional(readOnly = true)
    public Version version(String name) {
        PlanRow row = require(name);
        return new Version(
                row.id(), Digests.sha256(json.write(decisions(row).units()) + row.nights));
    }

    /**
     * What a rehearsal of a plan plays.
     *
     * @param now moment that the timetable is for
     * @param played its nights with what a run would keep to; empty where it changes nothing
     */
    public record ToRehearse(List<UnitPlan> units, Instant now, Optional<Played> played) {
        public record Played(NightsView nights, Timetable timetable) {}
    }

    /**
     * The plan as a run would carry it out, whatever its state; one that has no nights is laid out
     * as if it began at once. Nothing is changed.
     */
    @Transactional(readOnly = true)
    public ToRehearse toRehearse(String name) {
        PlanRow row = require(name);
        List<UnitPlan> units = decisions(row).units();
        Optional<Nights> own = nightsOf(row);
        Start start = own.isPresent() ? startOf(row) : new Start.Now();
        return new ToRehearse(
                units,
                clock.instant(),
                own.or(() -> planNights.workedOut(units, wishesOf(row), start))
                        .flatMap(
                                nights ->
                                        planNights
                                                .timetable(nights, units, start, 1)
                                                .map(
                                                        timetable ->
                                                                played(
                                                                        timetable, row, nights,
                                                                        start))));
    }

    private Plans.ToRehearse.Played played(
            Timetable timetable, PlanRow row, Nights nights, Start start) {
        return new ToRehearse.Played(
                nightsView(row, draftOf(row), nights, wishesOf(row), start), timetable);
    }

    private void mustBe(PlanRow row, String... states) {
        if (!List.of(states).contains(row.state)) {
            throw Refusal.conflict(
                    "The plan \"%s\" is %s; expected %s."
                            .formatted(row.name, row.state, String.join(" or ", states)));
        }
    }

    private PlanRow require(String name) {
        return rows.findByName(name).orElseThrow(() -> Refusal.notFound("plan", name));
    }

    private Optional<Nights> nightsOf(PlanRow row) {
        return row.nights.isEmpty()
                ? Optional.empty()
                : Optional.of(json.read(row.nights, Nights.class));
    }

    private Wishes wishesOf(PlanRow row) {
        return row.wishes.equals("{}") ? Wishes.NONE : json.read(row.wishes, Wishes.class);
    }

    private static Start startOf(PlanRow row) {
        return PlanNights.startOf(row.begins);
    }

    /** What was asked of a plan, as a plan file. */
    @Transactional(readOnly = true)
    public String file(String name) {
        return PlanText.write(orderOf(require(name), name));
    }

    private PlanOrder orderOf(PlanRow row, String name) {
        return new PlanOrder(
                name,
                Target.parse(row.target),
                startOf(row),
                json.read(row.devices, NAMES),
                "",
                wishesOf(row));
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
        return ordered(orderOf(require(name), to), who);
    }

    private PlanView ordered(PlanOrder order, String who) {
        mustBeFree(order.name());
        return worked(order, who);
    }

    private PlanView worked(PlanOrder order, String who) {
        Reaches.Look network = reaches.look();
        String target = order.target().words();
        return view(
                keep(
                        order.name(),
                        target,
                        order.devices(),
                        workedOut(target, order.devices(), network),
                        order.wishes(),
                        order.begins(),
                        who),
                List.of(),
                network);
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
        PlanRow row = require(name);
        Draft draft = draftOf(row);
        return nightsView(
                row,
                draft,
                nightsOf(row).orElseThrow(() -> noNights(row, draft)),
                wishesOf(row),
                startOf(row));
    }

    private NightsView nightsView(
            PlanRow row, Draft draft, Nights nights, Wishes wishes, Start start) {
        return planNights.view(
                row.name, nights, wishes, start, draft.units(), decisions(row).leftOut());
    }

    private static Refusal noNights(PlanRow row, Draft draft) {
        return Refusal.conflict(
                draft.units().isEmpty()
                        ? "The plan \"%s\" changes nothing, so it has no nights."
                                .formatted(row.name)
                        : "The plan \"%s\" has no nights: nobody said when sites may be disturbed. Import a windows file, then work it out again: calmstep plan again %s"
                                .formatted(row.name, row.name));
    }

    /**
     * What other wishes for its nights come to.
     *
     * @param wanted empty fields stay as they are
     * @param keep whether the plan is to be so from now on; otherwise nothing is changed
     */
    @Transactional
    public WishedView wish(String name, Wanted wanted, boolean keep, String who) {
        PlanRow row = require(name);
        mustBe(row, "draft", "ready");
        Draft draft = draftOf(row);
        Wishes wishes =
                wanted.on(
                        wishesOf(row),
                        draft.units().stream().map(UnitPlan::device).collect(Collectors.toSet()),
                        fleet.sites().stream().map(Site::name).collect(Collectors.toSet()));
        Start start = wanted.begins() == null ? startOf(row) : PlanNights.startOf(wanted.begins());
        Nights before = nightsOf(row).orElseThrow(() -> noNights(row, draft));
        Nights after =
                planNights
                        .wished(before, wishesOf(row), startOf(row), draft.units(), wishes, start)
                        .orElseThrow(() -> noNights(row, draft));
        after.schedule().nowhere().stream()
                .filter(unit -> wanted.pin() != null && wanted.pin().containsKey(unit.unit()))
                .findFirst()
                .ifPresent(
                        unit -> {
                            throw Refusal.unusable(
                                    "%s It stays where it was.".formatted(unit.sentence()),
                                    List.of());
                        });
        List<String> costs =
                NightChanges.between(
                        before.schedule(),
                        after.schedule(),
                        zoneOf(draft.units().getFirst().site()));
        if (keep) {
            row.wishes = json.write(wishes);
            row.begins = start.words();
            row.nights = json.write(after);
            Draft changed = draft.withNights(after.findings());
            row.body = json.write(changed);
            row.state = decisions(row).state();
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
        return new WishedView(nightsView(row, draft, after, wishes, start), costs);
    }

    private ZoneId zoneOf(String site) {
        return fleet.sites().stream()
                .filter(s -> s.name().equals(site))
                .map(Site::zone)
                .findFirst()
                .orElse(ZoneOffset.UTC);
    }

    private Decisions decisions(PlanRow row) {
        return new Decisions(draftOf(row), acknowledged(row), wishesOf(row).excluded());
    }

    private Draft draftOf(PlanRow row) {
        return json.read(row.body, Draft.class);
    }

    private Map<String, Acknowledgement> acknowledged(PlanRow row) {
        Map<String, Acknowledgement> given = new LinkedHashMap<>();
        acknowledgements.findByPlanIdOrderById(row.id()).forEach(a -> given.put(a.finding, a));
        return given;
    }

    @Transactional(readOnly = true)
    public PlanView find(String name) {
        return view(require(name));
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
                .map(row -> view(row, changes(row, network), network))
                .toList();
    }

    private PlanView view(PlanRow row) {
        Reaches.Look network = reaches.look();
        return view(row, changes(row, network), network);
    }

    /**
     * @param changes as {@link #changes} gave them; none for a plan that was worked out or found
     *     fresh just now
     */
    private PlanView view(PlanRow row, List<String> changes, Reaches.Look network) {
        Decisions decisions = decisions(row);
        Draft draft = decisions.draft();
        Set<String> leftOut = decisions.leftOut();
        return new PlanView(
                row.name,
                row.target,
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
                                                List.copyOf(network.graph().cutOffBy(u.device())),
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
                                                HopView.of(h.hop()),
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
