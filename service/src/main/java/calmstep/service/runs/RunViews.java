package calmstep.service.runs;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Site;
import calmstep.core.step.StepName;
import calmstep.core.step.StepState;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.service.Settings;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.plans.Plans;
import calmstep.service.problems.Refusal;
import calmstep.service.runs.RunView.DoubtView;
import calmstep.service.runs.RunView.Gate;
import calmstep.service.runs.RunView.StepView;
import calmstep.service.runs.RunView.TroubleView;
import calmstep.service.runs.RunView.TurnView;
import calmstep.service.runs.RunView.UnitInRun;
import calmstep.service.shelf.Copies;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionTemplate;

/** What is shown of runs. */
@Component
public class RunViews {
    private static final Duration FIXED_STEPS = Duration.ofMinutes(2);

    /** Of a unit whose site is not in the inventory any more. */
    private static final Site NOWHERE = new Site("", "", ZoneOffset.UTC);

    private final RunRows runs;
    private final UnitRows units;
    private final StepRows steps;
    private final TalkRows talk;
    private final StepEvidence evidence;
    private final UnitPlans unitPlans;
    private final Plans plans;
    private final Fleet fleet;
    private final Copies copies;
    private final WindowChance chances;
    private final Ways ways;
    private final Json json;

    /** For looking only: what is read is neither copied nor compared. */
    private final TransactionTemplate transactions;

    private final Settings settings;

    RunViews(
            RunRows runs,
            UnitRows units,
            StepRows steps,
            TalkRows talk,
            StepEvidence evidence,
            UnitPlans unitPlans,
            Plans plans,
            Fleet fleet,
            Copies copies,
            WindowChance chances,
            Ways ways,
            Json json,
            PlatformTransactionManager manager,
            Settings settings) {
        this.runs = runs;
        this.units = units;
        this.steps = steps;
        this.talk = talk;
        this.evidence = evidence;
        this.unitPlans = unitPlans;
        this.plans = plans;
        this.fleet = fleet;
        this.copies = copies;
        this.chances = chances;
        this.ways = ways;
        this.json = json;
        this.transactions = new TransactionTemplate(manager);
        this.transactions.setReadOnly(true);
        // A driver writes meanwhile; what is told of a unit and of its steps is of one moment.
        this.transactions.setIsolationLevel(TransactionDefinition.ISOLATION_REPEATABLE_READ);
        this.settings = settings;
    }

    private RunRow require(String name) {
        return runs.findByName(name).orElseThrow(() -> Refusal.notFound("run", name));
    }

    public long idOf(String name) {
        return runs.idOf(name).orElseThrow(() -> Refusal.notFound("run", name));
    }

    public RunView find(String name) {
        return transactions.execute(_ -> view(require(name)));
    }

    public RunView byId(long id) {
        return transactions.execute(_ -> view(runs.findById(id).orElseThrow()));
    }

    List<RunSummary> all() {
        return transactions.execute(
                _ -> {
                    Map<Long, Map<String, Long>> states = new HashMap<>();
                    units.countStates()
                            .forEach(
                                    count ->
                                            states.computeIfAbsent(
                                                            count.runId(), _ -> new TreeMap<>())
                                                    .put(count.state(), count.units()));
                    return runs.findByRehearsalFalseOrderByIdDesc().stream()
                            .map(run -> summary(run, states.getOrDefault(run.id(), Map.of())))
                            .toList();
                });
    }

    private RunSummary summary(RunRow run, Map<String, Long> states) {
        return new RunSummary(
                run.id(),
                run.name,
                plans.nameOf(run.planId),
                run.state,
                run.heldWhy,
                run.startedBy,
                run.startedAt,
                run.finishedAt,
                states.values().stream().mapToLong(Long::longValue).sum(),
                states);
    }

    /**
     * A line of talk: {@code typed}, {@code answered}, or {@code overheard} on the console line;
     * secrets masked when it was taken down.
     */
    public record TalkLine(Instant at, int step, String direction, String text) {}

