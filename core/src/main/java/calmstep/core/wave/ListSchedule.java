package calmstep.core.wave;

import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.util.Arrays;

/**
 * A schedule being made: units are placed one after the other, each part at the first place that
 * holds every rule beside what is placed already. Use of each limit is counted by minute, which
 * makes finding a place one pass over the minutes of a window.
 */
final class ListSchedule {
    static final int UNPLACED = -1;
    private static final int LEFT = -1;

    final Ground ground;
    private final short[] overAll;
    private final short[][] ofFamily;

    /** By site, its open minutes alone. */
    private final short[][] ofSite;

    private final int[][] sitesInNight;
    private final int[][] partsInNight;
    private final int[] linkFree;
    private final int[] pilotsPlaced;
    private final int[][] pilots;

    /** How many parts of each unit are placed while an order is gone through. */
    private final int[] placed;

    private final int[][] soakedBy;
    private final int[][] begins;
    private final int[][] window;
    private final int[][] stagedBy;
    private final boolean[] pilot;

    /** By unit and part: no earlier than this, although it could be. */
    private final int[][] wanted;

    private final boolean[] closed;
    private final Barred barred = new Barred();

    ListSchedule(Ground ground) {
        this.ground = ground;
        overAll = new short[ground.minutes + 1];
        ofFamily = new short[ground.families][ground.minutes + 1];
        ofSite =
                ground.sites.stream()
                        .map(site -> new short[site.minutes()])
                        .toArray(short[][]::new);
        sitesInNight = new int[ground.kinds.size()][ground.nights];
        partsInNight = new int[ground.sites.size()][ground.nights];
        linkFree = new int[ground.links];
        pilotsPlaced = new int[ground.likenesses];
        pilots = new int[ground.likenesses][ground.limits.pilots()];
        placed = new int[ground.works.size()];
        soakedBy = new int[ground.likenesses][];
        ground.works.forEach(work -> soakedBy[work.likeness()] = new int[work.parts()]);
        begins = ground.works.stream().map(work -> new int[work.parts()]).toArray(int[][]::new);
        window = ground.works.stream().map(work -> new int[work.parts()]).toArray(int[][]::new);
        stagedBy = ground.works.stream().map(work -> new int[work.parts()]).toArray(int[][]::new);
        pilot = new boolean[ground.works.size()];
        wanted = ground.works.stream().map(work -> new int[work.parts()]).toArray(int[][]::new);
        closed = new boolean[ground.nights];
        for (int[] begin : begins) {
            Arrays.fill(begin, UNPLACED);
        }
    }

    /** Takes everything off again, and closes some nights. */
    void clear(int... closedNights) {
        wipe();
        Arrays.fill(closed, false);
        for (int night : closedNights) {
            closed[night] = true;
        }
    }

    /** Part by part: what a search among few units fills of a year of minutes is little. */
    private void wipe() {
        for (int unit = 0; unit < begins.length; unit++) {
            for (int part = 0;
                    part < begins[unit].length && begins[unit][part] != UNPLACED;
                    part++) {
                occupy(unit, part, -1);
            }
            Arrays.fill(begins[unit], UNPLACED);
        }
        for (int[] soaked : soakedBy) {
            Arrays.fill(soaked, 0);
        }
        Arrays.fill(linkFree, 0);
        Arrays.fill(pilotsPlaced, 0);
        Arrays.fill(pilot, false);
    }

    /** Holds a unit's parts back until some minutes; 0 for none. */
    void want(int unit, int[] minutes) {
        System.arraycopy(minutes, 0, wanted[unit], 0, minutes.length);
    }

    /**
     * Places everything in an order.
     *
     * @param order each unit as often as it has parts, so that parts of others may come between its
     *     own. The first units of each likeness are its pilots: a part of theirs is placed before
     *     the same part of any other, in whatever order. Where a pilot would be stuck half way,
     *     pilots are placed whole, so that another takes the place of one that cannot be
     */
    void placeAll(int[] order) {
        if (!placeEach(order, false)) {
            wipe();
            placeEach(order, true);
        }
    }

