package calmstep.core.path;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Channel;
import calmstep.core.catalogue.Release;
import calmstep.core.path.Graph.Move;
import calmstep.core.text.Nearest;
import calmstep.core.version.Version;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.SortedMap;
import java.util.concurrent.atomic.AtomicLong;

/**
 * The paths of one kind of device to one release. Pure: the same question gives the same answer.
 * What is worked out for one state serves the next. Not for use by several threads at once.
 */
public final class PathSearch {
    private static final int ALTERNATIVES = 2;

    /**
     * How many partial paths are looked into for alternatives; beyond it what is left is longer by
     * many hops.
     */
    private static final int LOOKED_INTO = 64;

    /** The beginning of a path, and what the whole will cost at least. */
    private record Beginning(
            long state,
            Optional<Beginning> before,
            Optional<Move> by,
            PathKey cost,
            PathKey whole,
            long order)
            implements Comparable<Beginning> {
        @Override
        public int compareTo(Beginning other) {
            int byCost = whole.compareTo(other.whole);
            return byCost != 0 ? byCost : Long.compare(order, other.order);
        }

        List<Release> releases() {
            Deque<Release> releases = new ArrayDeque<>();
            for (Beginning beginning = this;
                    beginning.by().isPresent();
                    beginning = beginning.before().orElseThrow()) {
                releases.addFirst(beginning.by().get().release());
            }
            return List.copyOf(releases);
        }
    }

    private final Catalogue catalogue;
    private final String component;
    private final Version target;
    private final Moves moves;
    private final Graph graph;
    private final CostToGo open;
    private final CostToGo throughBars;

    private PathSearch(
            Kind kind,
            String component,
            Version target,
            Collection<SortedMap<String, Version>> states) {
        this.catalogue = kind.catalogue();
        this.component = component;
        this.target = target;
        moves = new Moves(kind);
        graph = new Graph(kind, moves, component, target, states);
        open = new CostToGo(graph, false);
        throughBars = new CostToGo(graph, true);
    }

    /**
     * @param component the component that the target is a release of
     * @param states states that will be asked about: release of each component
     */
    public static PathSearch towards(
            Kind kind,
            String component,
            Version target,
            Collection<SortedMap<String, Version>> states) {
        return new PathSearch(kind, component, target, states);
    }

    /** The answer for one device that is asked about alone. */
    public static PathAnswer answer(
            Kind kind, SortedMap<String, Version> state, String component, Version target) {
        return towards(kind, component, target, List.of(state)).from(state);
    }

    /**
     * Whether {@link #from} can be asked about a state: its versions are in the catalogue, or were
     * told of at the beginning.
     */
    public boolean knows(SortedMap<String, Version> state) {
        return graph.knows(state);
    }

    public PathAnswer from(SortedMap<String, Version> state) {
        Version running = known(state, component);
        if (target.equals(running)) {
            return new PathAnswer.AlreadyThere(running.text());
        }
        if (catalogue.find(component, target).isEmpty()) {
            return unknownRelease(state);
        }
        long start = graph.number(state);
        if (open.of(start).isEmpty()) {
            return new PathAnswer.Refused(inTheWay(state, start), highestReachable(state));
        }
        List<Release> best = cheapest(start, open);
        return found(state, best, start);
    }

    private PathAnswer found(SortedMap<String, Version> state, List<Release> best, long start) {
        return new PathAnswer.Found(
                pathOf(state, best),
                alternatives(start, best).stream()
                        .map(releases -> pathOf(state, releases))
                        .toList());
    }

    private PathAnswer unknownRelease(SortedMap<String, Version> state) {
        List<String> known =
                catalogue.releases().stream()
                        .filter(r -> r.component().equals(component))
                        .map(r -> r.version().text())
                        .toList();
        return new PathAnswer.Refused(
                List.of(
                        new Obstacle.UnknownRelease(
                                target.text(), Nearest.hint(target.text(), known))),
                highestReachable(state));
    }

    private List<Release> cheapest(long start, CostToGo toGo) {
        List<Release> releases = new ArrayList<>();
        long state = start;
        int[] digits = graph.digits(state);
        while (!graph.isTarget(digits)) {
            Move move = toGo.first(state);
            releases.add(move.release());
            state = graph.after(move, state, digits);
            digits = graph.digits(state);
        }
        return releases;
    }

    /**
     * The next best paths by best-first search, which the exact cost to go leads straight to the
     * target. A path that only adds hops to a better one is none.
     */
    private List<List<Release>> alternatives(long start, List<Release> best) {
        List<List<Release>> found = new ArrayList<>(List.of(best));
        if (best.size() == 1) {
            return List.of();
        }
        PriorityQueue<Beginning> queue = new PriorityQueue<>();
        queue.add(
                new Beginning(
                        start, Optional.empty(), Optional.empty(), PathKey.NONE, PathKey.NONE, 0));
        AtomicLong made = new AtomicLong();
        for (int looked = 0;
                looked < LOOKED_INTO && !queue.isEmpty() && found.size() <= ALTERNATIVES;
                looked++) {
            Beginning beginning = queue.remove();
            int[] digits = graph.digits(beginning.state());
            List<Release> releases = beginning.releases();
            if (found.stream().anyMatch(better -> releases.containsAll(better))) {
                continue;
            }
            if (graph.isTarget(digits)) {
                found.add(releases);
                continue;
            }
            graph.forEachNext(
                    digits,
                    false,
                    move -> {
                        long after = graph.after(move, beginning.state(), digits);
                        if (move.isOpen(digits)) {
                            PathKey cost = beginning.cost().plus(graph.cost(move, digits));
                            open.of(after)
                                    .ifPresent(
                                            rest ->
                                                    queue.add(
                                                            new Beginning(
                                                                    after,
                                                                    Optional.of(beginning),
                                                                    Optional.of(move),
                                                                    cost,
                                                                    cost.plus(rest),
                                                                    made.incrementAndGet())));
                        }
                    });
        }
        return found.subList(1, found.size());
    }

