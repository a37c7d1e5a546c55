package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import calmstep.core.wave.ListSchedule.Worth;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;

/** The list schedule with its repair. The same task gives the same schedule: chance has a fixed seed, and tries are counted, not timed. */
public final class WaveSearch {
    /** How many parts may be placed in all tries together; large tasks get few tries, and need few: their limits decide. */
    private static final int USUAL_EFFORT = 250_000;
    private static final int MOST_TRIES = 12_000;
    private static final long SEED = 20_261_123;
    private static final int MOST_NIGHTS_TO_CHOOSE_FROM = 30;
    private static final int PROMISING = 12;
    private static final int A_FEW = 6;
    /** Every so many tries something worse is gone on from, so that the search leaves a hollow. */
    private static final int RESTLESS = 10;

    private final Ground ground;
    private final ListSchedule list;
    private final Random random = new Random(SEED);
    private final LowerBound.Least reachable;
    /** Units that find no place even where they are alone. */
    private final int hopeless;
    private int triesLeft;
    private Try best;

    /**
     * @param order  which unit is placed when: each as often as it has parts
     * @param closed nights that are not used
     * @param sore   units that found no place; where all did, those that end last
     */
    private record Try(int[] order, int[] closed, Worth worth, int[] sore) {}

    private WaveSearch(WaveTask task, int effort) {
        ground = new Ground(task);
        list = new ListSchedule(ground);
        triesLeft = Math.clamp(effort / Math.max(1, ground.parts()), 4, MOST_TRIES);
        hopeless = (int) IntStream.range(0, ground.works.size()).filter(unit -> !list.wouldFit(unit, Loosened.NOTHING)).count();
        best = tried(firstOrder(), new int[0]);
        reachable = LowerBound.of(ground, this::isPlacedInBest);
    }

    public static Schedule of(WaveTask task) {
        return of(task, USUAL_EFFORT);
    }

    /** @param effort how many parts may be placed in all tries together */
    public static Schedule of(WaveTask task, int effort) {
        WaveSearch search = new WaveSearch(task, effort);
        search.repair();
        search.again(search.best);
        return new Explained(search.list).schedule();
    }

