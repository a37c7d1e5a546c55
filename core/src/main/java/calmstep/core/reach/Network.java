package calmstep.core.reach;

import static calmstep.core.known.Known.known;

import calmstep.core.fleet.Device;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.SequencedSet;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * The fleet as a graph with roots. Pure, and the same for the same devices and links whatever their
 * order.
 */
public final class Network {
    private static final int UNSEEN = -1;

    /** The way to the roots, two that are down, and a third. */
    private static final int SMALLEST_WITH_A_PAIR = 4;

    private final List<String> names;
    private final Map<String, Integer> numbers = new HashMap<>();
    private final int[][] neighbours;
    private final boolean[] root;
    private final int[] layers;

    /**
     * By position in depth-first order: the node, the end of its subtree, and the lowest position
     * that its subtree reaches.
     */
    private final int[] nodeAt;

    private final int[] positionOf;
    private final int[] ends;
    private final int[] parent;
    private final int[] low;
    private final List<List<Integer>> blocks;
    private final boolean[] onRing;

    private Network(List<String> names, Collection<Link> links, Set<String> roots) {
        this.names = names;
        for (int i = 0; i < names.size(); i++) {
            numbers.put(names.get(i), i);
        }
        neighbours = neighbours(links);
        root = new boolean[names.size()];
        roots.forEach(name -> number(name).ifPresent(i -> root[i] = true));
        layers = layers(new boolean[names.size()]);
        nodeAt = new int[names.size() + 1];
        positionOf = new int[names.size()];
        ends = new int[names.size() + 1];
        parent = new int[names.size() + 1];
        low = new int[names.size() + 1];
        walk();
        blocks = blocks();
        onRing = new boolean[names.size()];
        blocks.forEach(
                block -> block.subList(1, block.size()).forEach(at -> onRing[nodeAt[at]] = true));
    }

    /** The fleet as its inventory joins it. */
    public static Network of(Collection<Device> devices) {
        return of(devices, Map.of());
    }

    /**
     * @param seen neighbours by device, as readings show them: a link that the inventory does not
     *     know is a way all the same
     */
    public static Network of(Collection<Device> devices, Map<String, Set<String>> seen) {
        List<Link> links = linksWritten(devices);
        seen.forEach(
                (device, others) ->
                        others.stream()
                                .filter(other -> !other.equals(device))
                                .forEach(other -> links.add(new Link(device, other))));
        return of(
                devices.stream().map(Device::name).toList(),
                links,
                devices.stream()
                        .filter(d -> d.wiring().root())
                        .map(Device::name)
                        .collect(Collectors.toSet()));
    }

    private static List<Link> linksWritten(Collection<Device> devices) {
        List<Link> links =
                new ArrayList<>(
                        devices.stream()
                                .flatMap(
                                        d ->
                                                d.wiring().links().stream()
                                                        .filter(other -> !other.equals(d.name()))
                                                        .map(other -> new Link(d.name(), other)))
                                .toList());
        return links;
    }

    /** Links to what is no device, and roots that are none, are left out. */
    public static Network of(
            Collection<String> devices, Collection<Link> links, Set<String> roots) {
        return new Network(List.copyOf(new TreeSet<>(devices)), links, roots);
    }

    private OptionalInt number(String name) {
        Integer number = numbers.get(name);
        return number == null ? OptionalInt.empty() : OptionalInt.of(number);
    }

    private int[][] neighbours(Collection<Link> links) {
        List<TreeSet<Integer>> sets = new ArrayList<>();
        names.forEach(_ -> sets.add(new TreeSet<>()));
        for (Link link : links) {
            if (numbers.containsKey(link.one()) && numbers.containsKey(link.other())) {
                sets.get(numbers.get(link.one())).add(numbers.get(link.other()));
                sets.get(numbers.get(link.other())).add(numbers.get(link.one()));
            }
        }
        return sets.stream()
                .map(set -> set.stream().mapToInt(Integer::intValue).toArray())
                .toArray(int[][]::new);
    }

    /** Steps from the nearest root, around what is down; {@value #UNSEEN} where there is no way. */
    private int[] layers(boolean[] down) {
        int[] steps = new int[names.size()];
        Arrays.fill(steps, UNSEEN);
        Deque<Integer> queue = new ArrayDeque<>();
        for (int i = 0; i < root.length; i++) {
            if (root[i] && !down[i]) {
                steps[i] = 0;
                queue.add(i);
            }
        }
        spread(queue, steps, down);
        return steps;
    }

