package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.IntPredicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * What no schedule of some units can beat: a number of nights, and a minute of the end. Each bound
 * leaves rules out, so that it holds for every schedule; the greatest counts. One leaves a unit
 * alone with its windows, its link and the soak of its pilots; one looks at the lanes of one limit
 * alone, as area and as bins (by the dual feasible functions of Fekete and Schepers 1998); one
 * counts the visits to sites of a kind that is limited by night; one finds units that have no night
 * in common.
 */
final class LowerBound {
    private static final int NEVER = Alone.NEVER;
    private static final int FUNCTIONS = 8;
    private static final double ROUNDING = 1e-9;

    private final Ground ground;
    private final Alone alone;
    private final List<Openings> sites;
    private final List<Work> works;
    private int nights;
    private int end;
    private boolean possible = true;

    private LowerBound(Ground ground, Alone alone, List<Work> works) {
        this.ground = ground;
        this.alone = alone;
        sites = alone.sites;
        this.works = works;
    }

    /**
     * @param possible false where no schedule places them all
     */
    record Least(int nights, int end, boolean possible) {}

    /**
     * @param counted the units that the schedules in question place
     */
    static Least of(Ground ground, IntPredicate counted) {
        return of(ground, counted, _ -> true);
    }

    /**
     * @param open the nights that the schedules in question use
     */
    static Least of(Ground ground, IntPredicate counted, IntPredicate open) {
        LowerBound bound =
                new LowerBound(
                        ground,
                        new Alone(ground, open),
                        IntStream.range(0, ground.works.size())
                                .filter(counted)
                                .mapToObj(ground.works::get)
                                .toList());
        if (!bound.works.isEmpty()) {
            bound.nights = 1;
            bound.byLoneUnits();
            bound.byDisjointNights();
            bound.byLanes(UnaryOperator.identity(), 0);
            bound.byLanes(bound::withoutPilots, bound.earliestSoaked());
        }
        return new Least(bound.nights, bound.end, bound.possible);
    }

    private void raise(int leastNights, int leastEnd) {
        nights = Math.max(nights, leastNights);
        end = leastEnd >= NEVER ? end : Math.max(end, leastEnd);
        possible &= leastEnd < NEVER;
    }

    private static <K extends Comparable<K>> Collection<List<Work>> grouped(
            List<Work> works, Function<Work, K> by) {
        return works.stream()
                .collect(Collectors.groupingBy(by, TreeMap::new, Collectors.toList()))
                .values();
    }

    private void byLoneUnits() {
        int longest = longestNight();
        for (List<Work> alike : grouped(works, Work::likeness)) {
            alike.forEach(work -> raise(1, alone.end(work)));
            if (alike.size() > ground.limits.pilots() && ground.limits.pilots() > 0) {
                raise(soakMinutes() > longest ? 2 : 1, alone.endBehindPilots(alike));
            }
        }
    }

    private int soakMinutes() {
        return (int) ground.limits.soak().toMinutes();
    }

    private int earliestSoaked() {
        if (ground.limits.pilots() == 0) {
            return 0;
        }
        return grouped(works, Work::likeness).stream()
                .filter(alike -> alike.size() > ground.limits.pilots())
                .mapToInt(alike -> alone.soaked(alike, 1))
                .min()
                .orElse(0);
    }

    /** Whichever are the pilots: at least these parts, or longer ones, are left to the others. */
    private List<Work> withoutPilots(List<Work> some) {
        return grouped(some, Work::likeness).stream()
                .flatMap(
                        alike ->
                                alike.stream()
                                        .sorted(
                                                Comparator.comparingInt(
                                                                (Work w) ->
                                                                        Arrays.stream(w.needs())
                                                                                .sum())
                                                        .reversed())
                                        .skip(ground.limits.pilots()))
                .toList();
    }

    private int longestNight() {
        int[] first = new int[ground.nights];
        int[] last = new int[ground.nights];
        Arrays.fill(first, NEVER);
        for (Openings site : sites) {
            for (int w = 0; w < site.count(); w++) {
                first[site.nights()[w]] = Math.min(first[site.nights()[w]], site.opens()[w]);
                last[site.nights()[w]] = Math.max(last[site.nights()[w]], site.closes()[w]);
            }
        }
        return IntStream.range(0, ground.nights)
                .map(night -> last[night] - first[night])
                .max()
                .orElse(0);
    }