    /** Whether no pilot was stuck half way. */
    private boolean placeEach(int[] order, boolean pilotsWhole) {
        Arrays.fill(placed, 0);
        for (int unit : order) {
            int parts = ground.works.get(unit).parts();
            if (placed[unit] == LEFT || placed[unit] == parts) {
                continue;
            }
            boolean first =
                    placed[unit] == 0
                            && pilotsPlaced[ground.works.get(unit).likeness()]
                                    < ground.limits.pilots();
            if (first && pilotsWhole) {
                placed[unit] = place(unit, Loosened.NOTHING) == UNPLACED ? parts : LEFT;
            } else if (first) {
                placed[unit] = placeFirst(unit) ? 1 : LEFT;
            } else if (!pilotsKeepAhead(unit)) {
                return false;
            } else if (placePart(unit, placed[unit], pilot[unit], Loosened.NOTHING)) {
                watched(unit, placed[unit]++);
            } else if (pilot[unit]) {
                return false;
            } else {
                undo(unit, placed[unit]);
                placed[unit] = LEFT;
            }
        }
        return true;
    }

    private boolean placeFirst(int unit) {
        if (!placePart(unit, 0, true, Loosened.NOTHING)) {
            return false;
        }
        int likeness = ground.works.get(unit).likeness();
        pilot[unit] = true;
        pilots[likeness][pilotsPlaced[likeness]++] = unit;
        watched(unit, 0);
        return true;
    }

    /** Places the parts of pilots that the next part of a unit must wait for. */
    private boolean pilotsKeepAhead(int unit) {
        int likeness = ground.works.get(unit).likeness();
        for (int i = 0; !pilot[unit] && i < pilotsPlaced[likeness]; i++) {
            int before = pilots[likeness][i];
            while (placed[before] <= placed[unit]) {
                if (!placePart(before, placed[before], true, Loosened.NOTHING)) {
                    return false;
                }
                watched(before, placed[before]++);
            }
        }
        return true;
    }

    /** Who waits for a pilot waits until its part was watched. */
    private void watched(int unit, int part) {
        if (pilot[unit]) {
            int[] soaked = soakedBy[ground.works.get(unit).likeness()];
            soaked[part] = Math.max(soaked[part], end(unit, part) + ground.soak);
        }
    }

    /**
     * Places all parts of a unit, or none.
     *
     * @return the part that found no place, or {@value #UNPLACED} when all did
     */
    int place(int unit, Loosened loosened) {
        Work work = ground.works.get(unit);
        boolean first = pilotsPlaced[work.likeness()] < ground.limits.pilots();
        int link = linkFree[work.link()];
        for (int part = 0; part < work.parts(); part++) {
            if (!placePart(unit, part, first, loosened)) {
                undo(unit, part);
                linkFree[work.link()] = link;
                return part;
            }
        }
        pilot[unit] = first;
        if (first) {
            pilots[work.likeness()][pilotsPlaced[work.likeness()]++] = unit;
            for (int part = 0; part < work.parts(); part++) {
                watched(unit, part);
            }
        }
        return UNPLACED;
    }

    private int staged(Work work, int part) {
        int takes = work.stages()[part];
        return takes == 0 ? 0 : linkFree[work.link()] + takes;
    }

    private boolean placePart(int unit, int part, boolean asPilot, Loosened loosened) {
        Work work = ground.works.get(unit);
        int staged = loosened.staging() ? 0 : staged(work, part);
        int own = part == 0 ? 0 : end(unit, part - 1);
        int soaked = asPilot || loosened.pilots() ? 0 : soakedBy[work.likeness()][part];
        if (!find(
                unit,
                part,
                Math.max(Math.max(own, staged), Math.max(soaked, wanted[unit][part])),
                loosened)) {
            return false;
        }
        occupy(unit, part, 1);
        stagedBy[unit][part] = staged;
        linkFree[work.link()] = Math.max(linkFree[work.link()], staged);
        return true;
    }

