package calmstep.core.wave;

import calmstep.core.wave.FitsNowhere.Change;
import calmstep.core.wave.FitsNowhere.Reason;
import calmstep.core.wave.Ground.Openings;
import calmstep.core.wave.Ground.Work;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.SequencedMap;
import java.util.stream.IntStream;

/**
 * A finished list schedule with the reason of each place. Reasons are tried, not guessed: a rule is
 * one where the part would begin earlier without it.
 */
final class Explained {
    private final ListSchedule list;
    private final Ground ground;

    Explained(ListSchedule list) {
        this.list = list;
        ground = list.ground;
    }

    Schedule schedule() {
        List<Placement> placements = new ArrayList<>();
        List<FitsNowhere> nowhere = new ArrayList<>();
        place(placements, nowhere);
        placements.sort(Comparator.comparing(Placement::begins).thenComparing(Placement::unit));
        LowerBound.Least least = LowerBound.of(new LowerBound.Counted(ground, list::isPlaced));
        return new Schedule(
                ground.task.from(),
                placements,
                nowhere,
                new Schedule.Bound(least.nights(), ground.instantOf(least.end())));
    }

    private void place(List<Placement> placements, List<FitsNowhere> nowhere) {
        for (int unit = 0; unit < ground.works.size(); unit++) {
            if (list.isPlaced(unit)) {
                for (int part = 0; part < ground.works.get(unit).parts(); part++) {
                    placements.add(placement(unit, part));
                }
            } else {
                nowhere.add(nowhere(unit));
            }
        }
    }

    private Placement placement(int unit, int part) {
        return new Placement(
                ground.works.get(unit).unit().name(),
                part + 1,
                ground.instantOf(list.begin(unit, part)),
                ground.instantOf(list.end(unit, part)),
                ground.instantOf(list.opens(unit, part)),
                ground.instantOf(list.closes(unit, part)),
                ground.nightOf(list.night(unit, part)),
                list.isPilot(unit),
                ground.instantOf(list.stagedBy(unit, part)),
                held(unit, part));
    }

    private Held held(int unit, int part) {
        Work work = ground.works.get(unit);
        Openings site = ground.sites.get(work.site());
        int begin = list.begin(unit, part);
        int from = earlier(site, begin, work.needs()[part]);
        if (from == begin) {
            return new Held.FirstWindow();
        }
        int own = part == 0 ? 0 : list.end(unit, part - 1);
        int staged = list.stagedBy(unit, part);
        int soaked = list.isPilot(unit) ? 0 : list.soakedBy(work.likeness(), part);
        int free = Math.max(Math.max(own, staged), soaked);
        if (free >= begin
                || (free > from
                        && list.beginsLoosened(unit, part, from, Loosened.NOTHING) < begin)) {
            return free == own
                    ? new Held.AfterOwnPart(part)
                    : free == soaked
                            ? new Held.AfterPilots(work.unit().likeness(), ground.instantOf(soaked))
                            : new Held.Staging(ground.instantOf(staged));
        }
        int since = Math.max(free, from);
        if (list.beginsLoosened(unit, part, since, Loosened.NOTHING) < begin) {
            return new Held.ForTheWhole();
        }
        if (work.pin() != Ground.NONE
                && list.beginsLoosened(unit, part, since, Loosened.night()) < begin) {
            return new Held.Pinned(pinned(work));
        }
        int without = list.beginsLoosened(unit, part, since, Loosened.company());
        if (without < begin) {
            return company(unit, part, without);
        }
        return limits(work).entrySet().stream()
                .filter(limit -> list.beginsLoosened(unit, part, since, limit.getValue()) < begin)
                .map(limit -> (Held) new Held.Full(limit.getKey()))
                .findFirst()
                .orElse(new Held.ForTheWhole());
    }

    /**
     * Where the part could begin by the windows alone: in its own window, or in the last one before
     * that would hold it.
     */
    private static int earlier(Openings site, int begin, int need) {
        int own = site.firstAfter(begin);
        if (site.opens()[own] < begin) {
            return site.opens()[own];
        }
        return IntStream.iterate(own - 1, w -> w >= 0, w -> w - 1)
                .filter(w -> site.closes()[w] - site.opens()[w] >= need)
                .map(w -> site.opens()[w])
                .findFirst()
                .orElse(begin);
    }

    private LocalDate pinned(Work work) {
        return Objects.requireNonNull(ground.task.wishes().nights().get(work.unit().name()));
    }

