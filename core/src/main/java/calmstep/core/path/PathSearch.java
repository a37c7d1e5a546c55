package calmstep.core.path;

import calmstep.core.catalogue.Release;
import calmstep.core.version.Version;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.SortedMap;

/** Answers one {@link Question}. Pure: the same question gives the same answer. */
public final class PathSearch {
    private static final int PATHS_OFFERED = 3;

    /** One step of a search: a state, how it was reached, and at what cost. */
    private record Node(long state, Optional<Node> before, Optional<Release> by, Cost cost, long order) {
        List<Release> releases() {
            Deque<Release> releases = new ArrayDeque<>();
            for (Node node = this; node.by().isPresent(); node = node.before().orElseThrow()) {
                releases.addFirst(node.by().get());
            }
            return List.copyOf(releases);
        }
    }

    private final Question question;
    private final Moves moves;
    private final List<Release> candidates;
    private final Graph graph;

    private PathSearch(Question question) {
        this.question = question;
        this.moves = new Moves(question);
        this.candidates = question.catalogue().releases().stream()
                .sorted(Comparator.comparing(Release::component).thenComparing(Release::version, Comparator.reverseOrder()))
                .toList();
        this.graph = new Graph(question, candidates, moves);
    }

    public static PathAnswer answer(Question question) {
        return new PathSearch(question).answer();
    }

    private PathAnswer answer() {
        Version running = question.state().get(question.component());
        if (question.target().equals(running)) {
            return new PathAnswer.AlreadyThere(running.text());
        }
        if (question.catalogue().find(question.component(), question.target()).isEmpty()) {
            List<String> known = candidates.stream().filter(this::isOfTarget).map(r -> r.version().text()).toList();
            return new PathAnswer.Refused(List.of(new Obstacle.UnknownRelease(question.target().text(),
                    calmstep.core.text.Nearest.hint(question.target().text(), known))), highestReachable());
        }
        List<List<Release>> found = cheapest();
        if (found.isEmpty()) {
            return new PathAnswer.Refused(inTheWay(), highestReachable());
        }
        return new PathAnswer.Found(pathOf(found.getFirst()), found.stream().skip(1).map(this::pathOf).toList());
    }

    private boolean isOfTarget(Release release) {
        return release.component().equals(question.component());
    }

    /** Yen's algorithm: each further path leaves an earlier one at some node by an edge that no known path takes from there. */
    private List<List<Release>> cheapest() {
        List<List<Release>> found = new ArrayList<>();
        search(graph.start(), Set.of(), Set.of(), false).ifPresent(node -> found.add(node.releases()));
        Set<List<Release>> spurs = new LinkedHashSet<>();
        while (!found.isEmpty() && found.size() < PATHS_OFFERED) {
            addSpurs(found, spurs);
            found.forEach(spurs::remove);
            Optional<List<Release>> next = spurs.stream().min(Comparator.comparing(this::costOf, question.preference().order()));
            if (next.isEmpty()) {
                break;
            }
            found.add(next.get());
        }
        return found;
    }

    private void addSpurs(List<List<Release>> found, Set<List<Release>> spurs) {
        List<Release> latest = found.getLast();
        long state = graph.start();
        Set<Long> passed = new HashSet<>();
        for (int i = 0; i < latest.size(); i++) {
            List<Release> root = latest.subList(0, i);
            Set<Release> banned = Collections.newSetFromMap(new IdentityHashMap<>());
            for (List<Release> known : found) {
                if (known.size() > root.size() && known.subList(0, root.size()).equals(root)) {
                    banned.add(known.get(root.size()));
                }
            }
            search(state, banned, passed, false).ifPresent(node -> {
                List<Release> whole = new ArrayList<>(root);
                whole.addAll(node.releases());
                spurs.add(whole);
            });
            passed.add(state);
            state = graph.after(state, latest.get(i));
        }
    }

