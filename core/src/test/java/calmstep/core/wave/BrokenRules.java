package calmstep.core.wave;

import calmstep.core.window.Limits;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Every rule that a schedule breaks, found from instants and names alone; it shares nothing with
 * the scheduler.
 */
final class BrokenRules {
    private final WaveTask task;
    private final Map<String, WaveUnit> units;
    private final List<Placement> placements;
    private final List<String> broken = new ArrayList<>();

    private BrokenRules(WaveTask task, Schedule schedule) {
        this.task = task;
        units = task.units().stream().collect(Collectors.toMap(WaveUnit::name, u -> u));
        placements = schedule.placements();
    }

    static List<String> of(WaveTask task, Schedule schedule) {
        BrokenRules rules = new BrokenRules(task, schedule);
        rules.units(schedule);
        rules.windows();
        rules.limits();
        rules.sitesANight();
        rules.pilots();
        rules.company();
        rules.staging();
        return rules.broken;
    }

    // The annotation that is asked for would need a library for this one private method.
    @SuppressWarnings("AnnotateFormatMethod")
    private void check(boolean holds, String what, Object... values) {
        if (!holds) {
            broken.add(what.formatted(values));
        }
    }

    private Map<String, List<Placement>> by(Function<Placement, String> key) {
        return placements.stream()
                .collect(Collectors.groupingBy(key, TreeMap::new, Collectors.toList()));
    }

    private WaveUnit unit(Placement p) {
        return units.get(p.unit());
    }

    private void units(Schedule schedule) {
        Map<String, List<Placement>> parts = by(Placement::unit);
        Set<String> left =
                schedule.nowhere().stream().map(FitsNowhere::unit).collect(Collectors.toSet());
        for (WaveUnit unit : task.units()) {
            List<Placement> mine = parts.getOrDefault(unit.name(), List.of());
            boolean excluded = task.wishes().excluded().contains(unit.name());
            check(
                    mine.isEmpty() == (excluded || left.contains(unit.name())),
                    "%s is both placed and left, or neither",
                    unit.name());
            check(
                    mine.isEmpty() || mine.size() == unit.chunks().size(),
                    "%s is placed in part",
                    unit.name());
            for (int i = 0; i < mine.size(); i++) {
                Placement p = mine.get(i);
                check(p.part() == i + 1, "parts of %s out of order", unit.name());
                check(
                        i == 0 || !mine.get(i - 1).ends().isAfter(p.begins()),
                        "parts of %s overlap",
                        unit.name());
                check(
                        !Duration.between(p.begins(), p.ends())
                                .minus(unit.chunks().get(i).needs())
                                .isNegative(),
                        "%s has too little time",
                        unit.name());
                check(
                        !task.wishes().nights().containsKey(unit.name())
                                || task.wishes().nights().get(unit.name()).equals(p.night()),
                        "%s is not in its night",
                        unit.name());
            }
        }
    }

    private void windows() {
        placements.forEach(
                p ->
                        check(
                                task.windows().get(unit(p).site()).stream()
                                        .anyMatch(
                                                w ->
                                                        !p.begins().isBefore(w.opens())
                                                                && !p.ends().isAfter(w.closes())
                                                                && w.night().equals(p.night())
                                                                && w.closes().equals(p.closes())),
                                "%s is outside of every window: %s",
                                p.unit(),
                                p));
    }

    private void limits() {
        Limits limits = task.limits();
        atMost(placements, limits.atOnce(), "over all");
        by(p -> unit(p).site()).forEach((site, here) -> atMost(here, limits.perSite(), site));
        by(p -> unit(p).family())
                .forEach((family, such) -> atMost(such, limits.perFamily(), family));
    }

    private void atMost(List<Placement> some, int most, String where) {
        record Edge(Instant at, int by) {}
        List<Edge> edges = new ArrayList<>();
        some.forEach(
                p -> {
                    edges.add(new Edge(p.begins(), 1));
                    edges.add(new Edge(p.ends(), -1));
                });
        edges.sort(Comparator.comparing(Edge::at).thenComparing(Edge::by));
        int now = 0;
        for (Edge edge : edges) {
            now += edge.by();
            check(now <= most, "%s in work at once, %s, at %s", now, where, edge.at());
        }
    }

