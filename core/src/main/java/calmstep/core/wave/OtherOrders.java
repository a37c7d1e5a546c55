package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.Arrays;
import java.util.OptionalInt;
import java.util.Random;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/** Small changes of an order and of what is held back, by chance: the steps of a search. */
final class OtherOrders {
    private final ListSchedule list;
    private final Ground ground;
    private final Random random;

    OtherOrders(ListSchedule list, Random random) {
        this.list = list;
        ground = list.ground;
        this.random = random;
    }

    /**
     * @param sore units that would do better elsewhere
     */
    int[] changed(int[] order, int[] sore) {
        return switch (random.nextInt(8)) {
            case 0, 1, 2 -> shuffled(order, 1 + random.nextInt(3));
            case 3 -> otherPilot(order, sore);
            default -> sore.length == 0 ? order : forward(order, any(sore));
        };
    }

    private int any(int[] units) {
        return units[random.nextInt(units.length)];
    }

    /** A unit goes before all that are like it, and so is a pilot. */
    private int[] otherPilot(int[] order, int[] sore) {
        int unit =
                sore.length > 0 && random.nextBoolean()
                        ? any(sore)
                        : random.nextInt(ground.works.size());
        int first =
                firstPlace(order, other -> work(other).likeness() == work(unit).likeness())
                        .orElse(0);
        int own = firstPlace(order, other -> other == unit).orElse(first);
        int[] changed = order.clone();
        move(changed, own, first);
        return changed;
    }

    private static OptionalInt firstPlace(int[] order, IntPredicate unit) {
        return IntStream.range(0, order.length).filter(i -> unit.test(order[i])).findFirst();
    }

    private int[] forward(int[] order, int unit) {
        int[] places = IntStream.range(0, order.length).filter(i -> order[i] == unit).toArray();
        int place = places[random.nextBoolean() ? 0 : places.length - 1];
        int[] changed = order.clone();
        move(changed, place, random.nextInt(place == 0 ? order.length : place));
        return changed;
    }

    private static void move(int[] order, int from, int to) {
        int unit = order[from];
        if (from < to) {
            System.arraycopy(order, from + 1, order, from, to - from);
        } else {
            System.arraycopy(order, to, order, to + 1, from - to);
        }
        order[to] = unit;
    }

    private int[] shuffled(int[] order, int moves) {
        int[] changed = order.clone();
        for (int i = 0; i < moves && changed.length > 1; i++) {
            int one = random.nextInt(changed.length);
            int other = random.nextInt(changed.length);
            if (random.nextBoolean()) {
                int unit = changed[one];
                changed[one] = changed[other];
                changed[other] = unit;
            } else {
                move(changed, one, other);
            }
        }
        return changed;
    }

    /**
     * One part is held back, or is free again. Without this no order may lead to the best: what
     * begins as soon as it can may take a night from its site's kind, or bar its neighbours, where
     * a later place would cost nothing.
     *
     * @param before by unit and part
     */
    int[][] heldOtherwise(int[][] before) {
        int[][] held = before.clone();
        int unit = random.nextInt(held.length);
        int part = random.nextInt(held[unit].length);
        held[unit] = held[unit].clone();
        held[unit][part] =
                held[unit][part] > 0 ? 0 : heldUntil(ground.sites.get(work(unit).site()));
        return held;
    }

    /** Until a window opens, or until another part ends. */
    private int heldUntil(Openings site) {
        int other = random.nextInt(ground.works.size());
        if (list.isPlaced(other) && random.nextBoolean()) {
            return list.end(other, random.nextInt(work(other).parts()));
        }
        return site.count() == 0 ? 0 : site.opens()[random.nextInt(site.count())];
    }

    /**
     * The same order by when its parts begin in the schedule that stands, which is the schedule
     * that the sorted order gives: from there a small change is small in time.
     */
    int[] byBegin(int[] order) {
        long[] keys = new long[order.length];
        int[] seen = new int[ground.works.size()];
        int last = 0;
        for (int i = 0; i < order.length; i++) {
            int unit = order[i];
            last = list.isPlaced(unit) ? list.begin(unit, seen[unit]++) : last;
            keys[i] = (long) last << 20 | i;
        }
        Arrays.sort(keys);
        return Arrays.stream(keys).mapToInt(key -> order[(int) (key & 0xFFFFF)]).toArray();
    }

    private Work work(int unit) {
        return ground.works.get(unit);
    }
}
