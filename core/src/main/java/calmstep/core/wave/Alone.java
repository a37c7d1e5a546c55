package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * What units could do in some nights if each had its site and its link for itself: only its
 * windows, its images on the way and the soak of its pilots hold it.
 */
final class Alone {
    static final int NEVER = Integer.MAX_VALUE / 2;

    /** How many sets of pilots are looked at one by one. */
    private static final int MOST_SETS = 66;

    final List<Openings> sites;
    private final Ground ground;
    private final int soak;

    /**
     * @param open the nights that are used
     */
    Alone(Ground ground, IntPredicate open) {
        this.ground = ground;
        sites = ground.sites.stream().map(site -> site.in(open)).toList();
        soak = ground.soak;
    }

    /**
     * A set of pilots, by place among those that are alike; {@code end} is when the last of the
     * others is done at the soonest, {@value #NEVER} where one never is.
     */
    record PilotSet(BitSet pilots, int end) {}

    /**
     * The end of the first parts of a unit, when no part begins before its release; {@value #NEVER}
     * where they find no windows.
     */
    int end(Work work, int parts, int[] released) {
        Openings site = sites.get(work.site());
        int after = 0;
        int staged = 0;
        for (int part = 0; part < parts; part++) {
            staged += work.stages()[part];
            after =
                    Math.max(
                            Math.max(after, work.stages()[part] == 0 ? 0 : staged), released[part]);
            int w = firstFitting(site, after, work, part);
            if (w == site.count()) {
                return NEVER;
            }
            after = Math.max(site.opens()[w], after) + work.needs()[part];
        }
        return after;
    }

    private static int firstFitting(Openings site, int after, Work work, int part) {
        int w = site.firstAfter(after);
        while (w < site.count()
                && ((work.pin() != Ground.NONE && site.nights()[w] != work.pin())
                        || site.closes()[w] - Math.max(site.opens()[w], after)
                                < work.needs()[part])) {
            w++;
        }
        return w;
    }

    int end(Work work) {
        return end(work, work.parts(), new int[work.parts()]);
    }

    /**
     * By part: how late it may begin so that it ends by a minute and those behind it still find a
     * window; a negative number where they do not.
     */
    int[] latest(Work work, int[] endsBy) {
        Openings site = sites.get(work.site());
        int[] latest = new int[work.parts()];
        int by = NEVER;
        for (int part = work.parts() - 1; part >= 0; part--) {
            int need = work.needs()[part];
            int end = Math.min(by, endsBy[part]);
            by =
                    IntStream.range(0, site.count())
                            .filter(w -> Math.min(site.closes()[w], end) - need >= site.opens()[w])
                            .map(w -> Math.min(site.closes()[w], end) - need)
                            .max()
                            .orElse(-NEVER);
            latest[part] = by;
        }
        return latest;
    }

    /** By part: when it may begin behind pilots that each do it as soon as they can. */
    private int[] released(List<int[]> ends, IntStream pilots) {
        int[] members = pilots.toArray();
        return IntStream.range(0, ends.getFirst().length)
                .map(
                        part ->
                                Math.min(
                                        NEVER,
                                        IntStream.of(members)
                                                        .map(u -> ends.get(u)[part])
                                                        .max()
                                                        .orElse(0)
                                                + soak))
                .toArray();
    }

    private List<int[]> ends(List<Work> alike) {
        return alike.stream()
                .map(
                        work ->
                                IntStream.rangeClosed(1, work.parts())
                                        .map(through -> end(work, through, new int[work.parts()]))
                                        .toArray())
                .toList();
    }

    /**
     * The sets of pilots for some that are alike, those first that let the others end the soonest;
     * empty where there are too many to look at.
     */
    List<PilotSet> pilotSets(List<Work> alike) {
        int some = alike.size();
        int pilots = ground.limits.pilots();
        if ((pilots != 1 && pilots != 2)
                || some <= pilots
                || (pilots == 1 ? some : some * (some - 1) / 2) > MOST_SETS) {
            return List.of();
        }
        List<int[]> ends = ends(alike);
        List<PilotSet> sets = new ArrayList<>();
        for (int one = 0; one < some; one++) {
            for (int other = pilots == 1 ? one : one + 1;
                    other < (pilots == 1 ? one + 1 : some);
                    other++) {
                BitSet set = new BitSet();
                set.set(one);
                set.set(other);
                int[] released = released(ends, set.stream());
                sets.add(
                        new PilotSet(
                                set,
                                IntStream.range(0, some)
                                        .filter(u -> !set.get(u))
                                        .map(u -> end(alike.get(u), alike.get(u).parts(), released))
                                        .max()
                                        .orElse(0)));
            }
        }
        sets.sort(Comparator.comparingInt(PilotSet::end));
        return sets;
    }

    /** When the last of those that are alike ends at the soonest, whichever are the pilots. */
    int endBehindPilots(List<Work> alike) {
        List<PilotSet> sets = pilotSets(alike);
        if (!sets.isEmpty()) {
            return sets.getFirst().end();
        }
        int[] released =
                IntStream.rangeClosed(1, alike.getFirst().parts())
                        .map(through -> soaked(alike, through))
                        .toArray();
        int[] rest =
                alike.stream()
                        .mapToInt(work -> end(work, work.parts(), released))
                        .sorted()
                        .toArray();
        return rest[rest.length - ground.limits.pilots() - 1];
    }

    /**
     * Before when nobody but pilots of a likeness begins a part: the last of the pilots has ended
     * it and was watched.
     */
    int soaked(List<Work> alike, int through) {
        int[] ends =
                alike.stream()
                        .mapToInt(work -> end(work, through, new int[work.parts()]))
                        .sorted()
                        .toArray();
        return Math.min(NEVER, ends[ground.limits.pilots() - 1] + soak);
    }
}
