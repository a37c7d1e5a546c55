package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * The list schedule with its repair. The same task gives the same schedule: chance has a fixed
 * seed, and tries are counted, not timed.
 */
public final class WaveSearch {
    /**
     * How many parts may be placed in all tries together; large tasks get few tries, and need few:
     * their limits decide.
     */
    private static final int USUAL_EFFORT = 250_000;

    /**
     * A small task has room for odd packings that few orders lead to, and is tried ten times as
     * hard: a second, where little is known of what cannot be beaten.
     */
    private static final int THOROUGH_EFFORT = 2_500_000;

    private static final int SMALL = 75;
    private static final int MOST_TRIES = 60_000;

    /** So many tries for each pair of parts: the smallest tasks have few orders. */
    private static final int TRIES_BY_PAIR = 200;

    private static final long SEED = 20_261_123;

    /**
     * How many choices of nights may be looked at for what the bounds know of them; a look costs
     * about as much as a try.
     */
    private static final int MOST_LOOKS = 20_000;

    private static final int MOST_PROMISING = 16;
    private static final int ROUNDS = 20;
    private static final int HALVINGS = 5;
    private static final int A_FEW = 6;

    /** Every so many tries something is held back otherwise. */
    private static final int HOLDS = 4;

    /** How many tries ago it was that the next one is measured against. */
    private static final int HISTORY = 120;

    /** Every so many tries something worse is gone on from, so that the search leaves a hollow. */
    private static final int RESTLESS = 10;

    private final Ground ground;
    private final ListSchedule list;
    private final int[][] free;
    private final Random random = new Random(SEED);
    private final FirstOrders first;
    private final OtherOrders other;
    private final LowerBound.Least reachable;

    /** Units that find no place even where they are alone. */
    private final int hopeless;

    private int triesLeft;
    private Try best;

    /**
     * @param order which unit is placed when: each as often as it has parts
     * @param closed nights that are not used
     * @param held by unit and part: no earlier than this minute, although it could be
     * @param sore units that found no place; where all did, those that end last
     */
    private record Try(int[] order, int[] closed, int[][] held, Worth worth, int[] sore) {}

    private WaveSearch(WaveTask task, int effort) {
        ground = new Ground(task);
        list = new ListSchedule(ground);
        int parts = Math.max(1, ground.parts());
        triesLeft =
                Math.clamp(
                        effort / parts,
                        4,
                        Math.clamp((long) TRIES_BY_PAIR * parts * parts, 4, MOST_TRIES));
        hopeless =
                (int)
                        IntStream.range(0, ground.works.size())
                                .filter(unit -> !list.wouldFit(unit, Loosened.NOTHING))
                                .count();
        free = ground.works.stream().map(work -> new int[work.parts()]).toArray(int[][]::new);
        first = new FirstOrders(ground);
        other = new OtherOrders(list, random);
        best = tried(first.usual(), new int[0], free);
        reachable = LowerBound.of(new LowerBound.Counted(ground, list::isPlaced));
    }

    public static Schedule of(WaveTask task) {
        return of(
                task,
                task.units().stream().mapToInt(unit -> unit.chunks().size()).sum() <= SMALL
                        ? THOROUGH_EFFORT
                        : USUAL_EFFORT);
    }

    /**
     * @param effort how many parts may be placed in all tries together
     */
    public static Schedule of(WaveTask task, int effort) {
        WaveSearch search = new WaveSearch(task, effort);
        search.repair();
        search.again(search.best);
        return new Explained(search.list).schedule();
    }

    /**
     * The schedule with other wishes that moves as little as possible: everything begins where it
     * began before, or as soon after that as the wishes leave a place. It is not searched for fewer
     * nights or an earlier end; that is what {@link #of} is for, and what is done where a unit
     * would lose its place.
     */
    public static Schedule keeping(WaveTask task, Schedule before) {
        Ground ground = new Ground(task);
        ListSchedule list = new ListSchedule(ground);
        List<int[]> items = new ArrayList<>();
        for (int unit = 0; unit < ground.works.size(); unit++) {
            Work work = ground.works.get(unit);
            List<Placement> known = before.of(work.unit().name());
            boolean kept =
                    known.size() == work.parts()
                            && (work.pin() == Ground.NONE
                                    || known.stream()
                                            .allMatch(
                                                    p ->
                                                            p.night()
                                                                    .equals(
                                                                            ground.nightOf(
                                                                                    work.pin()))));
            int[] begins =
                    kept
                            ? known.stream()
                                    .mapToInt(p -> Math.max(0, ground.minuteAfter(p.begins())))
                                    .toArray()
                            : new int[work.parts()];
            list.want(unit, begins);
            for (int part = 0; part < work.parts(); part++) {
                items.add(new int[] {kept ? begins[part] : soonestOf(ground, work), unit});
            }
        }
        int[] order =
                items.stream()
                        .sorted(
                                Comparator.comparingInt((int[] item) -> item[0])
                                        .thenComparingInt(item -> item[1]))
                        .mapToInt(item -> item[1])
                        .toArray();
        list.placeAll(order);
        for (int unit = 0; unit < ground.works.size(); unit++) {
            if (!list.isPlaced(unit)) {
                list.want(unit, new int[ground.works.get(unit).parts()]);
                list.place(unit, Loosened.NOTHING);
            }
        }
        Schedule kept = new Explained(list).schedule();
        if (kept.nowhere().size() <= before.nowhere().size()) {
            return kept;
        }
        Schedule anew = of(task);
        return anew.nowhere().size() < kept.nowhere().size() ? anew : kept;
    }

