package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;

/** Orders to begin a search with: which unit is placed when, each as often as it has parts. */
final class FirstOrders {
    private final Ground ground;

    FirstOrders(Ground ground) {
        this.ground = ground;
    }

    /**
     * Pilots first: of each likeness those that cut off the fewest and can begin soonest. Then site
     * by site, as wished or by how tight a site's windows are, what lies farther before what lies
     * nearer, and the longest first.
     */
    int[] usual() {
        int[] siteRank = siteRanks();
        Comparator<Integer> asPilot = asPilot();
        Comparator<Integer> inRest =
                Comparator.comparingInt((Integer u) -> siteRank[work(u).site()])
                        .thenComparingInt(u -> ground.farther[u].length)
                        .thenComparingInt(u -> -work(u).longest())
                        .thenComparingInt(u -> u);
        List<Integer> units = IntStream.range(0, ground.works.size()).boxed().toList();
        List<Integer> pilots = pilots(units, asPilot, inRest);
        boolean[] isPilot = new boolean[units.size()];
        pilots.forEach(u -> isPilot[u] = true);
        List<Integer> order = new ArrayList<>(pilots);
        units.stream().filter(u -> !isPilot[u]).sorted(inRest).forEach(order::add);
        return order.stream()
                .flatMapToInt(u -> IntStream.generate(() -> u).limit(work(u).parts()))
                .toArray();
    }

    private List<Integer> pilots(
            List<Integer> units, Comparator<Integer> asPilot, Comparator<Integer> inRest) {
        int[] taken = new int[ground.likenesses];
        List<Integer> pilots =
                units.stream()
                        .sorted(asPilot)
                        .filter(u -> taken[work(u).likeness()]++ < ground.limits.pilots())
                        .sorted(inRest)
                        .toList();
        return pilots;
    }

    private Comparator<Integer> asPilot() {
        Comparator<Integer> asPilot =
                Comparator.comparingInt((Integer u) -> ground.farther[u].length)
                        .thenComparingInt(this::soonest)
                        .thenComparingInt(u -> -Arrays.stream(work(u).needs()).sum())
                        .thenComparingInt(u -> u);
        return asPilot;
    }

    /**
     * By how late each part may begin at the latest; pilots, for the sake of those who wait for
     * them, sooner.
     *
     * @param anyPilots chance that picks the pilots; without it they are those that let the others
     *     end the soonest
     */
    int[] urgentFirst(int[] closed, Optional<Random> anyPilots) {
        Alone alone = new Alone(ground, night -> IntStream.of(closed).noneMatch(n -> n == night));
        int[][] latest =
                ground.works.stream()
                        .map(
                                work ->
                                        alone.latest(
                                                work,
                                                IntStream.generate(() -> Alone.NEVER)
                                                        .limit(work.parts())
                                                        .toArray()))
                        .toArray(int[][]::new);
        for (int likeness = 0;
                likeness < ground.likenesses && ground.limits.pilots() > 0;
                likeness++) {
            int such = likeness;
            List<Integer> alike =
                    IntStream.range(0, ground.works.size())
                            .filter(u -> work(u).likeness() == such)
                            .boxed()
                            .sorted(
                                    Comparator.comparingInt((Integer u) -> latest[u][0])
                                            .thenComparingInt(u -> u))
                            .toList();
            if (alike.size() > ground.limits.pilots()) {
                List<Integer> pilots = pilots(alone, alike, anyPilots);
                int[] by =
                        IntStream.range(0, work(alike.getFirst()).parts())
                                .map(
                                        part ->
                                                alike.stream()
                                                                .filter(u -> !pilots.contains(u))
                                                                .mapToInt(u -> latest[u][part])
                                                                .min()
                                                                .orElse(0)
                                                        - ground.soak)
                                .toArray();
                pilots.forEach(u -> latest[u] = alone.latest(work(u), by));
            }
        }
        return IntStream.range(0, ground.works.size())
                .boxed()
                .flatMap(
                        u ->
                                IntStream.range(0, work(u).parts())
                                        .mapToObj(p -> new int[] {latest[u][p], u}))
                .sorted(
                        Comparator.comparingInt((int[] item) -> item[0])
                                .thenComparingInt(item -> ground.farther[item[1]].length)
                                .thenComparingInt(item -> item[1]))
                .mapToInt(item -> item[1])
                .toArray();
    }

    /**
     * Only such that leave the others a window; where there are too many sets to look at, those
     * that may wait the least.
     */
    private List<Integer> pilots(Alone alone, List<Integer> alike, Optional<Random> any) {
        List<Alone.PilotSet> sets = alone.pilotSets(alike.stream().map(this::work).toList());
        long possible = sets.stream().filter(set -> set.end() < Alone.NEVER).count();
        return possible == 0
                ? alike.subList(0, ground.limits.pilots())
                : sets
                        .get(any.map(random -> random.nextInt((int) possible)).orElse(0))
                        .pilots()
                        .stream()
                        .mapToObj(alike::get)
                        .toList();
    }

    /** Wished sites first; then those whose work fills the greatest share of their windows. */
    private int[] siteRanks() {
        List<String> wished = ground.task.wishes().siteOrder();
        long[] work = new long[ground.sites.size()];
        ground.works.forEach(w -> work[w.site()] += Arrays.stream(w.needs()).sum());
        int[] sorted =
                IntStream.range(0, work.length)
                        .boxed()
                        .sorted(
                                Comparator.comparingInt(
                                                (Integer s) ->
                                                        wished.contains(ground.sites.get(s).site())
                                                                ? wished.indexOf(
                                                                        ground.sites.get(s).site())
                                                                : wished.size())
                                        .thenComparingDouble(
                                                s ->
                                                        -(double) work[s]
                                                                / Math.max(
                                                                        1,
                                                                        ground.sites
                                                                                .get(s)
                                                                                .minutes()))
                                        .thenComparingInt(s -> s))
                        .mapToInt(Integer::intValue)
                        .toArray();
        int[] ranks = new int[sorted.length];
        for (int rank = 0; rank < sorted.length; rank++) {
            ranks[sorted[rank]] = rank;
        }
        return ranks;
    }

    private int soonest(int unit) {
        Openings site = ground.sites.get(work(unit).site());
        return IntStream.range(0, site.count())
                .filter(w -> site.closes()[w] - site.opens()[w] >= work(unit).needs()[0])
                .map(w -> site.opens()[w])
                .findFirst()
                .orElse(Integer.MAX_VALUE);
    }

    private Work work(int unit) {
        return ground.works.get(unit);
    }
}