    private void spread(Deque<Integer> queue, int[] steps, boolean[] down) {
        while (!queue.isEmpty()) {
            int node = queue.remove();
            for (int next : neighbours[node]) {
                if (steps[next] == UNSEEN && !down[next]) {
                    steps[next] = steps[node] + 1;
                    queue.add(next);
                }
            }
        }
    }

    /**
     * Depth first from the one node above all roots, at position 0, without recursion: networks can
     * be long chains.
     */
    private void walk() {
        Arrays.fill(positionOf, UNSEEN);
        nodeAt[0] = UNSEEN;
        int[] given = new int[names.size() + 1];
        int positions = 1;
        Deque<Integer> stack = new ArrayDeque<>(List.of(0));
        int nextRoot = 0;
        while (!stack.isEmpty()) {
            int at = stack.peek();
            int next = UNSEEN;
            if (at == 0) {
                while (nextRoot < root.length
                        && (!root[nextRoot] || positionOf[nextRoot] != UNSEEN)) {
                    nextRoot++;
                }
                next = nextRoot < root.length ? nextRoot : UNSEEN;
            } else {
                int node = nodeAt[at];
                while (given[at] < neighbours[node].length && next == UNSEEN) {
                    int other = neighbours[node][given[at]++];
                    if (positionOf[other] == UNSEEN) {
                        next = other;
                    } else {
                        low[at] = Math.min(low[at], positionOf[other]);
                    }
                }
            }
            if (next == UNSEEN) {
                stack.pop();
                ends[at] = positions;
                if (at > 0) {
                    low[parent[at]] = Math.min(low[parent[at]], low[at]);
                }
            } else {
                int position = positions++;
                nodeAt[position] = next;
                positionOf[next] = position;
                parent[position] = at;
                // A root has a way out of every subtree: it hangs on the node above all.
                low[position] = root[next] ? 0 : position;
                stack.push(position);
            }
        }
    }

    /** How many steps a device is from the nearest root; empty when it has no way to any. */
    public OptionalInt layer(String device) {
        return number(device).stream().map(i -> layers[i]).filter(l -> l != UNSEEN).findFirst();
    }

    /** Devices that have no way to a root even when everything is up. */
    public SequencedSet<String> unreached() {
        LinkedHashSet<String> unreached = new LinkedHashSet<>();
        for (int i = 0; i < layers.length; i++) {
            if (layers[i] == UNSEEN) {
                unreached.add(names.get(i));
            }
        }
        return unreached;
    }

    /**
     * What loses every way to a root while this device alone is down; the device itself is not
     * counted.
     */
    public SequencedSet<String> cutOffBy(String device) {
        TreeSet<String> cut = new TreeSet<>();
        number(device).stream()
                .map(i -> positionOf[i])
                .filter(p -> p != UNSEEN)
                .forEach(position -> addBehind(position, cut));
        return new LinkedHashSet<>(cut);
    }

    private void addBehind(int position, Set<String> cut) {
        for (int child = position + 1; child < ends[position]; child = ends[child]) {
            if (low[child] >= position) {
                for (int at = child; at < ends[child]; at++) {
                    cut.add(names.get(nodeAt[at]));
                }
            }
        }
    }

    /** How many devices {@link #cutOffBy} would give; counting them needs no set. */
    public int cutOffCount(String device) {
        return number(device).stream()
                .map(i -> positionOf[i])
                .filter(p -> p != UNSEEN)
                .map(
                        position -> {
                            int count = 0;
                            for (int child = position + 1;
                                    child < ends[position];
                                    child = ends[child]) {
                                count += low[child] >= position ? ends[child] - child : 0;
                            }
                            return count;
                        })
                .sum();
    }

    /**
     * What loses every way to a root while these devices are down; they themselves are not counted,
     * nor what has none anyway.
     */
    public SequencedSet<String> cutOffBy(Set<String> devices) {
        boolean[] down = new boolean[names.size()];
        devices.forEach(name -> number(name).ifPresent(i -> down[i] = true));
        int[] steps = layers(down);
        LinkedHashSet<String> cut = new LinkedHashSet<>();
        for (int i = 0; i < steps.length; i++) {
            if (!down[i] && steps[i] == UNSEEN && layers[i] != UNSEEN) {
                cut.add(names.get(i));
            }
        }
        return cut;
    }

    /**
     * What loses every way to a root while these devices are down together, although none of them
     * alone cuts it off.
     */
    public SequencedSet<String> cutOffTogether(Set<String> devices) {
        if (devices.stream().filter(this::isOnARing).count() < 2) {
            return new LinkedHashSet<>();
        }
        SequencedSet<String> cut = cutOffBy(devices);
        if (!cut.isEmpty()) {
            devices.forEach(device -> cut.removeAll(cutOffBy(device)));
        }
        return cut;
    }