    /**
     * The first minute of the night that a unit is pinned to, or the last of all where it is free
     * to go anywhere.
     */
    private static int soonestOf(Ground ground, Work work) {
        Openings site = ground.sites.get(work.site());
        return IntStream.range(0, site.count())
                .filter(w -> site.nights()[w] == work.pin())
                .map(w -> site.opens()[w])
                .findFirst()
                .orElse(ground.minutes);
    }

    private Try tried(int[] order, int[] closed, int[][] held) {
        triesLeft--;
        place(order, closed, held);
        Worth worth = list.worth();
        int[] sore =
                IntStream.range(0, ground.works.size())
                        .filter(
                                u ->
                                        worth.left() > 0
                                                ? !list.isPlaced(u)
                                                : list.end(u, ground.works.get(u).parts() - 1)
                                                        == worth.end())
                        .toArray();
        return new Try(order, closed, held, worth, sore);
    }

    private void place(int[] order, int[] closed, int[][] held) {
        list.clear(closed);
        for (int unit = 0; unit < held.length; unit++) {
            list.want(unit, held[unit]);
        }
        list.placeAll(order);
    }

    private void again(Try one) {
        place(one.order(), one.closed(), one.held());
    }

    private Try next(Try at, int[] closed) {
        return tried(
                other.changed(at.order(), at.sore()),
                closed,
                random.nextInt(HOLDS) == 0 ? other.heldOtherwise(at.held()) : at.held());
    }

    private boolean keepIfBetter(Try other) {
        boolean better = other.worth().compareTo(best.worth()) < 0;
        best = better ? other : best;
        return better;
    }

    private boolean isDone() {
        return triesLeft <= 0
                || (best.worth().left() <= hopeless
                        && best.worth().nights() <= reachable.nights()
                        && best.worth().end() <= reachable.end());
    }

    private void repair() {
        closeLightNights();
        tryFewNights();
        tryOtherOrders();
    }

    /**
     * Closes one night after the other that little is done in, as long as nothing is lost by it.
     */
    private void closeLightNights() {
        boolean better = true;
        int share = triesLeft / 4;
        while (better && triesLeft > share && !isDone()) {
            better = false;
            again(best);
            int[] load = list.load();
            Try from = best;
            int[] lightest =
                    IntStream.range(0, load.length)
                            .filter(night -> load[night] > 0)
                            .boxed()
                            .sorted(Comparator.comparingInt((Integer night) -> load[night]))
                            .mapToInt(Integer::intValue)
                            .limit(8)
                            .toArray();
            for (int night : lightest) {
                if (!better && triesLeft > share && !isDone()) {
                    better =
                            keepIfBetter(
                                    tried(from.order(), plus(from.closed(), night), from.held()));
                }
            }
        }
    }

    private static int[] plus(int[] nights, int night) {
        return IntStream.concat(IntStream.of(nights), IntStream.of(night)).toArray();
    }

    /** Nights to do everything in; {@code least} is what no schedule in them beats. */
    private record Choice(int[] closed, LowerBound.Least least) {}

    /** A choice of nights with the best try in them. */
    private record Promise(Choice choice, Try at) {}

    /**
     * Small tasks: every choice of fewer nights in which all could be done for what the bounds
     * know, fewest first, a few tries each. Then many for the most promising ones, for fewer and
     * fewer of them, and over again: what seemed hopeless at first may be all that is left to gain.
     */
    private void tryFewNights() {
        int share = triesLeft / 8;
        List<Promise> promising = promising(share);
        for (int round = ROUNDS; round > 0; round--) {
            List<Promise> better =
                    promising.stream()
                            .filter(p -> couldBeBetter(p.choice()))
                            .sorted(
                                    Comparator.comparingInt((Promise p) -> p.at().worth().left())
                                            .thenComparing(p -> p.at().worth()))
                            .limit(Math.max(1, MOST_PROMISING >> (ROUNDS - round) % HALVINGS))
                            .toList();
            promising.removeAll(better);
            int each = Math.max(0, triesLeft - share) / Math.max(1, round * better.size());
            better.forEach(one -> promising.add(new Promise(one.choice(), triedOn(one, each))));
        }
    }

