package calmstep.core.path;

import calmstep.core.catalogue.Guard;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.Release;
import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * The states of a device as numbers, and its moves compiled for them: the search asks here millions of times, {@link Moves} explains the
 * few answers. Each component has its versions in order; the index of one is a digit of the state, in a mixed radix, 0 for "not known".
 */
final class Graph {
    /** The digit of one component. */
    record Digit(int place, List<Version> versions, long weight) {
        int radix() {
            return versions.size() + 1;
        }

        int of(long state) {
            return (int) (state / weight % radix());
        }

        int index(Version version) {
            return java.util.Collections.binarySearch(versions, version) + 1;
        }
    }

    /** A guard that looks at one component: the indices that satisfy it. */
    record Allowed(Digit digit, BitSet indices) {
        boolean holds(int[] state) {
            return indices.get(state[digit.place()]);
        }
    }

    /**
     * A move, compiled.
     *
     * @param brings     further digits that the same file sets, with their new index
     * @param always     bars in every state
     * @param guards     guards that hold on every move
     * @param from       indices of its own component that no guard rules out: one question for what the guards ask one by one
     * @param downAlways bars on the way down in every state
     * @param down       guards of the rules that open the way down
     * @param opens      whether a rule opens the way down in every state
     */
    record Move(Release release, Digit digit, int index, Map<Digit, Integer> brings, int always, List<Allowed> guards, BitSet from, int downAlways, List<Allowed> down, boolean opens) {
        /** Whether the move is barred for a reason that its own component alone tells; most moves of a large catalogue are. */
        boolean isBarredAtOnce(int[] state) {
            return always > 0 || !from.get(state[digit.place()]);
        }

        /** How many things bar the move, as {@link Moves#obstacles} would list them. */
        int bars(int[] state) {
            int bars = always;
            for (Allowed guard : guards) {
                bars += guard.holds(state) ? 0 : 1;
            }
            return index < state[digit.place()] ? bars + barsDown(state) : bars;
        }

        private int barsDown(int[] state) {
            boolean opened = opens;
            int bars = downAlways;
            for (Allowed guard : down) {
                boolean holds = guard.holds(state);
                bars += holds ? 0 : 1;
                opened |= holds;
            }
            return opened ? bars : bars + 1;
        }

        long after(long number, int[] state) {
            long after = number + (index - state[digit.place()]) * digit.weight();
            for (Map.Entry<Digit, Integer> brought : brings.entrySet()) {
                after += (brought.getValue() - state[brought.getKey().place()]) * brought.getKey().weight();
            }
            return after;
        }
    }

    private final Map<String, Digit> digits = new TreeMap<>();
    private final List<Digit> places = new ArrayList<>();
    private final List<Move> moves;
    private final Digit targetDigit;
    private final int target;
    private final long start;

    Graph(Question question, List<Release> candidates, Moves explained) {
        Map<String, TreeSet<Version>> versions = new TreeMap<>();
        candidates.forEach(r -> r.appliedTo(Map.of()).forEach((component, version) -> versions.computeIfAbsent(component, _ -> new TreeSet<>()).add(version)));
        question.state().forEach((component, version) -> versions.computeIfAbsent(component, _ -> new TreeSet<>()).add(version));
        versions.computeIfAbsent(question.component(), _ -> new TreeSet<>()).add(question.target());
        long weight = 1;
        for (Map.Entry<String, TreeSet<Version>> entry : versions.entrySet()) {
            Digit digit = new Digit(places.size(), List.copyOf(entry.getValue()), weight);
            digits.put(entry.getKey(), digit);
            places.add(digit);
            weight = Math.multiplyExact(weight, digit.radix());
        }
        targetDigit = digits.get(question.component());
        target = targetDigit.index(question.target());
        start = number(question.state());
        moves = candidates.stream().map(release -> compile(explained, release)).toList();
    }

    private long number(SortedMap<String, Version> state) {
        long number = 0;
        for (Map.Entry<String, Version> entry : state.entrySet()) {
            Digit digit = digits.get(entry.getKey());
            number += digit.index(entry.getValue()) * digit.weight();
        }
        return number;
    }

    private Move compile(Moves moves, Release release) {
        Digit digit = digits.get(release.component());
        Map<Digit, Integer> brings = new IdentityHashMap<>();
        release.brings().forEach((component, version) -> brings.put(digits.get(component), digits.get(component).index(version)));
        int always = moves.always(release);
        int downAlways = 0;
        boolean opens = false;
        List<Allowed> guards = new ArrayList<>();
        List<Allowed> down = new ArrayList<>();
        for (MovementRule rule : moves.rules(release)) {
            switch (rule.guard()) {
                case Guard.From(VersionRange range) -> (rule.opensDown() ? down : guards).add(allowed(release.component(), range));
                case Guard.Needs(String component, VersionRange range) -> (rule.opensDown() ? down : guards).add(allowed(component, range));
                case Guard.OnlyOn _, Guard.NeverOn _, Guard.Entitled _ -> {
                    boolean holds = moves.holdsOnThisDevice(rule.guard());
                    always += holds || rule.opensDown() ? 0 : 1;
                    downAlways += !holds && rule.opensDown() ? 1 : 0;
                    opens |= holds && rule.opensDown();
                }
            }
        }
        BitSet from = new BitSet();
        from.set(0, digit.radix());
        guards.stream().filter(guard -> guard.digit() == digit).forEach(guard -> from.and(guard.indices()));
        return new Move(release, digit, digit.index(release.version()), brings, always, guards, from, downAlways, down, opens);
    }

    private Allowed allowed(String component, VersionRange range) {
        Digit digit = digits.getOrDefault(component, new Digit(0, List.of(), 1));
        BitSet indices = new BitSet();
        for (int i = 0; i < digit.versions().size(); i++) {
            indices.set(i + 1, range.contains(digit.versions().get(i)));
        }
        return new Allowed(digit, indices);
    }

    long start() {
        return start;
    }

    /** The digits of a state, by place. */
    int[] digits(long state) {
        int[] indices = new int[places.size()];
        for (Digit digit : places) {
            indices[digit.place()] = digit.of(state);
        }
        return indices;
    }

    boolean isTarget(int[] state) {
        return state[targetDigit.place()] == target;
    }

    List<Move> moves() {
        return moves;
    }

    long after(long state, Release release) {
        return moves.stream().filter(move -> move.release() == release).findFirst().orElseThrow().after(state, digits(state));
    }

    /** Stepping stones lie between what runs and what is wanted; other components only move up. */
    boolean isOnTheWay(int[] state, Move move) {
        int running = state[move.digit().place()];
        if (move.digit() != targetDigit) {
            return running > 0 && move.index() > running;
        }
        if (running == 0) {
            return move.index() == target;
        }
        return target > running ? move.index() > running && move.index() <= target : move.index() < running && move.index() >= target;
    }
}