    /** Whether it is in a part of the network that no single device of it cuts apart. */
    private boolean isOnARing(String device) {
        return number(device).stream().anyMatch(i -> onRing[i]);
    }

    /** The pairs of some devices that together cut off a third, although neither alone does. */
    public List<SequencedSet<String>> cuttingPairs(Set<String> among) {
        return blocks.stream().flatMap(block -> cuttingPairs(block, among).stream()).toList();
    }

    /**
     * The greatest parts that no single device cuts apart, of those in which two can cut off a
     * third: their positions, the one nearest to the roots first.
     */
    private List<List<Integer>> blocks() {
        int[] number = new int[ends[0]];
        List<List<Integer>> members = new ArrayList<>();
        for (int at = 1; at < number.length; at++) {
            boolean opens = low[at] >= parent[at];
            number[at] = opens ? members.size() : number[parent[at]];
            if (opens) {
                members.add(new ArrayList<>(List.of(parent[at])));
            }
            members.get(number[at]).add(at);
        }
        return members.stream().filter(block -> block.size() >= SMALLEST_WITH_A_PAIR).toList();
    }

    private SequencedSet<String> named(int... positions) {
        return new LinkedHashSet<>(
                Arrays.stream(positions).mapToObj(at -> names.get(nodeAt[at])).sorted().toList());
    }

    /** Of one block, given by its positions, the one nearest to the roots first. */
    private List<SequencedSet<String>> cuttingPairs(List<Integer> block, Set<String> among) {
        Map<Integer, Integer> places = new HashMap<>();
        block.forEach(at -> places.put(at, places.size()));
        List<List<Integer>> joined = new ArrayList<>();
        block.forEach(_ -> joined.add(new ArrayList<>()));
        for (int at : block.subList(1, block.size())) {
            int here = known(places, at);
            for (int other : neighbours[nodeAt[at]]) {
                int there = positionOf[other];
                if (there == block.getFirst()) {
                    joined.get(here).add(0);
                    joined.getFirst().add(here);
                } else if (places.containsKey(there)) {
                    joined.get(here).add(known(places, there));
                }
            }
            if (root[nodeAt[at]] && block.getFirst() == 0) {
                joined.get(here).add(0);
                joined.getFirst().add(here);
            }
        }
        int[][] edges =
                joined.stream()
                        .map(list -> list.stream().mapToInt(Integer::intValue).toArray())
                        .toArray(int[][]::new);
        return new PairCuts(edges, 0)
                .among(place -> among.contains(names.get(nodeAt[block.get(place)]))).stream()
                        .map(pair -> named(block.get(pair[0]), block.get(pair[1])))
                        .toList();
    }

    /**
     * Some devices in the order in which they may restart: what is farther from the roots goes
     * before what is nearer; of equals by name.
     */
    public List<String> farEdgeFirst(Collection<String> devices) {
        return devices.stream()
                .sorted(
                        Comparator.comparingInt((String d) -> layer(d).orElse(Integer.MAX_VALUE))
                                .reversed()
                                .thenComparing(Comparator.naturalOrder()))
                .toList();
    }

    /**
     * Devices that stand in for each other as the links show it: all ways of some device that are
     * as short as can be lead over them, and it is cut off when all of them are down, but not by
     * one alone.
     */
    public List<SequencedSet<String>> standIns() {
        Set<List<Integer>> tried = new HashSet<>();
        List<SequencedSet<String>> groups = new ArrayList<>();
        for (int node = 0; node < layers.length; node++) {
            int above = layers[node] - 1;
            List<Integer> parents = parentsOf(node, above);
            if (parents.size() > 1 && tried.add(parents)) {
                SequencedSet<String> group =
                        new LinkedHashSet<>(parents.stream().map(names::get).toList());
                if (cutOffBy(group).contains(names.get(node))) {
                    groups.add(group);
                }
            }
        }
        return groups;
    }

    private List<Integer> parentsOf(int node, int above) {
        List<Integer> parents =
                layers[node] < 1
                        ? List.of()
                        : Arrays.stream(neighbours[node])
                                .filter(n -> layers[n] == above)
                                .boxed()
                                .toList();
        return parents;
    }

    /** The devices that a device is joined with, by name. */
    public List<String> neighboursOf(String device) {
        return Optional.ofNullable(numbers.get(device))
                .map(i -> Arrays.stream(neighbours[i]).mapToObj(names::get).toList())
                .orElse(List.of());
    }
}