    /**
     * The schedule with other wishes that moves as little as possible: everything begins where it began before, or as soon after that as the wishes leave a
     * place. It is not searched for fewer nights or an earlier end; that is what {@link #of} is for, and what is done where a unit would lose its place.
     */
    public static Schedule keeping(WaveTask task, Schedule before) {
        Ground ground = new Ground(task);
        ListSchedule list = new ListSchedule(ground);
        List<int[]> items = new ArrayList<>();
        for (int unit = 0; unit < ground.works.size(); unit++) {
            Work work = ground.works.get(unit);
            List<Placement> known = before.of(work.unit().name());
            boolean kept = known.size() == work.parts() && (work.pin() == Ground.NONE || known.stream().allMatch(p -> p.night().equals(ground.nightOf(work.pin()))));
            int[] begins = kept ? known.stream().mapToInt(p -> Math.max(0, ground.minuteAfter(p.begins()))).toArray() : new int[work.parts()];
            list.want(unit, begins);
            for (int part = 0; part < work.parts(); part++) {
                items.add(new int[] {kept ? begins[part] : soonestOf(ground, work), unit});
            }
        }
        int[] order = items.stream().sorted(Comparator.comparingInt((int[] item) -> item[0]).thenComparingInt(item -> item[1])).mapToInt(item -> item[1]).toArray();
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

    /** The first minute of the night that a unit is pinned to, or the last of all where it is free to go anywhere. */
    private static int soonestOf(Ground ground, Work work) {
        Openings site = ground.sites.get(work.site());
        return IntStream.range(0, site.count()).filter(w -> site.nights()[w] == work.pin()).map(w -> site.opens()[w]).findFirst().orElse(ground.minutes);
    }

    private boolean isPlacedInBest(int unit) {
        return list.isPlaced(unit);
    }

    private Try tried(int[] order, int[] closed) {
        triesLeft--;
        list.clear(closed);
        list.placeAll(order);
        Worth worth = list.worth();
        int[] sore = IntStream.range(0, ground.works.size()).filter(u -> worth.left() > 0 ? !list.isPlaced(u) : list.end(u, work(u).parts() - 1) == worth.end()).toArray();
        return new Try(order, closed, worth, sore);
    }

    private void again(Try one) {
        list.clear(one.closed());
        list.placeAll(one.order());
    }

    private boolean keepIfBetter(Try other) {
        boolean better = other.worth().compareTo(best.worth()) < 0;
        best = better ? other : best;
        return better;
    }

    private boolean isDone() {
        return triesLeft <= 0 || best.worth().left() <= hopeless && best.worth().nights() <= reachable.nights() && best.worth().end() <= reachable.end();
    }

    /**
     * Pilots first: of each likeness those that cut off the fewest and can begin soonest. Then site by site, as wished or by how tight a site's windows
     * are, what lies farther before what lies nearer, and the longest first.
     */
    private int[] firstOrder() {
        int[] siteRank = siteRanks();
        Comparator<Integer> asPilot = Comparator.comparingInt((Integer u) -> ground.farther[u].length).thenComparingInt(this::soonest).thenComparingInt(u -> -Arrays.stream(work(u).needs()).sum()).thenComparingInt(u -> u);
        Comparator<Integer> inRest = Comparator.comparingInt((Integer u) -> siteRank[work(u).site()]).thenComparingInt(u -> ground.farther[u].length).thenComparingInt(u -> -work(u).longest()).thenComparingInt(u -> u);
        List<Integer> units = IntStream.range(0, ground.works.size()).boxed().toList();
        int[] taken = new int[ground.likenesses];
        List<Integer> pilots = units.stream().sorted(asPilot).filter(u -> taken[work(u).likeness()]++ < ground.limits.pilots()).sorted(inRest).toList();
        boolean[] isPilot = new boolean[units.size()];
        pilots.forEach(u -> isPilot[u] = true);
        List<Integer> order = new ArrayList<>(pilots);
        units.stream().filter(u -> !isPilot[u]).sorted(inRest).forEach(order::add);
        return order.stream().flatMapToInt(u -> IntStream.generate(() -> u).limit(work(u).parts())).toArray();
    }

    private Work work(int unit) {
        return ground.works.get(unit);
    }

    private int soonest(int unit) {
        Openings site = ground.sites.get(work(unit).site());
        return IntStream.range(0, site.count()).filter(w -> site.closes()[w] - site.opens()[w] >= work(unit).needs()[0]).map(w -> site.opens()[w]).findFirst().orElse(Integer.MAX_VALUE);
    }

    /** Wished sites first; then those whose work fills the greatest share of their windows. */
    private int[] siteRanks() {
        List<String> wished = ground.task.wishes().siteOrder();
        long[] work = new long[ground.sites.size()];
        ground.works.forEach(w -> work[w.site()] += Arrays.stream(w.needs()).sum());
        int[] sorted = IntStream.range(0, work.length).boxed().sorted(Comparator.comparingInt((Integer s) -> wished.contains(ground.sites.get(s).site()) ? wished.indexOf(ground.sites.get(s).site()) : wished.size())
                .thenComparingDouble(s -> -(double) work[s] / Math.max(1, ground.sites.get(s).minutes())).thenComparingInt(s -> s)).mapToInt(Integer::intValue).toArray();
        int[] ranks = new int[sorted.length];
        for (int rank = 0; rank < sorted.length; rank++) {
            ranks[sorted[rank]] = rank;
        }
        return ranks;
    }

    private void repair() {
        closeLightNights();
        tryFewNights();
        tryOtherOrders();
    }

    /** Closes one night after the other that little is done in, as long as nothing is lost by it. */
    private void closeLightNights() {
        boolean better = true;
        int share = triesLeft / 4;
        while (better && triesLeft > share && !isDone()) {
            better = false;
            again(best);
            int[] load = list.load();
            Try from = best;
            int[] lightest = IntStream.range(0, load.length).filter(night -> load[night] > 0).boxed().sorted(Comparator.comparingInt((Integer night) -> load[night])).mapToInt(Integer::intValue).limit(8).toArray();
            for (int night : lightest) {
                if (!better && triesLeft > share && !isDone()) {
                    better = keepIfBetter(tried(from.order(), plus(from.closed(), night)));
                }
            }
        }
    }

    private static int[] plus(int[] nights, int night) {
        return IntStream.concat(IntStream.of(nights), IntStream.of(night)).toArray();
    }

    /** Small tasks: every choice of fewer nights that gives each unit a window, fewest first, a few tries each; then many for the most promising ones. */
    private void tryFewNights() {
        int[] open = IntStream.range(0, ground.nights).filter(this::isOpen).toArray();
        if (open.length > MOST_NIGHTS_TO_CHOOSE_FROM) {
            return;
        }
        int share = triesLeft / 2;
        List<Try> promising = new ArrayList<>();
        for (int count = reachable.nights(); count <= best.worth().nights() && triesLeft > share && !isDone(); count++) {
            tryNights(open, new int[count], 0, 0, share, promising);
        }
        // Twice: what seemed hopeless at first may be all that is left to gain.
        for (int round = 0; round < 2; round++) {
            List<Try> better = promising.stream().filter(this::couldBeBetter).sorted(Comparator.comparingInt((Try t) -> t.worth().left()).thenComparing(Try::worth)).limit(PROMISING).toList();
            for (Try one : better) {
                if (couldBeBetter(one)) {
                    settle(one, share / (3 * PROMISING));
                }
            }
        }
    }

    /** Whether the nights of a try are fewer than those of the best, or as many of which the last one is not later. */
    private boolean couldBeBetter(Try one) {
        int nights = ground.nights - one.closed().length;
        return nights < best.worth().nights() || nights == best.worth().nights() && opensAt(lastOf(one)) < best.worth().end();
    }

    private int lastOf(Try one) {
        return IntStream.range(0, ground.nights).filter(night -> IntStream.of(one.closed()).noneMatch(n -> n == night)).max().orElse(0);
    }

    private int opensAt(int night) {
        return ground.sites.stream().flatMapToInt(site -> IntStream.range(0, site.count()).filter(w -> site.nights()[w] == night).map(w -> site.opens()[w])).min().orElse(0);
    }

    private boolean isOpen(int night) {
        return ground.sites.stream().anyMatch(site -> IntStream.of(site.nights()).anyMatch(n -> n == night));
    }

    private void tryNights(int[] open, int[] chosen, int from, int depth, int share, List<Try> promising) {
        if (triesLeft <= share || isDone()) {
            return;
        }
        if (depth == chosen.length) {
            if (givesAllAWindow(chosen)) {
                int[] closed = IntStream.range(0, ground.nights).filter(night -> IntStream.of(chosen).noneMatch(n -> n == night)).toArray();
                promising.add(settle(tried(best.order(), closed), A_FEW));
            }
            return;
        }
        for (int i = from; i <= open.length - (chosen.length - depth); i++) {
            chosen[depth] = open[i];
            tryNights(open, chosen, i + 1, depth + 1, share, promising);
        }
    }

    /** Keeps the nights of a try and moves what hurts forward in the order; the best of these tries. */
    private Try settle(Try from, int tries) {
        keepIfBetter(from);
        Try at = from;
        Try good = from;
        for (int i = 0; i < tries && !isDone(); i++) {
            Try next = tried(random.nextInt(3) == 0 ? shuffled(at.order(), 1 + random.nextInt(3)) : forward(at), from.closed());
            keepIfBetter(next);
            good = next.worth().compareTo(good.worth()) < 0 ? next : good;
            if (next.worth().leadsOnFrom(at.worth()) || random.nextInt(RESTLESS) == 0) {
                at = next;
            }
        }
        return good;
    }

    private int[] forward(Try at) {
        if (at.sore().length == 0) {
            return at.order();
        }
        int sore = at.sore()[random.nextInt(at.sore().length)];
        List<Integer> units = new ArrayList<>(IntStream.of(at.order()).boxed().toList());
        int place = random.nextBoolean() ? units.indexOf(sore) : units.lastIndexOf(sore);
        units.remove(place);
        units.add(place == 0 ? random.nextInt(units.size() + 1) : random.nextInt(place), sore);
        return units.stream().mapToInt(Integer::intValue).toArray();
    }

    private boolean givesAllAWindow(int[] chosen) {
        return ground.works.stream().allMatch(work -> {
            Openings site = ground.sites.get(work.site());
            return IntStream.range(0, site.count()).anyMatch(w -> site.closes()[w] - site.opens()[w] >= work.longest() && IntStream.of(chosen).anyMatch(n -> n == site.nights()[w]));
        });
    }

    /** Other orders and other nights, again and again; what is as good is gone on from too, so that the search does not stand still. */
    private void tryOtherOrders() {
        Try at = best;
        while (!isDone()) {
            int[] closed = random.nextInt(4) == 0 ? otherNights(at) : at.closed();
            Try next = tried(random.nextBoolean() ? forward(at) : shuffled(at.order(), 1 + random.nextInt(3)), closed);
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
        return ground.nights == 0 || IntStream.of(at.closed()).anyMatch(n -> n == night) ? at.closed() : plus(at.closed(), night);
    }

    private int[] shuffled(int[] order, int moves) {
        List<Integer> units = new ArrayList<>(IntStream.of(order).boxed().toList());
        for (int move = 0; move < moves && units.size() > 1; move++) {
            if (random.nextBoolean()) {
                Collections.swap(units, random.nextInt(units.size()), random.nextInt(units.size()));
            } else {
                units.add(random.nextInt(units.size()), units.remove(random.nextInt(units.size())));
            }
        }
        return units.stream().mapToInt(Integer::intValue).toArray();
    }
}
