package calmstep.core.wave;

import java.util.Arrays;

/**
 * How good a schedule is; less is better.
 *
 * @param left units that found no place
 * @param leftMinutes what their parts need
 * @param siteNights nights in which a site is disturbed, over all sites
 * @param inLastNight parts in the last night: what is between it and one night less
 */
record Worth(int left, int leftMinutes, int nights, int end, int siteNights, int inLastNight)
        implements Comparable<Worth> {
    @Override
    public int compareTo(Worth other) {
        return Arrays.compare(
                new int[] {left, leftMinutes, nights, end, siteNights},
                new int[] {
                    other.left, other.leftMinutes, other.nights, other.end, other.siteNights
                });
    }

    /**
     * Whether a search among the same nights should go on from here rather than from there: what
     * empties the last night leads on.
     */
    boolean leadsOnFrom(Worth other) {
        if (left > 0 || other.left > 0) {
            return leftMinutes <= other.leftMinutes;
        }
        return Arrays.compare(
                        new int[] {nights, inLastNight, end},
                        new int[] {other.nights, other.inLastNight, other.end})
                <= 0;
    }

    /** How good it is. */
    static Worth of(ListSchedule schedule, Ground ground) {
        int left = 0;
        int leftMinutes = 0;
        int end = 0;
        for (int unit = 0; unit < ground.works.size(); unit++) {
            if (schedule.isPlaced(unit)) {
                end = Math.max(end, schedule.end(unit, ground.works.get(unit).parts() - 1));
            } else {
                left++;
                leftMinutes += Arrays.stream(ground.works.get(unit).needs()).sum();
            }
        }
        int[] load = schedule.load();
        int siteNights = 0;
        for (int[] site : schedule.partsInNight()) {
            for (int parts : site) {
                siteNights += parts > 0 ? 1 : 0;
            }
        }
        int nights = 0;
        int last = 0;
        for (int parts : load) {
            nights += parts > 0 ? 1 : 0;
            last = parts > 0 ? parts : last;
        }
        return new Worth(left, leftMinutes, nights, end, siteNights, last);
    }
}
