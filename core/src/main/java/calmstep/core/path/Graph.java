package calmstep.core.path;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Guard;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.MovementRule.Way;
import calmstep.core.catalogue.Release;
import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;

/**
 * The states of a device as numbers, and its moves compiled for them: the search asks here millions
 * of times, {@link Moves} explains the few answers. Each component that matters has its versions in
 * order; the index of one is a digit of the state, in a mixed radix, 0 for "not known". A component
 * matters when it is the target's, or a move of one that matters needs or brings it.
 */
final class Graph {

    /** A guard that looks at one component: the indices that satisfy it. */
    record Allowed(int place, BitSet indices) {
        boolean holds(int[] state) {
            return indices.get(state[place]);
        }
    }

    /** A rule that opens ways, and when it holds. */
    record Opening(
            String rule, boolean down, boolean line, Optional<Allowed> guard, boolean holdsAlways) {
        boolean holds(int[] state) {
            return guard.map(g -> g.holds(state)).orElse(holdsAlways);
        }
    }

    /**
     * A move, compiled.
     *
     * @param sets further digits that the same file sets: places and their new indices
     * @param always bars in every state
     * @param guards guards that hold on every move
     * @param needs those of them that look at other components
     * @param installable indices of its own component on which there is an image to install
     * @param from indices of its own component that no guard rules out: one question for what the
     *     guards ask one by one
     * @param sameLine indices of its own component that are of its software line
     * @param varies whether its cost depends on what ran before
     */
    record Move(
            Release release,
            Digit digit,
            int index,
            int[][] sets,
            int always,
            List<Allowed> guards,
            List<Allowed> needs,
            BitSet installable,
            BitSet from,
            BitSet sameLine,
            List<Opening> openings,
            PathKey cost,
            boolean varies) {
        /**
         * Whether the move is barred for a reason that its own component alone tells; most moves of
         * a large catalogue are.
         */
        boolean isBarredAtOnce(int[] state) {
            return always > 0 || !from.get(state[digit.place()]);
        }

        /** Whether nothing bars a move that is not barred at once. */
        boolean isOpen(int[] state) {
            for (Allowed need : needs) {
                if (!need.holds(state)) {
                    return false;
                }
            }
            for (int[] set : sets) {
                if (set[1] < state[set[0]]) {
                    return false;
                }
            }
            int running = state[digit.place()];
            boolean down = index < running;
            boolean otherLine = running > 0 && !sameLine.get(running);
            return (!down && !otherLine) || barsOnShutWays(state, down, otherLine) == 0;
        }

        /** How many things bar the move, as {@link Moves#obstacles} would list them. */
        int bars(int[] state) {
            int running = state[digit.place()];
            int bars = always + (installable.get(running) ? 0 : 1);
            for (Allowed guard : guards) {
                bars += guard.holds(state) ? 0 : 1;
            }
            for (int[] set : sets) {
                bars += set[1] < state[set[0]] ? 1 : 0;
            }
            boolean down = index < running;
            boolean otherLine = running > 0 && !sameLine.get(running);
            return down || otherLine ? bars + barsOnShutWays(state, down, otherLine) : bars;
        }

        /** One for each way that no rule opens; one in all where the same rule would open both. */
        private int barsOnShutWays(int[] state, boolean down, boolean otherLine) {
            Optional<Opening> shutDown = Optional.empty();
            Optional<Opening> shutLine = Optional.empty();
            boolean downOpen = !down;
            boolean lineOpen = !otherLine;
            for (Opening opening : openings) {
                boolean holds = opening.holds(state);
                downOpen |= opening.down() && holds;
                lineOpen |= opening.line() && holds;
                shutDown = shutDown.isEmpty() && opening.down() ? Optional.of(opening) : shutDown;
                shutLine = shutLine.isEmpty() && opening.line() ? Optional.of(opening) : shutLine;
            }
            boolean oneForBoth =
                    !downOpen && !lineOpen && shutDown.isPresent() && shutDown.equals(shutLine);
            return oneForBoth ? 1 : (downOpen ? 0 : 1) + (lineOpen ? 0 : 1);
        }

        long after(long number, int[] state, List<Digit> places) {
            long after = number + (index - state[digit.place()]) * digit.weight();
            for (int[] set : sets) {
                after += (set[1] - state[set[0]]) * places.get(set[0]).weight();
            }
            return after;
        }
    }

    private final Map<String, Digit> digits = new TreeMap<>();
    private final List<Digit> places = new ArrayList<>();
    private final IdentityHashMap<MovementRule, Optional<Allowed>> ofRules =
            new IdentityHashMap<>();
    private final Map<String, BitSet> ofLines = new HashMap<>();
    private final Moves explained;
    private final Preference preference;
    private final List<Move> moves;
    private final Digit targetDigit;
    private final int target;
    private final int[] placeOf;
    private final int[] indexOf;
    private final int[] lowestFrom;
    private final int[] highestFrom;
    private final int blockBegins;
    private final int[] atMost;