    public List<TalkLine> talkOf(long unitId) {
        List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unitId);
        return talk.findByUnitIdOrderById(unitId).stream()
                .map(
                        t ->
                                new TalkLine(
                                        t.at,
                                        rows.stream()
                                                .filter(s -> s.id() == t.stepId)
                                                .map(s -> s.ordinal)
                                                .findFirst()
                                                .orElse(0),
                                        t.direction,
                                        t.text))
                .toList();
    }

    List<TalkLine> talkOf(String runName, String unitName) {
        return talkOf(
                units.idOf(idOf(runName), unitName)
                        .orElseThrow(() -> Refusal.notFound("unit", unitName)));
    }

    /** What the device showed at the unit's first check, and at its last proof. */
    public record BeforeAfter(Optional<Reading> before, Optional<Reading> after) {}

    public BeforeAfter readingsOf(long unitId) {
        List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unitId);
        return new BeforeAfter(
                rows.stream()
                        .filter(s -> s.name.equals(StepName.CHECK.toString()))
                        .flatMap(s -> readingOf(s).stream())
                        .findFirst(),
                rows.stream()
                        .filter(s -> s.name.equals(StepName.PROVE.toString()))
                        .flatMap(s -> readingOf(s).stream())
                        .reduce((_, last) -> last));
    }

    /** When its parts might be done, as it was decided last. */
    public List<Turn> turnsOf(long unitId) {
        return json.read(units.findById(unitId).orElseThrow().turns, Runs.TURNS);
    }

    private Optional<Reading> readingOf(StepRow step) {
        return evidence.reading(step);
    }

    private RunView view(RunRow run) {
        Map<Long, List<StepRow>> rows =
                steps.ofRun(run.id()).stream().collect(Collectors.groupingBy(row -> row.unitId));
        List<UnitRow> its = units.findByRunIdOrderByName(run.id());
        WindowChance.Look chance =
                chances.look(run.rehearsal, its.stream().map(unit -> unit.name).toList());
        Map<String, Site> sites = fleet.sitesByAnyName();
        return new RunView(
                run.id(),
                run.name,
                plans.nameOf(run.planId),
                run.state,
                run.startedBy,
                run.startedAt,
                run.finishedAt,
                run.rehearsal,
                run.heldWhy,
                run.rehearsal ? 1 : settings.pace(),
                its.stream()
                        .map(
                                unit ->
                                        view(
                                                unit,
                                                !run.isOver() && !unit.isOver(),
                                                rows.getOrDefault(unit.id(), List.of()),
                                                sites.getOrDefault(unit.site, NOWHERE),
                                                chance))
                        .toList());
    }

    /**
     * @param open whether anything can be said to it
     */
    private UnitInRun view(
            UnitRow unit, boolean open, List<StepRow> rows, Site site, WindowChance.Look chance) {
        UnitPlan plan = unitPlans.of(unit);
        Gate gate =
                unit.gateQuestion == null || unit.gateAskedAt == null
                        ? null
                        : new Gate(
                                unit.gateQuestion,
                                unit.gateAskedAt,
                                unit.gateOpen,
                                unit.gateBy,
                                unit.gateAt);
        TroubleView trouble =
                rows.stream()
                        .filter(s -> s.stepState() == StepState.FAILED)
                        .findFirst()
                        .map(failed -> trouble(failed, unit, open, rows))
                        .orElse(null);
        long copying =
                plan.hops().stream().mapToLong(h -> h.hop().bytes()).sum() / bytesPerSecond(plan);
        return new UnitInRun(
                unit.id(),
                unit.name,
                plan.site(),
                site.title(),
                site.zone().getId(),
                plan.serves(),
                plan.from(),
                plan.to(),
                unit.state,
                plan.restarts(),
                plan.dark().toSeconds(),
                copying + plan.dark().plus(FIXED_STEPS).toSeconds(),
                copies.to(unit.name).orElse(null),
                gate,
                turn(unit, plan, rows, chance),
                unit.held,
                doubt(unit, plan, rows),
                unit.setAsideWhy,
                trouble,
                rows.stream().map(this::view).toList());
    }

    private TroubleView trouble(StepRow failed, UnitRow unit, boolean open, List<StepRow> rows) {
        WayBack back = open ? ways.back(unit, rows) : new WayBack(List.of(), "");
        return new TroubleView(
                failed.name,
                failed.expected,
                failed.seen,
                failed.remedy,
                failed.lastLines.isEmpty() ? List.of() : List.of(failed.lastLines.split("\n")),
                open ? ways.of(unit, unitPlans.of(unit), rows, back) : List.of(),
                back.isOpen() ? back.words() : "");
    }

    private @Nullable DoubtView doubt(UnitRow unit, UnitPlan plan, List<StepRow> rows) {
        return unit.doubt == null
                ? null
                : new DoubtView(
                        rows.stream()
                                .filter(row -> row.stepState().isFinished())
                                .filter(row -> Judgement.SHOW.contains(StepName.parse(row.name)))
                                .reduce((_, last) -> last)
                                .map(row -> stands(row, plan))
                                .orElse("It was proven"),
                        List.of(unit.doubt.split("\n")),
                        unit.judgedBy,
                        unit.judgedAt,
                        unit.judgedWhy);
    }

    private String stands(StepRow shown, UnitPlan plan) {
        String runs =
                evidence.reading(shown)
                        .map(now -> "It runs " + now.system())
                        .orElse("It was proven");
        return shown.name.equals(StepName.SOAK.toString())
                ? runs + " and was watched to the end"
                : "%s; hop %s of %s is proven".formatted(runs, shown.hop, plan.hops().size());
    }

    /** Of the part that is in work, or comes next. */
    private @Nullable TurnView turn(
            UnitRow unit, UnitPlan plan, List<StepRow> rows, WindowChance.Look chance) {
        List<Turn> turns = json.read(unit.turns, Runs.TURNS);
        return turns.isEmpty() || unit.isOver() ? null : turn(unit, plan, rows, turns, chance);
    }

    private static TurnView turn(
            UnitRow unit,
            UnitPlan plan,
            List<StepRow> rows,
            List<Turn> turns,
            WindowChance.Look chance) {
        int part = Math.min(turns.size() - 1, unit.inWork ? unit.begun - 1 : unit.begun);
        Turn turn = turns.get(part);
        return new TurnView(
                part + 1,
                turns.size(),
                turn.begins(),
                turn.closes(),
                turn.needs().toSeconds(),
                unit.inWork,
                unit.waitsFor,
                turn.outside(),
                turn.outside().isEmpty() ? chance.of(plan, rows, turn, unit.inWork) : null);
    }

    private static long bytesPerSecond(UnitPlan plan) {
        return Math.max(1, plan.bytesPerSecond());
    }

    private StepView view(StepRow s) {
        StepEvidence.Shown shown = evidence.shown(s);
        return new StepView(
                s.ordinal,
                s.hop,
                s.name,
                s.state,
                s.attempts,
                s.expected,
                s.seen,
                s.waiting,
                s.startedAt,
                s.finishedAt,
                shown.changes(),
                shown.configuration().orElse(null));
    }
}
