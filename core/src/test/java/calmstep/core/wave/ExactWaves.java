package calmstep.core.wave;

import calmstep.core.window.Window;
import com.google.ortools.Loader;
import com.google.ortools.sat.BoolVar;
import com.google.ortools.sat.CpModel;
import com.google.ortools.sat.CpSolver;
import com.google.ortools.sat.CpSolverStatus;
import com.google.ortools.sat.CumulativeConstraint;
import com.google.ortools.sat.IntVar;
import com.google.ortools.sat.IntervalVar;
import com.google.ortools.sat.LinearExpr;
import com.google.ortools.sat.Literal;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * The same task for a general constraint solver: all units placed, fewest nights, then the earliest
 * end, proven.
 */
final class ExactWaves {
    static {
        Loader.loadNativeLibraries();
    }

    /**
     * @param proven whether the solver is sure: that there is no better one, or that not all units
     *     can be placed
     */
    record Answer(boolean proven, Optional<Best> best) {}

    record Best(int nights, int end) {}

    /** A part in the solver's terms. */
    private record Item(
            WaveUnit unit,
            int part,
            int need,
            IntVar begin,
            IntervalVar work,
            Map<LocalDate, List<Literal>> inNight) {
        LinearExpr end() {
            return LinearExpr.newBuilder().add(begin).add(need).build();
        }
    }

    private final WaveTask task;
    private final CpModel model = new CpModel();
    private final int horizon;
    private final List<Item> items = new ArrayList<>();
    private final Map<LocalDate, BoolVar> nights = new TreeMap<>();

    private ExactWaves(WaveTask task) {
        this.task = task;
        horizon = minute(task.until());
    }

    /**
     * @param work that the solver does at most, in its own measure: not in seconds, of which a busy
     *     machine makes less
     */
    static Answer solve(WaveTask task, double work) {
        return new ExactWaves(task).solve(work);
    }

    private int minute(Instant at) {
        return (int) Duration.between(task.from(), at).toMinutes();
    }

    private Answer solve(double work) {
        for (WaveUnit unit : task.units()) {
            for (int part = 0; part < unit.chunks().size(); part++) {
                if (!add(unit, part)) {
                    return new Answer(true, Optional.empty());
                }
            }
        }
        order();
        limits();
        sitesANight();
        pilots();
        company();
        staging();
        IntVar end = model.newIntVar(0, horizon, "end");
        items.forEach(item -> model.addLessOrEqual(item.end(), end));
        model.minimize(
                LinearExpr.newBuilder()
                        .addWeightedSum(
                                nights.values().toArray(BoolVar[]::new),
                                nights.values().stream().mapToLong(_ -> horizon + 1L).toArray())
                        .add(end)
                        .build());
        CpSolver solver = new CpSolver();
        solver.getParameters()
                .setMaxDeterministicTime(work)
                .setInterleaveSearch(true)
                .setNumWorkers(4)
                .setRandomSeed(1);
        CpSolverStatus status = solver.solve(model);
        Optional<Best> best =
                status == CpSolverStatus.OPTIMAL || status == CpSolverStatus.FEASIBLE
                        ? Optional.of(
                                new Best(
                                        (int)
                                                nights.values().stream()
                                                        .filter(solver::booleanValue)
                                                        .count(),
                                        (int) solver.value(end)))
                        : Optional.empty();
        return new Answer(
                status == CpSolverStatus.OPTIMAL || status == CpSolverStatus.INFEASIBLE, best);
    }

    private boolean add(WaveUnit unit, int part) {
        int need = (int) unit.chunks().get(part).needs().toMinutes();
        IntVar begin = model.newIntVar(0, horizon, unit.name() + part);
        Map<LocalDate, List<Literal>> inNight = new TreeMap<>();
        List<Literal> one = new ArrayList<>();
        for (Window window : task.windows().get(unit.site())) {
            int opens = Math.max(0, minute(window.opens()));
            int closes = Math.min(horizon, minute(window.closes()));
            if (closes - opens >= need) {
                BoolVar here = model.newBoolVar("");
                model.addLinearConstraint(begin, opens, closes - need).onlyEnforceIf(here);
                one.add(here);
                inNight.computeIfAbsent(window.night(), _ -> new ArrayList<>()).add(here);
                model.addImplication(
                        here,
                        nights.computeIfAbsent(
                                window.night(), n -> model.newBoolVar(n.toString())));
            }
        }
        items.add(
                new Item(
                        unit,
                        part,
                        need,
                        begin,
                        model.newFixedSizeIntervalVar(begin, need, ""),
                        inNight));
        model.addExactlyOne(one.toArray(Literal[]::new));
        return !one.isEmpty();
    }

    private void order() {
        for (Item item : items) {
            items.stream()
                    .filter(
                            next ->
                                    next.unit().equals(item.unit())
                                            && next.part() == item.part() + 1)
                    .forEach(next -> model.addGreaterOrEqual(next.begin(), item.end()));
        }
    }

    private void limits() {
        atMost(items, task.limits().atOnce());
        grouped(item -> item.unit().site())
                .values()
                .forEach(here -> atMost(here, task.limits().perSite()));
        grouped(item -> item.unit().family())
                .values()
                .forEach(such -> atMost(such, task.limits().perFamily()));
    }

    private Map<String, List<Item>> grouped(Function<Item, String> by) {
        return items.stream().collect(Collectors.groupingBy(by, TreeMap::new, Collectors.toList()));
    }