    /** What bars the way to the rest of a path where one release of it is left out. */
    private List<Reason> why(SortedMap<String, Version> before, List<Release> releases, int out) {
        return barsWithout(before, releases.subList(out + 1, releases.size())).stream()
                .map(Obstacle::reason)
                .toList();
    }

    private Path pathOf(SortedMap<String, Version> start, List<Release> releases) {
        List<Hop> hops = new ArrayList<>();
        Cost cost = Cost.NONE;
        SortedMap<String, Version> state = start;
        for (int i = 0; i < releases.size(); i++) {
            Release release = releases.get(i);
            SortedMap<String, Version> before = state;
            hops.add(moves.hop(before, release, why(before, releases, i)));
            cost =
                    cost.plus(
                            moves.cost(
                                    release, Optional.ofNullable(before.get(release.component()))));
            state = release.appliedTo(state);
        }
        return new Path(hops, cost);
    }

    /**
     * Why a hop cannot be left out: what bars the first of the later moves that is barred without
     * it.
     */
    private List<Obstacle> barsWithout(SortedMap<String, Version> before, List<Release> later) {
        SortedMap<String, Version> state = before;
        for (Release release : later) {
            List<Obstacle> bars = moves.obstacles(state, release);
            if (!bars.isEmpty()) {
                return bars;
            }
            state = release.appliedTo(state);
        }
        return List.of();
    }

    /**
     * A smallest set of things in the way: those along the path that violates the fewest guards,
     * less every one without which there is still no path. Where one thing alone would do, one is
     * named.
     */
    private List<Obstacle> inTheWay(SortedMap<String, Version> start, long number) {
        if (throughBars.of(number).isEmpty()) {
            return List.of(
                    new Obstacle.NoImage(
                            catalogue.find(component, target).orElseThrow(), List.of()));
        }
        Set<Obstacle> named = new LinkedHashSet<>();
        SortedMap<String, Version> state = start;
        for (Release release : cheapest(number, throughBars)) {
            moves.obstacles(state, release).stream()
                    .filter(o -> named.stream().noneMatch(n -> isSame(n, o)))
                    .forEach(named::add);
            state = release.appliedTo(state);
        }
        return needed(named, start);
    }

    private List<Obstacle> needed(Set<Obstacle> named, SortedMap<String, Version> start) {
        List<Obstacle> needed = new ArrayList<>(named);
        for (Obstacle one : named) {
            List<Obstacle> without = needed.stream().filter(o -> o != one).toList();
            if (opensWithout(start, without)) {
                needed.remove(one);
            }
        }
        return needed;
    }

    /** Two obstacles are one when the same thing would have to be removed. */
    private static boolean isSame(Obstacle one, Obstacle other) {
        return (one instanceof Obstacle.BarredByRule(var rule, var _)
                        && other instanceof Obstacle.BarredByRule(var same, var _))
                ? rule.id().equals(same.id())
                : one.equals(other);
    }

    /** Whether a path opens when these things, and no others, are removed. */
    private boolean opensWithout(SortedMap<String, Version> start, List<Obstacle> removed) {
        Deque<SortedMap<String, Version>> queue = new ArrayDeque<>(List.of(start));
        Set<Long> seen = new HashSet<>();
        while (!queue.isEmpty()) {
            SortedMap<String, Version> state = queue.remove();
            long number = graph.number(state);
            if (!seen.add(number)) {
                continue;
            }
            int[] digits = graph.digits(number);
            if (graph.isTarget(digits)) {
                return true;
            }
            graph.forEachNext(
                    digits,
                    true,
                    move -> {
                        int bars = move.bars(digits);
                        if (bars == 0
                                || (bars <= removed.size()
                                        && moves.obstacles(state, move.release()).stream()
                                                .allMatch(
                                                        o ->
                                                                removed.stream()
                                                                        .anyMatch(
                                                                                r ->
                                                                                        isSame(
                                                                                                r,
                                                                                                o))))) {
                            queue.add(move.release().appliedTo(state));
                        }
                    });
        }
        return false;
    }

    /**
     * The highest release that the device can go to today and stay on: a general one that it may
     * rest on.
     */
    private Optional<String> highestReachable(SortedMap<String, Version> start) {
        long number = graph.number(start);
        int running = graph.runs(number);
        Set<Long> seen = new HashSet<>(Set.of(number));
        Deque<Long> queue = new ArrayDeque<>(List.of(number));
        Optional<Release> best = Optional.empty();
        while (!queue.isEmpty()) {
            long state = queue.remove();
            int[] digits = graph.digits(state);
            for (Move move : graph.moves()) {
                int from = digits[move.digit().place()];
                if (from == 0
                        || move.index() <= from
                        || move.isBarredAtOnce(digits)
                        || !move.isOpen(digits)) {
                    continue;
                }
                if (graph.isOfTarget(move)
                        && move.index() > running
                        && canStay(move.release())
                        && best.map(b -> move.release().version().compareTo(b.version()) > 0)
                                .orElse(true)) {
                    best = Optional.of(move.release());
                }
                long after = graph.after(move, state, digits);
                if (seen.add(after)) {
                    queue.add(after);
                }
            }
        }
        return best.map(release -> release.version().text());
    }

    private static boolean canStay(Release release) {
        return release.channel() == Channel.GENERAL && release.mayRest();
    }
}
