package calmstep.core.forecast;

import calmstep.core.window.Limits;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.function.Function;
import java.util.random.RandomGenerator;
import java.util.stream.IntStream;

/**
 * Plays a night many times. Parts begin in their planned order, none before its planned time, each
 * when what must be over before it is over: an earlier part of the same unit, units that it is
 * never in work with, and one of the places that the limits leave.
 */
public final class NightPlay {
    private static final int NONE = -1;

    private final List<Leg> legs;
    private final int draws;
    private final RandomGenerator random;
    private final int[][] after;
    private final int[] siteOf;
    private final int[] familyOf;
    private final Lanes[] lanes;
    private final double[] begin;
    private final double[] end;

    /**
     * By part: which part's end its beginning waited for, the step that took most of what a good
     * night would have saved, and how much.
     */
    private final int[] cause;

    private final int[] slow;
    private final double[] excess;

    /** By part and step: the seconds that it takes on a good night. */
    private final double[][] good;

    private final int stepsMost;

    private NightPlay(List<Leg> planned, Limits limits, int draws, long seed) {
        legs =
                planned.stream()
                        .sorted(
                                Comparator.comparingDouble(Leg::begins)
                                        .thenComparing(Leg::unit)
                                        .thenComparingInt(Leg::part))
                        .toList();
        this.draws = draws;
        random = new SplittableRandom(seed);
        after = predecessors();
        Map<String, Integer> sites = new HashMap<>();
        Map<String, Integer> families = new HashMap<>();
        siteOf = legs.stream().mapToInt(leg -> number(sites, leg.site())).toArray();
        familyOf = legs.stream().mapToInt(leg -> number(families, leg.family())).toArray();
        lanes = new Lanes[1 + sites.size() + families.size()];
        Arrays.setAll(
                lanes,
                i ->
                        new Lanes(
                                Math.min(
                                        legs.size(),
                                        i == 0
                                                ? limits.atOnce()
                                                : i <= sites.size()
                                                        ? limits.perSite()
                                                        : limits.perFamily())));
        Arrays.setAll(siteOf, i -> 1 + siteOf[i]);
        Arrays.setAll(familyOf, i -> 1 + sites.size() + familyOf[i]);
        begin = new double[legs.size()];
        end = new double[legs.size()];
        cause = new int[legs.size()];
        slow = new int[legs.size()];
        excess = new double[legs.size()];
        good =
                legs.stream()
                        .map(
                                leg ->
                                        leg.steps().stream()
                                                .mapToDouble(timed -> timed.time().p10Seconds())
                                                .toArray())
                        .toArray(double[][]::new);
        stepsMost = legs.stream().mapToInt(leg -> leg.steps().size()).max().orElse(1);
    }

    /**
     * @param planned the parts of one night
     * @param draws how often it is played
     * @param seed the same seed gives the same forecast
     */
    public static NightForecast of(List<Leg> planned, Limits limits, int draws, long seed) {
        return planned.isEmpty()
                ? NightForecast.ofNothing()
                : new NightPlay(planned, limits, draws, seed).play();
    }

    private static int number(Map<String, Integer> numbers, String name) {
        return numbers.computeIfAbsent(name, _ -> numbers.size());
    }

    private int[][] predecessors() {
        Map<String, List<Integer>> byUnit = new HashMap<>();
        int[][] before = new int[legs.size()][];
        for (int i = 0; i < legs.size(); i++) {
            Leg leg = legs.get(i);
            before[i] = before(leg, byUnit);
            byUnit.computeIfAbsent(leg.unit(), _ -> new java.util.ArrayList<>()).add(i);
        }
        return before;
    }

    private static int[] before(Leg leg, Map<String, List<Integer>> byUnit) {
        return java.util.stream.Stream.concat(
                        leg.notWith().stream(), java.util.stream.Stream.of(leg.unit()))
                .map((Function<String, List<Integer>>) name -> byUnit.getOrDefault(name, List.of()))
                .flatMap(List::stream)
                .mapToInt(Integer::intValue)
                .sorted()
                .toArray();
    }

