package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * Choices of so many nights in which each part has a window to go to. A choice is made where it is
 * hardest: among the nights of the part that has the fewest, so that among the nights of a quarter
 * those that leave somebody out are never looked at.
 */
final class NightChoices {
    private final BitSet open = new BitSet();

    /** For each part that goes to other nights than the rest: in one of these it has to be. */
    private final List<BitSet> wanted;

    private int looks;

    /**
     * @param counted the units that have to find a place
     * @param looks how many choices, and half made ones, are looked at in all
     */
    NightChoices(Ground ground, IntPredicate counted, int looks) {
        ground.sites.forEach(site -> IntStream.of(site.nights()).forEach(open::set));
        wanted = wanted(ground, counted);
        this.looks = looks;
    }

    /** Whether more choices may be looked at. */
    boolean goesOn() {
        return looks > 0;
    }

    /** The nights in which any site is open, in order. */
    int[] open() {
        return open.stream().toArray();
    }

    private static List<BitSet> wanted(Ground ground, IntPredicate counted) {
        Set<BitSet> all = new LinkedHashSet<>();
        for (int unit = 0; unit < ground.works.size(); unit++) {
            Work work = ground.works.get(unit);
            for (int part = 0; part < work.parts() && counted.test(unit); part++) {
                all.add(nightsOf(work, work.needs()[part], ground.sites.get(work.site())));
            }
        }
        return all.stream()
                .filter(nights -> all.stream().noneMatch(fewer -> isBeyond(nights, fewer)))
                .sorted(Comparator.comparingInt(BitSet::cardinality))
                .toList();
    }

    /** Whether these are all of the fewer ones and others, which then say nothing more. */
    private static boolean isBeyond(BitSet nights, BitSet fewer) {
        BitSet outside = (BitSet) fewer.clone();
        outside.andNot(nights);
        return outside.isEmpty() && !fewer.equals(nights);
    }

    private static BitSet nightsOf(Work work, int need, Openings site) {
        BitSet nights = new BitSet();
        for (int w = 0; w < site.count(); w++) {
            if (site.closes()[w] - site.opens()[w] >= need
                    && (work.pin() == Ground.NONE || work.pin() == site.nights()[w])) {
                nights.set(site.nights()[w]);
            }
        }
        return nights;
    }

    /** Those of {@code count} nights whose last one is {@code last}, as far as looks are left. */
    List<BitSet> of(int count, int last) {
        List<BitSet> found = new ArrayList<>();
        BitSet chosen = new BitSet();
        chosen.set(last);
        BitSet free = open.get(0, last);
        choose(chosen, free, count - 1, found);
        return found;
    }

    /** What is chosen already, and so many more of those that are free. */
    private void choose(BitSet chosen, BitSet free, int more, List<BitSet> into) {
        looks--;
        if (looks < 0 || free.cardinality() < more) {
            return;
        }
        Optional<BitSet> missed =
                wanted.stream().filter(nights -> !nights.intersects(chosen)).findFirst();
        if (more == 0) {
            if (missed.isEmpty()) {
                into.add((BitSet) chosen.clone());
            }
            return;
        }
        BitSet left = (BitSet) free.clone();
        BitSet from = (BitSet) missed.orElse(free).clone();
        from.and(free);
        for (int night = from.nextSetBit(0); night >= 0; night = from.nextSetBit(night + 1)) {
            left.clear(night);
            chosen.set(night);
            choose(chosen, left, more - 1, into);
            chosen.clear(night);
        }
    }
}