    private List<Promise> promising(int share) {
        again(best);
        LowerBound.Counted placed = new LowerBound.Counted(ground, list::isPlaced);
        NightChoices choices =
                new NightChoices(ground, list::isPlaced, Math.min(MOST_LOOKS, triesLeft * 2));
        int[] open = choices.open();
        List<Promise> promising = new ArrayList<>();
        for (int count = reachable.nights();
                count <= (best.worth().left() > hopeless ? open.length : best.worth().nights());
                count++) {
            for (int last = count - 1;
                    last < open.length && choices.goesOn() && triesLeft > share && !isDone();
                    last++) {
                if (couldBeBetter(count, opens(open[last]))) {
                    promising.addAll(triedOn(possible(placed, choices.of(count, open[last]))));
                }
            }
        }
        return promising;
    }

    private List<Choice> possible(LowerBound.Counted placed, List<BitSet> nights) {
        return nights.stream()
                .map(
                        used ->
                                new Choice(
                                        IntStream.range(0, ground.nights)
                                                .filter(night -> !used.get(night))
                                                .toArray(),
                                        LowerBound.of(placed, used::get)))
                .filter(
                        choice ->
                                choice.least().possible()
                                        && choice.least().nights()
                                                <= ground.nights - choice.closed().length)
                .sorted(Comparator.comparingInt((Choice choice) -> choice.least().end()))
                .toList();
    }

    private List<Promise> triedOn(List<Choice> choices) {
        List<Promise> promising = new ArrayList<>();
        for (Choice choice : choices) {
            if (triesLeft > 0 && couldBeBetter(choice)) {
                Try usual =
                        settle(tried(best.order(), choice.closed(), best.held()), choice, A_FEW);
                Try urgent =
                        settle(
                                tried(
                                        first.urgentFirst(choice.closed(), Optional.empty()),
                                        choice.closed(),
                                        free),
                                choice,
                                A_FEW);
                promising.add(new Promise(choice, better(usual, urgent)));
            }
        }
        return promising;
    }

    /** The first minute of a night at any site. */
    private int opens(int night) {
        return ground.sites.stream()
                .flatMapToInt(
                        site ->
                                IntStream.range(0, site.count())
                                        .filter(w -> site.nights()[w] == night)
                                        .map(w -> site.opens()[w]))
                .min()
                .orElse(ground.minutes);
    }

    /**
     * From where it stands, or anew with other pilots; what was there stays if nothing better is
     * found.
     */
    private Try triedOn(Promise one, int tries) {
        if (!couldBeBetter(one.choice())) {
            return one.at();
        }
        int[] closed = one.choice().closed();
        return better(
                one.at(),
                settle(
                        random.nextBoolean()
                                ? one.at()
                                : tried(
                                        first.urgentFirst(closed, Optional.of(random)),
                                        closed,
                                        free),
                        one.choice(),
                        tries));
    }

    private static Try better(Try one, Try other) {
        return other.worth().compareTo(one.worth()) < 0 ? other : one;
    }

    private boolean couldBeBetter(Choice choice) {
        return couldBeBetter(ground.nights - choice.closed().length, choice.least().end());
    }

    /** Whether anything that ends no sooner, in so many nights, could be. */
    private boolean couldBeBetter(int nights, int end) {
        return nights < best.worth().nights()
                || best.worth().left() > hopeless
                || (nights == best.worth().nights() && end < best.worth().end());
    }

    /**
     * Keeps the nights of a try and moves what hurts forward in the order; the best of these tries.
     * Late acceptance (Burke and Bykov 2017) leaves hollows.
     */
    private Try settle(Try from, Choice choice, int tries) {
        keepIfBetter(from);
        Try at = from;
        Try good = from;
        Worth[] earlier = new Worth[HISTORY];
        Arrays.fill(earlier, from.worth());
        boolean sorts = random.nextBoolean();
        for (int i = 0; i < tries && couldBeBetter(choice) && !isDone(); i++) {
            Try next = next(at, from.closed());
            keepIfBetter(next);
            good = better(good, next);
            if (next.worth().leadsOnFrom(at.worth())
                    || next.worth().leadsOnFrom(earlier[i % HISTORY])) {
                at =
                        sorts
                                ? new Try(
                                        other.byBegin(next.order()),
                                        next.closed(),
                                        next.held(),
                                        next.worth(),
                                        next.sore())
                                : next;
            }
            earlier[i % HISTORY] = at.worth();
        }
        return good;
    }

    /**
     * Other orders and other nights, again and again; what is as good is gone on from too, so that
     * the search does not stand still.
     */
    private void tryOtherOrders() {
        Try at = best;
        while (!isDone()) {
            int[] closed = random.nextInt(4) == 0 ? otherNights(at) : at.closed();
            Try next = next(at, closed);
            if (next.worth().leadsOnFrom(at.worth())) {
                at = next;
            } else if (random.nextInt(RESTLESS) == 0) {
                at = best;
            }
            keepIfBetter(next);
        }
    }

    private int[] otherNights(Try at) {
        if (at.closed().length > 0 && random.nextBoolean()) {
            int opened = at.closed()[random.nextInt(at.closed().length)];
            return IntStream.of(at.closed()).filter(night -> night != opened).toArray();
        }
        int night = random.nextInt(Math.max(1, ground.nights));
        return ground.nights == 0 || IntStream.of(at.closed()).anyMatch(n -> n == night)
                ? at.closed()
                : plus(at.closed(), night);
    }
}