    private NightForecast play() {
        double[] ends = new double[draws];
        double[][] partEnds = new double[legs.size()][draws];
        int[] inside = new int[legs.size()];
        int allInside = 0;
        Map<Integer, Integer> decided = new HashMap<>();
        for (int draw = 0; draw < draws; draw++) {
            playOnce();
            int last = 0;
            boolean all = true;
            for (int i = 0; i < legs.size(); i++) {
                partEnds[i][draw] = end[i];
                last = end[i] > end[last] ? i : last;
                boolean in = end[i] <= legs.get(i).closes();
                inside[i] += in ? 1 : 0;
                all &= in;
            }
            ends[draw] = end[last];
            allInside += all ? 1 : 0;
            decided.merge(decider(last), 1, Integer::sum);
        }
        Arrays.sort(ends);
        List<NightForecast.Part> parts =
                IntStream.range(0, legs.size())
                        .mapToObj(
                                i -> {
                                    Arrays.sort(partEnds[i]);
                                    return new NightForecast.Part(
                                            legs.get(i).unit(),
                                            legs.get(i).part(),
                                            quantile(partEnds[i], 0.5),
                                            quantile(partEnds[i], 0.9),
                                            inside[i] / (double) draws);
                                })
                        .toList();
        return new NightForecast(
                quantile(ends, 0.5),
                quantile(ends, 0.9),
                allInside / (double) draws,
                NightForecast.most(legs, decided, draws, stepsMost),
                parts);
    }

    private static double quantile(double[] sorted, double share) {
        return sorted[
                (int)
                        Math.min(
                                sorted.length - 1L,
                                Math.round(Math.ceil(share * sorted.length) - 1))];
    }

    private void playOnce() {
        for (Lanes lane : lanes) {
            lane.clear();
        }
        for (int i = 0; i < legs.size(); i++) {
            playLeg(i);
        }
    }

    private void playLeg(int i) {
        Leg leg = legs.get(i);
        begin[i] = leg.begins();
        cause[i] = NONE;
        for (int before : after[i]) {
            waitFor(i, end[before], before);
        }
        Lanes overAll = lanes[0];
        Lanes site = lanes[siteOf[i]];
        Lanes family = lanes[familyOf[i]];
        waitFor(i, overAll.soonest(), overAll.holder());
        waitFor(i, site.soonest(), site.holder());
        waitFor(i, family.soonest(), family.holder());
        end[i] = begin[i] + takes(i, leg);
        overAll.take(end[i], i);
        site.take(end[i], i);
        family.take(end[i], i);
    }

    private void waitFor(int leg, double until, int other) {
        if (until > begin[leg]) {
            begin[leg] = until;
            cause[leg] = other;
        }
    }

    private double takes(int i, Leg leg) {
        double takes = 0;
        excess[i] = Double.NEGATIVE_INFINITY;
        for (int s = 0; s < leg.steps().size(); s++) {
            StepTime time = leg.steps().get(s).time();
            double drawn = time.draw(random);
            takes += drawn;
            double more = drawn - good[i][s];
            if (more > excess[i]) {
                excess[i] = more;
                slow[i] = s;
            }
        }
        return takes;
    }

    /**
     * Of the parts that the last end waited for, one after the other, the step that took most of
     * what a good night would have saved.
     */
    private int decider(int last) {
        int decisive = last;
        for (int at = cause[last]; at != NONE; at = cause[at]) {
            decisive = excess[at] > excess[decisive] ? at : decisive;
        }
        return decisive * stepsMost + slow[decisive];
    }

    /** The places of one limit: a heap of the times at which they become free. */
    private static final class Lanes {
        private final double[] free;
        private final int[] holders;

        Lanes(int count) {
            free = new double[count];
            holders = new int[count];
        }

        void clear() {
            Arrays.fill(free, Double.NEGATIVE_INFINITY);
            Arrays.fill(holders, NONE);
        }

        double soonest() {
            return free[0];
        }

        int holder() {
            return holders[0];
        }

        /** Takes the place that is free the soonest, until a time. */
        void take(double until, int by) {
            int at = 0;
            for (int child = 1; child < free.length; child = 2 * at + 1) {
                child += child + 1 < free.length && free[child + 1] < free[child] ? 1 : 0;
                if (free[child] >= until) {
                    break;
                }
                free[at] = free[child];
                holders[at] = holders[child];
                at = child;
            }
            free[at] = until;
            holders[at] = by;
        }
    }
}