    private void undo(int unit, int parts) {
        for (int part = 0; part < parts; part++) {
            occupy(unit, part, -1);
            begins[unit][part] = UNPLACED;
        }
    }

    /** Whether a unit that is not placed would find places; nothing is changed. */
    boolean wouldFit(int unit, Loosened loosened) {
        return nightLoosened(unit, loosened) != Ground.NONE;
    }

    /**
     * The night in which a unit that is not placed would begin; nothing is changed. {@link
     * Ground#NONE} where it finds no place.
     */
    int nightLoosened(int unit, Loosened loosened) {
        Work work = ground.works.get(unit);
        int link = linkFree[work.link()];
        int[] soaked = soakedBy[work.likeness()].clone();
        if (place(unit, loosened) != UNPLACED) {
            return Ground.NONE;
        }
        int night = night(unit, 0);
        undo(unit, work.parts());
        linkFree[work.link()] = link;
        soakedBy[work.likeness()] = soaked;
        pilotsPlaced[work.likeness()] -= pilot[unit] ? 1 : 0;
        pilot[unit] = false;
        return night;
    }

    /**
     * When a placed part would begin if some rules were left aside and it were free to begin from a
     * minute on.
     */
    int beginsLoosened(int unit, int part, int earliest, Loosened loosened) {
        int begin = begins[unit][part];
        int in = window[unit][part];
        occupy(unit, part, -1);
        begins[unit][part] = UNPLACED;
        int found = find(unit, part, earliest, loosened) ? begins[unit][part] : Integer.MAX_VALUE;
        begins[unit][part] = begin;
        window[unit][part] = in;
        occupy(unit, part, 1);
        return found;
    }

    private boolean find(int unit, int part, int earliest, Loosened loosened) {
        Work work = ground.works.get(unit);
        Openings site = ground.sites.get(work.site());
        int need =
                loosened.ahead()
                        ? Math.max(
                                1,
                                work.needs()[part]
                                        - (int)
                                                work.unit()
                                                        .chunks()
                                                        .get(part)
                                                        .savedByAhead()
                                                        .toMinutes())
                        : work.needs()[part];
        boolean lonely =
                loosened.beside()
                        || ground.farther[unit].length
                                        + ground.nearer[unit].length
                                        + ground.mates[unit].length
                                == 0;
        for (int w = site.firstAfter(earliest); w < site.count(); w++) {
            int low = Math.max(site.opens()[w], earliest);
            int high = site.closes()[w];
            int night = site.nights()[w];
            if (high - low < need
                    || closed[night]
                    || (work.pin() != Ground.NONE && work.pin() != night && !loosened.pin())
                    || (isFullOfSites(work.site(), site.kind(), night) && !loosened.kinds())) {
                continue;
            }
            barred.clear();
            if (!lonely) {
                low = Math.max(low, endOfFarther(unit, night));
                high = Math.min(high, beginOfNearer(unit, night));
                bar(unit, low, high);
            }
            int at = scan(work, site, w, low, high, need, loosened);
            if (at >= 0) {
                begins[unit][part] = at;
                window[unit][part] = w;
                return true;
            }
        }
        return false;
    }

    private boolean isFullOfSites(int site, int kind, int night) {
        return kind != Ground.NONE
                && partsInNight[site][night] == 0
                && sitesInNight[kind][night] >= ground.kindMost[kind];
    }

    private int endOfFarther(int unit, int night) {
        int latest = 0;
        for (int other : ground.farther[unit]) {
            for (int part = 0; part < begins[other].length; part++) {
                latest =
                        begins[other][part] != UNPLACED && night(other, part) == night
                                ? Math.max(latest, end(other, part))
                                : latest;
            }
        }
        return latest;
    }

    private int beginOfNearer(int unit, int night) {
        int earliest = Integer.MAX_VALUE;
        for (int other : ground.nearer[unit]) {
            for (int part = 0; part < begins[other].length; part++) {
                earliest =
                        begins[other][part] != UNPLACED && night(other, part) == night
                                ? Math.min(earliest, begins[other][part])
                                : earliest;
            }
        }
        return earliest;
    }