    private Held company(int unit, int part, int without) {
        int need = ground.works.get(unit).needs()[part];
        for (int other : ground.farther[unit]) {
            if (IntStream.range(0, ground.works.get(other).parts())
                    .anyMatch(
                            p ->
                                    list.isPlaced(other)
                                            && list.night(other, p) == list.night(unit, part)
                                            && list.end(other, p) > without)) {
                return new Held.FartherFirst(ground.works.get(other).unit().name());
            }
        }
        return IntStream.concat(IntStream.of(ground.nearer[unit]), IntStream.of(ground.mates[unit]))
                .filter(other -> isBeside(other, without, need))
                .mapToObj(other -> (Held) new Held.NotBeside(ground.works.get(other).unit().name()))
                .findFirst()
                .orElse(new Held.ForTheWhole());
    }

    private boolean isBeside(int other, int without, int need) {
        return list.isPlaced(other)
                && IntStream.range(0, ground.works.get(other).parts())
                        .anyMatch(
                                p ->
                                        list.begin(other, p) < without + need
                                                && list.end(other, p) > without);
    }

    private SequencedMap<Limit, Loosened> limits(Work work) {
        Openings site = ground.sites.get(work.site());
        SequencedMap<Limit, Loosened> limits = new LinkedHashMap<>();
        if (site.kind() != Ground.NONE) {
            limits.put(
                    new Limit.SitesANight(
                            ground.kinds.get(site.kind()), ground.kindMost[site.kind()]),
                    Loosened.sitesANight());
        }
        limits.put(new Limit.OfSite(site.site(), ground.limits.perSite()), Loosened.siteByOne());
        limits.put(
                new Limit.OfFamily(work.unit().family(), ground.limits.perFamily()),
                Loosened.familyByOne());
        limits.put(new Limit.OverAll(ground.limits.atOnce()), Loosened.overAllByOne());
        return limits;
    }

    private FitsNowhere nowhere(int unit) {
        Work work = ground.works.get(unit);
        Openings site = ground.sites.get(work.site());
        int tooLong = tooLong(work, site);
        int part =
                tooLong == Ground.NONE ? Math.max(0, list.place(unit, Loosened.NOTHING)) : tooLong;
        return new FitsNowhere(
                work.unit().name(),
                site.site(),
                part + 1,
                reason(unit, part, site),
                change(unit, part, site));
    }

    private static int tooLong(Work work, Openings site) {
        return IntStream.range(0, work.parts())
                .filter(p -> work.needs()[p] > site.longest())
                .findFirst()
                .orElse(Ground.NONE);
    }

    private Reason reason(int unit, int part, Openings site) {
        Work work = ground.works.get(unit);
        if (site.count() == 0) {
            return new Reason.NoWindow(ground.task.until());
        }
        int tooLong = tooLong(work, site);
        if (tooLong != Ground.NONE) {
            return new Reason.WindowsTooShort(
                    Duration.ofMinutes(work.needs()[tooLong]), Duration.ofMinutes(site.longest()));
        }
        if (work.pin() != Ground.NONE) {
            return new Reason.NotInThatNight(pinned(work));
        }
        return lateOrTaken(unit, work, part);
    }

    private Reason lateOrTaken(int unit, Work work, int part) {
        return list.wouldFit(unit, Loosened.link())
                ? new Reason.StagedTooLate(
                        ground.instantOf(list.linkFree(work.link()) + work.stages()[part]),
                        ground.task.until())
                : new Reason.NothingFree(ground.task.until());
    }

    private Change change(int unit, int part, Openings site) {
        Work work = ground.works.get(unit);
        Duration saves = work.unit().chunks().get(part).savedByAhead();
        if (saves.isPositive() && list.wouldFit(unit, Loosened.broughtAhead())) {
            return new Change.StageAhead(saves);
        }
        if (work.longest() > site.longest()) {
            return site.count() == 0
                    ? new Change.LookFurther(ground.task.until())
                    : new Change.LongerWindow(Duration.ofMinutes(work.longest()));
        }
        Optional<Change> night = work.pin() != Ground.NONE ? anotherNight(unit) : Optional.empty();
        return lighter(night, work, unit);
    }

    private Change lighter(Optional<Change> night, Work work, int unit) {
        return night.or(
                        () ->
                                limits(work).entrySet().stream()
                                        .filter(limit -> list.wouldFit(unit, limit.getValue()))
                                        .map(Map.Entry::getKey)
                                        .map(limit -> (Change) new Change.OneMore(limit))
                                        .findFirst())
                .orElseGet(
                        () ->
                                list.wouldFit(unit, Loosened.soak())
                                        ? new Change.ShorterSoak()
                                        : new Change.LookFurther(ground.task.until()));
    }

    private Optional<Change> anotherNight(int unit) {
        int night = list.nightLoosened(unit, Loosened.night());
        return night == Ground.NONE
                ? Optional.empty()
                : Optional.of(new Change.AnotherNight(ground.nightOf(night)));
    }
}