    /**
     * @param states the states that will be asked about; their versions need not be in the
     *     catalogue
     */
    Graph(
            Kind kind,
            Moves explained,
            String component,
            Version wanted,
            Collection<SortedMap<String, Version>> states) {
        this.explained = explained;
        this.preference = kind.preference();
        SortedSet<String> mattering = mattering(kind.catalogue(), component);
        List<Release> candidates =
                kind.catalogue().releases().stream()
                        .filter(r -> mattering.contains(r.component()))
                        .sorted(
                                Comparator.comparing(Release::component)
                                        .thenComparing(Release::version, Comparator.reverseOrder()))
                        .toList();
        long weight = 1;
        for (Map.Entry<String, SortedSet<Version>> entry :
                versions(mattering, candidates, component, wanted, states).entrySet()) {
            Digit digit =
                    new Digit(entry.getKey(), places.size(), List.copyOf(entry.getValue()), weight);
            digits.put(entry.getKey(), digit);
            places.add(digit);
            weight = Math.multiplyExact(weight, digit.radix());
        }
        targetDigit = known(digits, component);
        target = targetDigit.index(wanted);
        moves = candidates.stream().map(this::compile).toList();
        placeOf = moves.stream().mapToInt(m -> m.digit().place()).toArray();
        indexOf = moves.stream().mapToInt(Move::index).toArray();
        lowestFrom =
                moves.stream()
                        .mapToInt(
                                m ->
                                        m.always() > 0 || m.from().isEmpty()
                                                ? Integer.MAX_VALUE
                                                : m.from().nextSetBit(0))
                        .toArray();
        highestFrom = moves.stream().mapToInt(m -> m.from().length() - 1).toArray();
        blockBegins =
                (int) candidates.stream().takeWhile(r -> !r.component().equals(component)).count();
        atMost = positions();
    }

    private static SortedSet<String> mattering(Catalogue catalogue, String component) {
        SortedSet<String> mattering = new TreeSet<>(List.of(component));
        boolean grew = true;
        while (grew) {
            SortedSet<String> more = neededBy(catalogue, mattering);
            grew = mattering.addAll(more);
        }
        return mattering;
    }

    private static SortedSet<String> neededBy(Catalogue catalogue, SortedSet<String> mattering) {
        SortedSet<String> more = new TreeSet<>();
        catalogue.rules().stream()
                .filter(r -> mattering.contains(r.component()))
                .forEach(
                        rule -> {
                            if (rule.guard() instanceof Guard.Needs(String other, var _)) {
                                more.add(other);
                            }
                        });
        catalogue.releases().stream()
                .filter(r -> mattering.contains(r.component()))
                .forEach(release -> more.addAll(release.brings().keySet()));
        return more;
    }

    private static SortedMap<String, SortedSet<Version>> versions(
            SortedSet<String> mattering,
            List<Release> candidates,
            String component,
            Version wanted,
            Collection<SortedMap<String, Version>> states) {
        SortedMap<String, SortedSet<Version>> versions = new TreeMap<>();
        mattering.forEach(c -> versions.put(c, new TreeSet<>()));
        known(versions, component).add(wanted);
        candidates.forEach(release -> addVersions(release, versions));
        states.forEach(
                state ->
                        state.forEach(
                                (other, version) ->
                                        Optional.ofNullable(versions.get(other))
                                                .ifPresent(v -> v.add(version))));
        return versions;
    }

    private static void addVersions(
            Release release, SortedMap<String, SortedSet<Version>> versions) {
        known(versions, release.component()).add(release.version());
        release.brings().forEach((other, version) -> known(versions, other).add(version));
    }

    /** Whether a state has versions only that this graph has digits for. */
    boolean knows(SortedMap<String, Version> state) {
        return state.entrySet().stream()
                .allMatch(
                        e ->
                                Optional.ofNullable(digits.get(e.getKey()))
                                        .map(d -> d.index(e.getValue()) > 0)
                                        .orElse(true));
    }

    long number(SortedMap<String, Version> state) {
        long number = 0;
        for (Digit digit : places) {
            Version version = state.get(digit.component());
            number += version == null ? 0 : digit.index(version) * digit.weight();
        }
        return number;
    }

    private Move compile(Release release) {
        Digit digit = known(digits, release.component());
        int[][] sets =
                release.brings().entrySet().stream()
                        .map(
                                b -> {
                                    Digit brought = known(digits, b.getKey());
                                    return new int[] {brought.place(), brought.index(b.getValue())};
                                })
                        .toArray(int[][]::new);
        int always = explained.isWithdrawn(release) ? 1 : 0;
        List<Allowed> guards = new ArrayList<>();
        List<Opening> openings = new ArrayList<>();
        for (MovementRule rule : explained.rules(release)) {
            Optional<Allowed> allowed = ofRules.computeIfAbsent(rule, this::allowed);
            boolean holdsAlways = allowed.isEmpty() && explained.holdsOnThisDevice(rule.guard());
            if (!rule.opens().isEmpty()) {
                openings.add(
                        new Opening(
                                rule.id(),
                                rule.opens().contains(Way.DOWN),
                                rule.opens().contains(Way.LINE),
                                allowed,
                                holdsAlways));
            } else if (allowed.isPresent()) {
                guards.add(allowed.get());
            } else {
                always += holdsAlways ? 0 : 1;
            }
        }
        BitSet installable = installableOn(digit, explained.images(release));
        BitSet from = (BitSet) installable.clone();
        guards.stream()
                .filter(guard -> guard.place() == digit.place())
                .forEach(guard -> from.and(guard.indices()));
        return new Move(
                release,
                digit,
                digit.index(release.version()),
                sets,
                always,
                guards,
                guards.stream().filter(guard -> guard.place() != digit.place()).toList(),
                installable,
                from,
                ofLines.computeIfAbsent(
                        digit.component() + " " + release.line(),
                        _ -> ofLine(digit, release.line())),
                openings,
                PathKey.of(explained.cost(release, Optional.empty()), preference),
                explained.costsVary(release));
    }

