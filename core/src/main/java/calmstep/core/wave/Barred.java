package calmstep.core.wave;

import java.util.Arrays;

/** Stretches of minutes that are barred; collected anew for each unit, in the same room. */
final class Barred {
    private int[] stretches = new int[16];
    private int count;

    void clear() {
        count = 0;
    }

    void add(int begin, int end) {
        if (count + 2 > stretches.length) {
            stretches = Arrays.copyOf(stretches, stretches.length * 2);
        }
        stretches[count++] = begin;
        stretches[count++] = end;
    }

    /** Behind all stretches that reach into this one, or where it begins itself. */
    int behind(int from, int to) {
        int behind = from;
        for (int i = 0; i < count; i += 2) {
            if (stretches[i] < to && stretches[i + 1] > from) {
                behind = Math.max(behind, stretches[i + 1]);
            }
        }
        return behind;
    }
}