    private void byDisjointNights() {
        List<BitSet> sets =
                works.stream()
                        .flatMap(
                                work ->
                                        IntStream.range(0, work.parts())
                                                .mapToObj(part -> nightsOf(work, part)))
                        .distinct()
                        .sorted(Comparator.comparingInt(BitSet::cardinality))
                        .toList();
        BitSet taken = new BitSet();
        int apart = 0;
        for (BitSet set : sets) {
            if (!set.intersects(taken)) {
                taken.or(set);
                apart++;
            }
        }
        raise(apart, 0);
    }

    private BitSet nightsOf(Work work, int part) {
        Openings site = sites.get(work.site());
        BitSet nightsOfPart = new BitSet();
        IntStream.range(0, site.count())
                .filter(
                        w ->
                                site.closes()[w] - site.opens()[w] >= work.needs()[part]
                                        && (work.pin() == Ground.NONE
                                                || work.pin() == site.nights()[w]))
                .forEach(w -> nightsOfPart.set(site.nights()[w]));
        return nightsOfPart;
    }

    /**
     * Stretches of time that parts may lie in, in order; {@code nights} where each belongs to one.
     */
    private record Stretches(int[] opens, int[] closes, int[] nights) {
        int longest() {
            return IntStream.range(0, opens.length).map(i -> closes[i] - opens[i]).max().orElse(0);
        }

        int mostInANight() {
            return IntStream.of(nights)
                    .boxed()
                    .collect(Collectors.groupingBy(n -> n, Collectors.counting()))
                    .values()
                    .stream()
                    .mapToInt(Long::intValue)
                    .max()
                    .orElse(1);
        }
    }

    /**
     * @param left what is left of units that share a limit, when nothing of it begins before a
     *     minute
     */
    private void byLanes(UnaryOperator<List<Work>> left, int released) {
        lanes(left.apply(works), union(works, released), ground.limits.atOnce());
        grouped(works, Work::family)
                .forEach(
                        family ->
                                lanes(
                                        left.apply(family),
                                        union(family, released),
                                        Math.min(
                                                ground.limits.perFamily(),
                                                ground.limits.atOnce())));
        TreeMap<String, List<Work>> groups = new TreeMap<>();
        works.forEach(
                work ->
                        work.unit()
                                .mates()
                                .forEach(
                                        group ->
                                                groups.computeIfAbsent(
                                                                group, _ -> new ArrayList<>())
                                                        .add(work)));
        groups.values().forEach(mates -> lanes(left.apply(mates), union(mates, released), 1));
        int[] visits = new int[ground.kinds.size()];
        for (List<Work> all : grouped(works, Work::site)) {
            List<Work> here = left.apply(all);
            Openings site = sites.get(all.getFirst().site());
            Stretches stretches = stretches(site, released);
            int nightsHere =
                    Math.ceilDiv(
                            lanes(
                                    here,
                                    stretches,
                                    Math.min(ground.limits.perSite(), ground.limits.atOnce())),
                            stretches.mostInANight());
            raise(nightsHere, overTheLink(site, here));
            if (site.kind() != Ground.NONE) {
                visits[site.kind()] += nightsHere;
            }
        }
        for (int kind = 0; kind < visits.length; kind++) {
            byVisits(released, kind, visits[kind]);
        }
    }

    private void byVisits(int released, int kind, int visits) {
        int[] opens = new int[ground.nights];
        Arrays.fill(opens, NEVER);
        for (Openings site : sites) {
            for (int w = 0; site.kind() == kind && w < site.count(); w++) {
                if (site.closes()[w] > released) {
                    opens[site.nights()[w]] =
                            Math.min(opens[site.nights()[w]], Math.max(released, site.opens()[w]));
                }
            }
        }
        int[] open = Arrays.stream(opens).filter(at -> at < NEVER).sorted().toArray();
        int needed = Math.ceilDiv(visits, ground.kindMost[kind]);
        if (needed > 0) {
            raise(needed, needed > open.length ? NEVER : open[needed - 1] + shortest(works));
        }
    }