    /**
     * Collects the stretches between two minutes in which units are in work that this one is never
     * in work together with.
     */
    private void bar(int unit, int low, int high) {
        for (int[] others :
                new int[][] {ground.farther[unit], ground.nearer[unit], ground.mates[unit]}) {
            for (int other : others) {
                for (int part = 0; part < begins[other].length; part++) {
                    if (begins[other][part] != UNPLACED
                            && begins[other][part] < high
                            && end(other, part) > low) {
                        barred.add(begins[other][part], end(other, part));
                    }
                }
            }
        }
    }

    private int scan(
            Work work, Openings site, int w, int low, int high, int need, Loosened loosened) {
        short[] family = ofFamily[work.family()];
        short[] here = ofSite[work.site()];
        int shift = site.offsets()[w] - site.opens()[w];
        int mostOverAll = ground.limits.atOnce() + loosened.overAll();
        int mostOfFamily = ground.limits.perFamily() + loosened.family();
        int mostHere = ground.limits.perSite() + loosened.site();
        int begin = low;
        int free = low;
        while (begin + need <= high) {
            int behind = barred.behind(begin, begin + need);
            if (behind > begin) {
                begin = behind;
                free = behind;
                continue;
            }
            // From behind, so that what is full is jumped over: up to "free" it is known that there
            // is room.
            int minute = begin + need - 1;
            while (minute >= free
                    && overAll[minute] < mostOverAll
                    && family[minute] < mostOfFamily
                    && here[minute + shift] < mostHere) {
                minute--;
            }
            if (minute < free) {
                return begin;
            }
            free = begin + need;
            begin = minute + 1;
        }
        return UNPLACED;
    }

    private void occupy(int unit, int part, int by) {
        Work work = ground.works.get(unit);
        Openings site = ground.sites.get(work.site());
        int w = window[unit][part];
        int shift = site.offsets()[w] - site.opens()[w];
        int begin = begins[unit][part];
        int end = Math.min(end(unit, part), site.closes()[w]);
        count(overAll, begin, end, by);
        count(ofFamily[work.family()], begin, end, by);
        count(ofSite[work.site()], begin + shift, end + shift, by);
        int night = site.nights()[w];
        int before = partsInNight[work.site()][night];
        partsInNight[work.site()][night] += by;
        if (site.kind() != Ground.NONE && (before == 0 || before + by == 0)) {
            sitesInNight[site.kind()][night] += by;
        }
    }

    private static void count(short[] use, int from, int to, int by) {
        for (int minute = from; minute < to; minute++) {
            use[minute] += (short) by;
        }
    }

    int begin(int unit, int part) {
        return begins[unit][part];
    }

    int end(int unit, int part) {
        return begins[unit][part] + ground.works.get(unit).needs()[part];
    }

    int stagedBy(int unit, int part) {
        return stagedBy[unit][part];
    }

    int linkFree(int link) {
        return linkFree[link];
    }

    int soakedBy(int likeness, int part) {
        return soakedBy[likeness][part];
    }

    boolean isPilot(int unit) {
        return pilot[unit];
    }

    boolean isPlaced(int unit) {
        return begins[unit][0] != UNPLACED;
    }

    int night(int unit, int part) {
        return ground.sites.get(ground.works.get(unit).site()).nights()[window[unit][part]];
    }

    int opens(int unit, int part) {
        return ground.sites.get(ground.works.get(unit).site()).opens()[window[unit][part]];
    }

    int closes(int unit, int part) {
        return ground.sites.get(ground.works.get(unit).site()).closes()[window[unit][part]];
    }

    Worth worth() {
        return Worth.of(this, ground);
    }

    int[][] partsInNight() {
        return partsInNight;
    }

    /** Parts by night. */
    int[] load() {
        int[] load = new int[ground.nights];
        for (int[] site : partsInNight) {
            for (int night = 0; night < load.length; night++) {
                load[night] += site[night];
            }
        }
        return load;
    }
}
