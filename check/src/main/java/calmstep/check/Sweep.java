package calmstep.check;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;

/** How much of a long sweep is taken, and which part of it. */
public final class Sweep {
    private static final boolean THOROUGH = System.getenv("CALMSTEP_THOROUGH") != null;
    private static final long SEED = seed();

    private Sweep() {}

    /** Whether every sweep is complete. */
    public static boolean isThorough() {
        return THOROUGH;
    }

    /** Asked for, or else another one each day, so that many days see all. */
    public static long ofTheDay() {
        return SEED;
    }

    private static long seed() {
        String asked = System.getenv("CALMSTEP_SEED");
        return asked != null ? Long.parseLong(asked) : LocalDate.now(ZoneOffset.UTC).toEpochDay();
    }

    /** So many, or all of them under a thorough check; in their order. */
    public static <T> List<T> of(String what, int count, List<T> all) {
        if (THOROUGH || count >= all.size()) {
            return all;
        }
        List<Integer> places = new ArrayList<>(IntStream.range(0, all.size()).boxed().toList());
        Collections.shuffle(places, new Random(SEED ^ what.hashCode()));
        List<T> taken = places.subList(0, count).stream().sorted().map(all::get).toList();
        System.out.printf("%s: %s of %s, seed %s%n", what, count, all.size(), SEED);
        return taken;
    }

    /** Numbers below {@code below}: so many, or all of them under a thorough check. */
    public static List<Integer> numbers(String what, int count, int below) {
        return of(what, count, IntStream.range(0, below).boxed().toList());
    }

    /** How many: the first, or the second under a thorough check. */
    public static int count(int usual, int thorough) {
        return THOROUGH ? thorough : usual;
    }
}