    private void sitesANight() {
        record KindNight(String kind, LocalDate night) {}
        placements.stream()
                .filter(p -> task.kindOf().containsKey(unit(p).site()))
                .collect(
                        Collectors.groupingBy(
                                p -> new KindNight(task.kindOf().get(unit(p).site()), p.night()),
                                Collectors.mapping(p -> unit(p).site(), Collectors.toSet())))
                .forEach(
                        (key, sites) ->
                                check(
                                        sites.size()
                                                <= task.limits()
                                                        .sitesANight()
                                                        .getOrDefault(
                                                                key.kind(), Integer.MAX_VALUE),
                                        "%s sites: %s",
                                        sites.size(),
                                        key));
    }

    private void pilots() {
        by(p -> unit(p).likeness())
                .forEach(
                        (likeness, such) -> {
                            Predicate<Placement> pilot = Placement::pilot;
                            Set<String> pilots =
                                    such.stream()
                                            .filter(pilot)
                                            .map(Placement::unit)
                                            .collect(Collectors.toSet());
                            Set<String> all =
                                    such.stream().map(Placement::unit).collect(Collectors.toSet());
                            check(
                                    pilots.size() == Math.min(task.limits().pilots(), all.size()),
                                    "%s pilots of %s %s",
                                    pilots.size(),
                                    all.size(),
                                    likeness);
                            such.stream()
                                    .filter(pilot.negate())
                                    .forEach(
                                            p ->
                                                    such.stream()
                                                            .filter(
                                                                    q ->
                                                                            q.pilot()
                                                                                    && q.part()
                                                                                            == p
                                                                                                    .part())
                                                            .forEach(
                                                                    q ->
                                                                            check(
                                                                                    !p.begins()
                                                                                            .isBefore(
                                                                                                    q.ends()
                                                                                                            .plus(
                                                                                                                    task.limits()
                                                                                                                            .soak())),
                                                                                    "%s does not"
                                                                                        + " wait"
                                                                                        + " for the"
                                                                                        + " pilot"
                                                                                        + " %s",
                                                                                    p.unit(),
                                                                                    q.unit())));
                        });
    }

    private void company() {
        for (Placement p : placements) {
            for (Placement q : placements) {
                boolean overlap = p.begins().isBefore(q.ends()) && q.begins().isBefore(p.ends());
                if (unit(p).cutsOff().contains(q.unit())) {
                    check(!overlap, "%s is cut off by %s in the midst of it", q.unit(), p.unit());
                    check(
                            !p.night().equals(q.night()) || !q.ends().isAfter(p.begins()),
                            "%s lies behind %s and goes after it",
                            q.unit(),
                            p.unit());
                }
                if (!p.unit().equals(q.unit())
                        && unit(p).mates().stream().anyMatch(unit(q).mates()::contains)) {
                    check(
                            !overlap,
                            "%s and %s stand in for each other and are in work together",
                            p.unit(),
                            q.unit());
                }
            }
        }
    }

    /**
     * By the due times: whatever is to be there by a moment must have had time to come over the
     * link since the beginning.
     */
    private void staging() {
        by(p ->
                        task.links().containsKey(unit(p).site())
                                ? task.links().get(unit(p).site()).name()
                                : "none")
                .forEach(
                        (link, here) -> {
                            if (!link.equals("none")) {
                                long rate =
                                        task.links()
                                                .get(unit(here.getFirst()).site())
                                                .bytesPerSecond();
                                Set<Instant> due =
                                        new HashSet<>(
                                                here.stream().map(Placement::begins).toList());
                                due.forEach(
                                        at -> {
                                            long bytes =
                                                    here.stream()
                                                            .filter(p -> !p.begins().isAfter(at))
                                                            .mapToLong(
                                                                    p ->
                                                                            unit(p).chunks()
                                                                                    .get(
                                                                                            p.part()
                                                                                                    - 1)
                                                                                    .bytes())
                                                            .sum();
                                            check(
                                                    bytes
                                                            <= rate
                                                                    * Duration.between(
                                                                                    task.from(), at)
                                                                            .toSeconds(),
                                                    "%s bytes cannot come over %s by %s",
                                                    bytes,
                                                    link,
                                                    at);
                                        });
                            }
                        });
    }
}