    private void atMost(List<Item> some, int most) {
        CumulativeConstraint limit = model.addCumulative(most);
        some.forEach(item -> limit.addDemand(item.work(), 1));
    }

    private void sitesANight() {
        task.limits()
                .sitesANight()
                .forEach(
                        (kind, most) ->
                                nights.keySet()
                                        .forEach(
                                                night -> {
                                                    List<BoolVar> used = new ArrayList<>();
                                                    grouped(item -> item.unit().site())
                                                            .forEach(
                                                                    (site, here) -> {
                                                                        if (task.kindOf()
                                                                                .get(site)
                                                                                .equals(kind)) {
                                                                            BoolVar touched =
                                                                                    model
                                                                                            .newBoolVar(
                                                                                                    "");
                                                                            here.forEach(
                                                                                    item ->
                                                                                            item.inNight()
                                                                                                    .getOrDefault(
                                                                                                            night,
                                                                                                            List
                                                                                                                    .of())
                                                                                                    .forEach(
                                                                                                            in ->
                                                                                                                    model
                                                                                                                            .addImplication(
                                                                                                                                    in,
                                                                                                                                    touched)));
                                                                            used.add(touched);
                                                                        }
                                                                    });
                                                    model.addLessOrEqual(
                                                            LinearExpr.sum(
                                                                    used.toArray(BoolVar[]::new)),
                                                            most);
                                                }));
    }

    private void pilots() {
        int soak = (int) Math.ceilDiv(task.limits().soak().toSeconds(), 60);
        grouped(item -> item.unit().likeness())
                .values()
                .forEach(
                        such -> {
                            Map<String, BoolVar> pilot = new TreeMap<>();
                            such.forEach(
                                    item ->
                                            pilot.computeIfAbsent(
                                                    item.unit().name(), model::newBoolVar));
                            model.addEquality(
                                    LinearExpr.sum(pilot.values().toArray(BoolVar[]::new)),
                                    Math.min(task.limits().pilots(), pilot.size()));
                            for (Item one : such) {
                                such.stream()
                                        .filter(
                                                other ->
                                                        other.part() == one.part()
                                                                && !other.unit().equals(one.unit()))
                                        .forEach(
                                                other ->
                                                        model.addGreaterOrEqual(
                                                                        other.begin(),
                                                                        LinearExpr.newBuilder()
                                                                                .add(one.begin())
                                                                                .add(
                                                                                        one.need()
                                                                                                + soak)
                                                                                .build())
                                                                .onlyEnforceIf(
                                                                        new Literal[] {
                                                                            pilot.get(
                                                                                    one.unit()
                                                                                            .name()),
                                                                            pilot.get(
                                                                                            other.unit()
                                                                                                    .name())
                                                                                    .not()
                                                                        }));
                            }
                        });
    }

    private void company() {
        for (Item nearer : items) {
            items.stream()
                    .filter(farther -> nearer.unit().cutsOff().contains(farther.unit().name()))
                    .forEach(
                            farther -> {
                                model.addNoOverlap(
                                        new IntervalVar[] {nearer.work(), farther.work()});
                                nearer.inNight()
                                        .forEach(
                                                (night, mine) ->
                                                        mine.forEach(
                                                                in ->
                                                                        farther.inNight()
                                                                                .getOrDefault(
                                                                                        night,
                                                                                        List.of())
                                                                                .forEach(
                                                                                        there ->
                                                                                                model.addGreaterOrEqual(
                                                                                                                nearer
                                                                                                                        .begin(),
                                                                                                                farther
                                                                                                                        .end())
                                                                                                        .onlyEnforceIf(
                                                                                                                new Literal
                                                                                                                        [] {
                                                                                                                    in,
                                                                                                                    there
                                                                                                                }))));
                            });
        }
        task.units().stream()
                .flatMap(unit -> unit.mates().stream())
                .distinct()
                .forEach(
                        group ->
                                model.addNoOverlap(
                                        items.stream()
                                                .filter(item -> item.unit().mates().contains(group))
                                                .map(Item::work)
                                                .toArray(IntervalVar[]::new)));
    }

    private void staging() {
        grouped(
                        item ->
                                task.links().containsKey(item.unit().site())
                                        ? task.links().get(item.unit().site()).name()
                                        : "none")
                .forEach(
                        (link, here) -> {
                            Long rate =
                                    link.equals("none")
                                            ? null
                                            : task.links()
                                                    .get(here.getFirst().unit().site())
                                                    .bytesPerSecond();
                            List<IntervalVar> transfers = new ArrayList<>();
                            for (Item item : rate == null ? List.<Item>of() : here) {
                                long bytes = item.unit().chunks().get(item.part()).bytes();
                                int minutes = (int) Math.ceilDiv(Math.ceilDiv(bytes, rate), 60);
                                if (bytes > 0) {
                                    IntVar begin = model.newIntVar(0, horizon, "");
                                    transfers.add(
                                            model.newFixedSizeIntervalVar(begin, minutes, ""));
                                    model.addGreaterOrEqual(
                                            item.begin(),
                                            LinearExpr.newBuilder()
                                                    .add(begin)
                                                    .add(minutes)
                                                    .build());
                                }
                            }
                            model.addNoOverlap(transfers.toArray(IntervalVar[]::new));
                        });
    }
}
