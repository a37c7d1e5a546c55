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
    private final Counted counted;
    private int nights;
    private int end;
    private boolean possible = true;

    private LowerBound(Counted counted, Alone alone) {
        ground = counted.ground;
        this.alone = alone;
        sites = alone.sites;
        this.counted = counted;
    }

    /**
     * @param possible false where no schedule places them all
     */
    record Least(int nights, int end, boolean possible) {}

    /**
     * The units that the schedules in question place, in groups that share a limit. Made once for
     * many choices of nights: sorting them out costs more than the bounds themselves.
     */
    static final class Counted {
        private final Ground ground;
        private final List<Work> works;
        private final List<Group> alike;
        private final List<Group> families;
        private final List<Group> mates;
        private final List<Group> atOneSite;
        private final Group all;

        Counted(Ground ground, IntPredicate counted) {
            this.ground = ground;
            works =
                    IntStream.range(0, ground.works.size())
                            .filter(counted)
                            .mapToObj(ground.works::get)
                            .toList();
            all = group(works);
            alike = grouped(Work::likeness);
            families = grouped(Work::family);
            atOneSite = grouped(Work::site);
            TreeMap<String, List<Work>> named = new TreeMap<>();
            for (Work work : works) {
                for (String name : work.unit().mates()) {
                    named.computeIfAbsent(name, _ -> new ArrayList<>()).add(work);
                }
            }
            mates = named.values().stream().map(this::group).toList();
        }

        private <K extends Comparable<K>> List<Group> grouped(Function<Work, K> by) {
            return sorted(works, by).stream().map(this::group).toList();
        }

        private static <K extends Comparable<K>> Collection<List<Work>> sorted(
                List<Work> works, Function<Work, K> by) {
            return works.stream()
                    .collect(Collectors.groupingBy(by, TreeMap::new, Collectors.toList()))
                    .values();
        }

        private Group group(List<Work> some) {
            return new Group(
                    some,
                    some.stream().mapToInt(Work::site).distinct().toArray(),
                    Parts.of(some),
                    Parts.of(withoutPilots(some)));
        }

        /** Whichever are the pilots: at least these parts, or longer ones, are left to others. */
        private List<Work> withoutPilots(List<Work> some) {
            return sorted(some, Work::likeness).stream()
                    .flatMap(
                            alikeHere ->
                                    alikeHere.stream()
                                            .sorted(
                                                    Comparator.comparingInt(
                                                                    (Work w) ->
                                                                            Arrays.stream(w.needs())
                                                                                    .sum())
                                                            .reversed())
                                            .skip(ground.limits.pilots()))
                    .toList();
        }
    }

    /**
     * Units that share a limit.
     *
     * @param parts what is to be done of them
     * @param behindPilots what is left of it at least when the pilots are done
     */
    private record Group(List<Work> works, int[] sites, Parts parts, Parts behindPilots) {}

    /**
     * What is to be done of some units.
     *
     * @param minutes of each part
     * @param shortest of these; 0 where there is none
     * @param staged how long bringing all images takes over one link
     */
    private record Parts(int[] minutes, int shortest, int staged) {
        static Parts of(List<Work> some) {
            int[] minutes =
                    some.stream().flatMapToInt(work -> IntStream.of(work.needs())).toArray();
            return new Parts(
                    minutes,
                    IntStream.of(minutes).min().orElse(0),
                    (int)
                            Math.min(
                                    NEVER,
                                    some.stream()
                                            .flatMapToInt(work -> IntStream.of(work.stages()))
                                            .asLongStream()
                                            .sum()));
        }
    }

    /** In whatever nights. */
    static Least of(Counted counted) {
        return of(counted, _ -> true);
    }

    /**
     * @param open the nights that the schedules in question use
     */
    static Least of(Counted counted, IntPredicate open) {
        LowerBound bound = new LowerBound(counted, new Alone(counted.ground, open));
        if (!counted.works.isEmpty()) {
            bound.nights = 1;
            bound.byLoneUnits();
            bound.byDisjointNights();
            bound.byLanes(Group::parts, 0);
            bound.byLanes(Group::behindPilots, bound.earliestSoaked());
        }
        return new Least(bound.nights, bound.end, bound.possible);
    }

    private void raise(int leastNights, int leastEnd) {
        nights = Math.max(nights, leastNights);
        end = leastEnd >= NEVER ? end : Math.max(end, leastEnd);
        possible &= leastEnd < NEVER;
    }

    private void byLoneUnits() {
        int longest = longestNight();
        for (Group group : counted.alike) {
            List<Work> alike = group.works();
            alike.forEach(work -> raise(1, alone.end(work)));
            if (alike.size() > ground.limits.pilots() && ground.limits.pilots() > 0) {
                raise(soakMinutes() > longest ? 2 : 1, alone.endBehindPilots(alike));
            }
        }
    }

    private int soakMinutes() {
        return ground.soak;
    }

    private int earliestSoaked() {
        if (ground.limits.pilots() == 0) {
            return 0;
        }
        return counted.alike.stream()
                .map(Group::works)
                .filter(alike -> alike.size() > ground.limits.pilots())
                .mapToInt(alike -> alone.soaked(alike, 1))
                .min()
                .orElse(0);
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

    /** Those with the fewest first. */
    private List<BitSet> nightsOfEachPart() {
        return counted.works.stream()
                .flatMap(
                        work ->
                                IntStream.range(0, work.parts())
                                        .mapToObj(part -> nightsOf(work, part)))
                .distinct()
                .sorted(Comparator.comparingInt(BitSet::cardinality))
                .toList();
    }

    private void byDisjointNights() {
        BitSet taken = new BitSet();
        int apart = 0;
        for (BitSet set : nightsOfEachPart()) {
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
            int[] inNight = new int[IntStream.of(nights).max().orElse(0) + 1];
            int most = 1;
            for (int night : nights) {
                most = Math.max(most, ++inNight[night]);
            }
            return most;
        }
    }

    /**
     * @param left what is left of units that share a limit, when nothing of it begins before a
     *     minute
     */
    private void byLanes(Function<Group, Parts> left, int released) {
        int atOnce = ground.limits.atOnce();
        lanes(left.apply(counted.all), union(counted.all, released), atOnce);
        for (Group family : counted.families) {
            int lanes = Math.min(ground.limits.perFamily(), atOnce);
            lanes(left.apply(family), union(family, released), lanes);
        }
        for (Group mates : counted.mates) {
            lanes(left.apply(mates), union(mates, released), 1);
        }
        int[] visits = new int[ground.kinds.size()];
        for (Group group : counted.atOneSite) {
            Parts here = left.apply(group);
            Openings site = sites.get(group.sites()[0]);
            Stretches stretches = stretches(site, released);
            int nightsHere =
                    Math.ceilDiv(
                            lanes(here, stretches, Math.min(ground.limits.perSite(), atOnce)),
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
            raise(
                    needed,
                    needed > open.length
                            ? NEVER
                            : open[needed - 1] + counted.all.parts().shortest());
        }
    }

    /** All images come over one link before the last part begins. */
    private static int overTheLink(Openings site, Parts here) {
        int w = site.firstAfter(here.staged());
        return here.staged() == 0
                ? 0
                : w == site.count()
                        ? NEVER
                        : Math.max(here.staged(), site.opens()[w]) + here.shortest();
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

    private Stretches union(Group group, int released) {
        List<int[]> open = new ArrayList<>();
        for (int number : group.sites()) {
            Openings site = sites.get(number);
            for (int w = site.firstAfter(released); w < site.count(); w++) {
                open.add(new int[] {Math.max(released, site.opens()[w]), site.closes()[w]});
            }
        }
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
    private int lanes(Parts some, Stretches stretches, int lanes) {
        int[] needs = some.minutes();
        if (needs.length == 0) {
            return 0;
        }
        int shortest = some.shortest();
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