    private static BitSet installableOn(Digit digit, Moves.Images images) {
        BitSet there = new BitSet(digit.radix());
        if (images.full().isEmpty()) {
            images.deltas().keySet().stream()
                    .mapToInt(digit::index)
                    .filter(i -> i > 0)
                    .forEach(there::set);
        } else {
            there.set(0, digit.radix());
        }
        return there;
    }

    /** The indices of a component's versions that are of a software line. */
    private BitSet ofLine(Digit digit, String line) {
        BitSet same = new BitSet(digit.radix());
        for (int i = 1; i < digit.radix(); i++) {
            same.set(
                    i,
                    explained.lineOf(digit.component(), digit.versions().get(i - 1)).equals(line));
        }
        return same;
    }

    private Optional<Allowed> allowed(MovementRule rule) {
        return switch (rule.guard()) {
            case Guard.From(VersionRange range) -> Optional.of(allowed(rule.component(), range));
            case Guard.Needs(String other, VersionRange range) ->
                    Optional.of(allowed(other, range));
            case Guard.OnlyOn _, Guard.NeverOn _, Guard.Entitled _ -> Optional.empty();
        };
    }

    private Allowed allowed(String component, VersionRange range) {
        Digit digit = known(digits, component);
        return new Allowed(digit.place(), digit.in(range));
    }

    /** The cost of a move from a state. */
    PathKey cost(Move move, int[] state) {
        return move.varies()
                ? PathKey.of(
                        explained.cost(
                                move.release(), move.digit().version(state[move.digit().place()])),
                        preference)
                : move.cost();
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

    boolean isOfTarget(Move move) {
        return move.digit().place() == targetDigit.place();
    }

    boolean reaches(Move move) {
        return move.digit().place() == targetDigit.place() && move.index() == target;
    }

    List<Move> moves() {
        return moves;
    }

    long after(Move move, long number, int[] state) {
        return move.after(number, state, places);
    }

    /** The index of what the target's component runs in a state. */
    int runs(long state) {
        return targetDigit.of(state);
    }

    /**
     * The moves that may come next in a state as far as their own component tells, newest release
     * first; {@code through} also those that guards bar.
     *
     * <p>Stepping stones lie between what runs and what is wanted; other components only move up.
     * So no state comes twice on a path, which is what lets the cost to go be worked out without a
     * queue. Most moves of a large catalogue are out by what four arrays tell; only the rest is
     * looked at one by one.
     */
    void forEachNext(int[] state, boolean through, Consumer<Move> taken) {
        int running = state[targetDigit.place()];
        for (int i = 0; i < blockBegins; i++) {
            takeIfAbove(i, state, through, taken);
        }
        takeOfTarget(running, through, taken);
        for (int i = atMost[0]; i < placeOf.length; i++) {
            takeIfAbove(i, state, through, taken);
        }
    }

    private void takeOfTarget(int running, boolean through, Consumer<Move> taken) {
        int begins = atMost[running == 0 || running < target ? target : running - 1];
        int ends =
                running == 0
                        ? atMost[target - 1]
                        : running < target ? atMost[running] : atMost[target - 1];
        for (int i = begins; i < ends; i++) {
            if (through || isFromWithin(i, running)) {
                taken.accept(moves.get(i));
            }
        }
    }

    private void takeIfAbove(int i, int[] state, boolean through, Consumer<Move> taken) {
        int here = state[placeOf[i]];
        if (here > 0 && indexOf[i] > here && (through || isFromWithin(i, here))) {
            taken.accept(moves.get(i));
        }
    }

    private boolean isFromWithin(int i, int here) {
        return here >= lowestFrom[i] && here <= highestFrom[i] && moves.get(i).from().get(here);
    }

    /**
     * Where the moves of the target's component begin, by index: the first that leads to an index
     * or a lower one. They stand from high to low.
     */
    private int[] positions() {
        int[] positions = new int[targetDigit.radix()];
        int at = blockBegins;
        for (int index = targetDigit.radix() - 1; index >= 0; index--) {
            while (at < moves.size()
                    && moves.get(at).digit().place() == targetDigit.place()
                    && moves.get(at).index() > index) {
                at++;
            }
            positions[index] = at;
        }
        return positions;
    }
}