    private static int shortest(List<Work> some) {
        return some.stream().flatMapToInt(work -> IntStream.of(work.needs())).min().orElse(0);
    }

    /** All images come over one link before the last part begins. */
    private static int overTheLink(Openings site, List<Work> here) {
        int staged =
                (int)
                        Math.min(
                                NEVER,
                                here.stream()
                                        .flatMapToInt(work -> IntStream.of(work.stages()))
                                        .asLongStream()
                                        .sum());
        int w = site.firstAfter(staged);
        return staged == 0
                ? 0
                : w == site.count() ? NEVER : Math.max(staged, site.opens()[w]) + shortest(here);
    }

    private static Stretches stretches(Openings site, int released) {
        int first = site.firstAfter(released);
        int[] opens = Arrays.copyOfRange(site.opens(), first, site.count());
        if (opens.length > 0) {
            opens[0] = Math.max(opens[0], released);
        }
        return new Stretches(
                opens,
                Arrays.copyOfRange(site.closes(), first, site.count()),
                Arrays.copyOfRange(site.nights(), first, site.count()));
    }

    private Stretches union(List<Work> some, int released) {
        List<int[]> open = new ArrayList<>();
        some.stream()
                .mapToInt(Work::site)
                .distinct()
                .mapToObj(sites::get)
                .forEach(
                        site -> {
                            for (int w = site.firstAfter(released); w < site.count(); w++) {
                                open.add(
                                        new int[] {
                                            Math.max(released, site.opens()[w]), site.closes()[w]
                                        });
                            }
                        });
        open.sort(Comparator.comparingInt((int[] stretch) -> stretch[0]));
        List<int[]> joined = new ArrayList<>();
        for (int[] stretch : open) {
            if (!joined.isEmpty() && stretch[0] <= joined.getLast()[1]) {
                joined.getLast()[1] = Math.max(joined.getLast()[1], stretch[1]);
            } else {
                joined.add(stretch);
            }
        }
        return new Stretches(
                joined.stream().mapToInt(stretch -> stretch[0]).toArray(),
                joined.stream().mapToInt(stretch -> stretch[1]).toArray(),
                new int[0]);
    }

    /** Raises the bounds by one limit alone; how many of the stretches are needed at least. */
    private int lanes(List<Work> some, Stretches stretches, int lanes) {
        int[] needs = some.stream().flatMapToInt(work -> IntStream.of(work.needs())).toArray();
        if (needs.length == 0) {
            return 0;
        }
        int shortest = Arrays.stream(needs).min().orElse(0);
        int windows = Math.ceilDiv(bins(needs, stretches.longest()), lanes);
        long area = Arrays.stream(needs).asLongStream().sum();
        long done = 0;
        int counted = 0;
        for (int i = 0; i < stretches.opens().length && (done < area || counted < windows); i++) {
            int length = stretches.closes()[i] - stretches.opens()[i];
            if (length < shortest) {
                continue;
            }
            counted++;
            if (done < area) {
                raise(
                        1,
                        stretches.opens()[i]
                                + (int) Math.min(length, Math.ceilDiv(area - done, lanes)));
                done += (long) length * lanes;
            }
            if (counted == windows) {
                raise(1, stretches.opens()[i] + shortest);
            }
        }
        possible &= done >= area && counted >= windows;
        return windows;
    }

    /** How many bins of a size hold these at least. */
    private static int bins(int[] needs, int size) {
        if (size == 0) {
            return 1;
        }
        double most = Arrays.stream(needs).sum() / (double) size;
        for (int k = 1; k <= FUNCTIONS; k++) {
            double sum = 0;
            for (int need : needs) {
                long scaled = (k + 1L) * need;
                sum +=
                        scaled % size == 0
                                ? need / (double) size
                                : Math.floorDiv(scaled, (long) size) / (double) k;
            }
            most = Math.max(most, sum);
        }
        return (int) Math.ceil(most - ROUNDING);
    }
}