    private Cost costOf(List<Release> releases) {
        return releases.stream().map(moves::cost).reduce(Cost.NONE, Cost::plus);
    }

    /**
     * Uniform-cost search from a state to the target.
     *
     * @param banned      moves that may not be the first one
     * @param throughBars whether a violated guard costs one instead of being forbidden
     */
    private Optional<Node> search(long start, Set<Release> banned, Set<Long> avoided, boolean throughBars) {
        Comparator<Cost> order = question.preference().order();
        PriorityQueue<Node> open = new PriorityQueue<>(Comparator.comparing(Node::cost, order).thenComparingLong(Node::order));
        Set<Long> closed = new HashSet<>(avoided);
        Map<Long, Cost> best = new HashMap<>();
        long made = 0;
        open.add(new Node(start, Optional.empty(), Optional.empty(), Cost.NONE, made));
        while (!open.isEmpty()) {
            Node node = open.remove();
            if (!closed.add(node.state())) {
                continue;
            }
            int[] state = graph.digits(node.state());
            if (graph.isTarget(state)) {
                return Optional.of(node);
            }
            for (Graph.Move move : graph.moves()) {
                if (!throughBars && move.isBarredAtOnce(state) || !graph.isOnTheWay(state, move) || node.state() == start && banned.contains(move.release())) {
                    continue;
                }
                int bars = move.bars(state);
                if (bars > 0 && !throughBars) {
                    continue;
                }
                long after = move.after(node.state(), state);
                Cost cost = node.cost().plus(moves.cost(move.release())).plus(new Cost(bars, 0, 0, 0, 0));
                Cost known = best.get(after);
                if (known == null || order.compare(cost, known) < 0) {
                    best.put(after, cost);
                    open.add(new Node(after, Optional.of(node), Optional.of(move.release()), cost, ++made));
                }
            }
        }
        return Optional.empty();
    }

    private Path pathOf(List<Release> releases) {
        List<Hop> hops = new ArrayList<>();
        SortedMap<String, Version> state = question.state();
        for (int i = 0; i < releases.size(); i++) {
            SortedMap<String, Version> before = state;
            List<Reason> why = i + 1 < releases.size()
                    ? moves.obstacles(before, releases.get(i + 1)).stream().map(Obstacle::reason).toList()
                    : List.of();
            hops.add(moves.hop(before, releases.get(i), why));
            state = releases.get(i).appliedTo(state);
        }
        return new Path(hops, costOf(releases));
    }

    /** The obstacles along the path that violates the fewest guards. */
    private List<Obstacle> inTheWay() {
        List<Release> least = search(graph.start(), Set.of(), Set.of(), true).map(Node::releases).orElse(List.of());
        List<Obstacle> obstacles = new ArrayList<>();
        SortedMap<String, Version> state = question.state();
        for (Release release : least) {
            obstacles.addAll(moves.obstacles(state, release));
            state = release.appliedTo(state);
        }
        return obstacles;
    }

    private Optional<String> highestReachable() {
        Version running = question.state().get(question.component());
        Map<SortedMap<String, Version>, Boolean> seen = new HashMap<>();
        Deque<SortedMap<String, Version>> open = new ArrayDeque<>(List.of(question.state()));
        Optional<Version> best = Optional.empty();
        while (!open.isEmpty()) {
            SortedMap<String, Version> state = open.remove();
            if (seen.put(state, true) != null) {
                continue;
            }
            Version here = state.get(question.component());
            if (here != null && (running == null || here.compareTo(running) > 0) && best.map(b -> here.compareTo(b) > 0).orElse(true)) {
                best = Optional.of(here);
            }
            for (Release release : candidates) {
                Version current = state.get(release.component());
                if (current != null && release.version().compareTo(current) > 0 && moves.obstacles(state, release).isEmpty()) {
                    open.add(release.appliedTo(state));
                }
            }
        }
        return best.map(Version::text);
    }
}
