package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.forecast.Leg;
import calmstep.core.forecast.NightForecast;
import calmstep.core.forecast.NightPlay;
import calmstep.core.forecast.Times;
import calmstep.core.path.Hop;
import calmstep.core.reach.Network;
import calmstep.core.step.Neighbours;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Held;
import calmstep.core.wave.Placement;
import calmstep.core.wave.Schedule;
import calmstep.core.wave.WaveSearch;
import calmstep.core.wave.WaveTask;
import calmstep.core.wave.WaveUnit;
import calmstep.core.wave.Wishes;
import calmstep.core.window.NightRules;
import calmstep.core.window.Window;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SequencedSet;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Puts the units of a plan into nights, and says how likely each of them is to end in time. */
public final class NightPlanning {
    /** How far ahead windows are looked at. */
    public static final Duration AHEAD = Duration.ofDays(92);

    private static final Duration WITHOUT_WINDOWS = Duration.ofHours(24);
    private static final int DRAWS = 2_000;

    /** So many drawn nights of a part are enough together; large plans get fewer draws a night. */
    private static final int MOST_DRAWN = 2_000_000;

    private static final long SEED = 1;

    private final Known known;
    private final Map<String, List<PartOfPath>> parts = new HashMap<>();
    private final Map<String, WaveUnit> waveUnits = new TreeMap<>();
    private final Map<String, Set<String>> notWith = new HashMap<>();

    /** Who loses the network while a unit is dark; units that darken nobody else are left out. */
    private final Map<String, List<Reached>> reached = new TreeMap<>();

    /**
     * What planning nights needs to know.
     *
     * @param rights licences and support that end soon, by device
     */
    public record Known(
            Map<String, Device> devices,
            Map<String, Catalogue> catalogues,
            Map<String, Site> sites,
            NightRules rules,
            Network network,
            Times times,
            Map<String, List<Ailment.Ends>> rights) {}

    private NightPlanning(List<UnitPlan> units, Known known) {
        this.known = known;
        Set<String> names = units.stream().map(UnitPlan::device).collect(Collectors.toSet());
        Map<String, Set<String>> found = standIns(names);
        units.forEach(
                unit -> {
                    Device device = known(known.devices(), unit.device());
                    List<PartOfPath> of = PartOfPath.of(unit, device, known.times());
                    parts.put(unit.device(), of);
                    Set<String> groups = new TreeSet<>(device.wiring().redundancy());
                    groups.addAll(found.getOrDefault(unit.device(), Set.of()));
                    waveUnits.put(unit.device(), waveUnit(unit, device, of, known, names, groups));
                    List<Reached> behind = Reached.by(unit, known.devices(), known.network());
                    if (!behind.isEmpty()) {
                        reached.put(unit.device(), behind);
                    }
                });
        keepApart();
    }

    private static WaveUnit waveUnit(
            UnitPlan unit,
            Device device,
            List<PartOfPath> of,
            Known known,
            Set<String> names,
            Set<String> groups) {
        return new WaveUnit(
                unit.device(),
                unit.site(),
                device.family(),
                likeness(unit, device),
                of.stream().map(PartOfPath::chunk).toList(),
                known.network().cutOffBy(unit.device()).stream()
                        .filter(names::contains)
                        .collect(Collectors.toSet()),
                groups);
    }

    /**
     * For each unit those that it is never in work with: what it cuts off, what cuts it off, its
     * mates.
     */
    private void keepApart() {
        Map<String, Set<String>> groups = new HashMap<>();
        waveUnits.values().forEach(unit -> keepFromItsOwn(unit, groups));
        groups.values()
                .forEach(
                        mates ->
                                mates.forEach(
                                        one ->
                                                mates.stream()
                                                        .filter(other -> !other.equals(one))
                                                        .forEach(other -> apart(one, other))));
    }

    private void keepFromItsOwn(WaveUnit unit, Map<String, Set<String>> groups) {
        unit.cutsOff().forEach(other -> apart(unit.name(), other));
        unit.mates()
                .forEach(
                        group ->
                                groups.computeIfAbsent(group, _ -> new TreeSet<>())
                                        .add(unit.name()));
    }

    private void apart(String one, String other) {
        notWith.computeIfAbsent(one, _ -> new TreeSet<>()).add(other);
        notWith.computeIfAbsent(other, _ -> new TreeSet<>()).add(one);
    }

    /**
     * Groups that the links show, under a name of their own beside those that the inventory gives:
     * devices that stand in for each other, and two that together cut off a third.
     */
    private Map<String, Set<String>> standIns(Set<String> names) {
        Map<String, Set<String>> groups = new HashMap<>();
        Stream.concat(
                        known.network().standIns().stream(),
                        known.network().cuttingPairs(names).stream())
                .forEach(
                        group ->
                                group.stream()
                                        .filter(names::contains)
                                        .forEach(name -> standsIn(name, groups, group)));
        return groups;
    }

    private static void standsIn(
            String name, Map<String, Set<String>> groups, SequencedSet<String> group) {
        groups.computeIfAbsent(name, _ -> new TreeSet<>())
                .add("found: " + String.join(" and ", group));
    }

    private static String likeness(UnitPlan unit, Device device) {
        return Stream.concat(
                        Stream.of(
                                device.family(),
                                device.hardware().model(),
                                device.role(),
                                unit.from()),
                        unit.hops().stream().map(UnitPlan.HopPlan::hop).map(Hop::to))
                .collect(Collectors.joining(" · "));
    }

    /**
     * @param units those that are to be done
     * @param wishes of a person; they are kept or refused, never bent
     * @param from nothing begins earlier
     */
    public static Nights of(
            List<UnitPlan> units, Known known, Wishes wishes, Start start, Instant from) {
        return new NightPlanning(units, known).plan(wishes, start, from);
    }

    /** The same with other wishes, everything else as far as possible where it was. */
    public static Nights keeping(
            Nights before,
            List<UnitPlan> units,
            Known known,
            Wishes wishes,
            Start start,
            Instant from) {
        NightPlanning planning = new NightPlanning(units, known);
        return planning.told(
                WaveSearch.keeping(planning.task(wishes, start, from), before.schedule()), start);
    }

    private Nights plan(Wishes wishes, Start start, Instant from) {
        return told(WaveSearch.of(task(wishes, start, from)), start);
    }

    private Nights told(Schedule schedule, Start start) {
        Map<LocalDate, List<Placement>> byNight = byNight(schedule);
        int draws = Math.clamp(MOST_DRAWN / Math.max(1, schedule.placements().size()), 200, DRAWS);
        return new Nights(
                schedule,
                byNight.entrySet().stream()
                        .map(
                                night ->
                                        night(
                                                night.getKey(),
                                                night.getValue(),
                                                schedule.from(),
                                                draws))
                        .toList(),
                start.waitsForWindows() ? List.of() : outside(schedule),
                runOut(schedule));
    }

    private List<Nights.RunOut> runOut(Schedule schedule) {
        Map<String, Instant> over =
                schedule.placements().stream()
                        .collect(
                                Collectors.toMap(
                                        Placement::unit,
                                        Placement::ends,
                                        (a, b) -> a.isAfter(b) ? a : b,
                                        TreeMap::new));
        return over.entrySet().stream()
                .flatMap(
                        unit ->
                                known.rights().getOrDefault(unit.getKey(), List.of()).stream()
                                        .filter(right -> right.isOverOnlyAt(unit.getValue()))
                                        .map(
                                                right ->
                                                        new Nights.RunOut(
                                                                unit.getKey(),
                                                                right,
                                                                unit.getValue())))
                .toList();
    }

    private List<Nights.Outside> outside(Schedule schedule) {
        return schedule.placements().stream()
                .flatMap(
                        place ->
                                whyNot(place.unit(), place.begins(), place.ends())
                                        .map(
                                                why ->
                                                        new Nights.Outside(
                                                                place.unit(),
                                                                place.part(),
                                                                place.begins(),
                                                                why))
                                        .stream())
                .toList();
    }

    private Optional<String> whyNot(String unit, Instant begins, Instant ends) {
        Site site = known(known.sites(), known(waveUnits, unit).site());
        return known.rules().whyNot(site, begins, ends);
    }

    private static Map<LocalDate, List<Placement>> byNight(Schedule schedule) {
        Map<LocalDate, List<Placement>> byNight =
                schedule.placements().stream()
                        .collect(
                                Collectors.groupingBy(
                                        Placement::night, TreeMap::new, Collectors.toList()));
        return byNight;
    }

    /**
     * What a run of these units keeps to.
     *
     * @param now beginning of the run; a plan that begins at once is shifted to it
     * @param pace how much faster than ours the devices' clocks run: what they need is so much
     *     shorter, and so is a plan that begins at once
     */
    public static Timetable timetable(
            Nights nights, List<UnitPlan> units, Known known, Start start, Instant now, int pace) {
        NightPlanning planning = new NightPlanning(units, known);
        Map<String, Timetable.Entry> entries = new TreeMap<>();
        Set<String> pilots =
                nights.schedule().placements().stream()
                        .filter(Placement::pilot)
                        .map(Placement::unit)
                        .collect(Collectors.toSet());
        Map<String, Set<String>> byLikeness =
                planning.waveUnits.values().stream()
                        .filter(unit -> pilots.contains(unit.name()))
                        .collect(
                                Collectors.groupingBy(
                                        WaveUnit::likeness,
                                        Collectors.mapping(WaveUnit::name, Collectors.toSet())));
        units.forEach(
                unit -> {
                    WaveUnit wave = known(planning.waveUnits, unit.device());
                    List<Turn> turns =
                            planning.turns(unit, nights.schedule().of(unit.device()), now).stream()
                                    .map(
                                            turn ->
                                                    start instanceof Start.Now
                                                            ? shifted(
                                                                    turn,
                                                                    nights.schedule().from(),
                                                                    now,
                                                                    pace)
                                                            : needing(turn, pace))
                                    .map(turn -> planning.judged(turn, unit, start, now))
                                    .toList();
                    boolean pilot = pilots.contains(unit.device());
                    Set<String> follows =
                            pilot ? Set.of() : byLikeness.getOrDefault(wave.likeness(), Set.of());
                    entries.put(
                            unit.device(),
                            new Timetable.Entry(
                                    turns,
                                    new Neighbours(
                                            unit.device(),
                                            unit.site(),
                                            wave.family(),
                                            planning.notWith.getOrDefault(unit.device(), Set.of()),
                                            follows),
                                    pilot));
                });
        return new Timetable(known.rules().limits(), entries);
    }

    /** A turn that a person set is not inside a window unless its site has one then. */
    private Turn judged(Turn turn, UnitPlan unit, Start start, Instant now) {
        Instant begins = turn.begins().isBefore(now) ? now : turn.begins();
        if (start.waitsForWindows()) {
            return turn;
        }
        Optional<String> outside = whyNot(unit.device(), begins, begins.plus(turn.needs()));
        return outside.isPresent()
                ? turn.although(outside.get())
                : closing(turn, unit.site(), begins);
    }

    /** Inside of a window it closes with it. */
    private Turn closing(Turn turn, String site, Instant begins) {
        return known.rules().of(known(known.sites(), site), begins, turn.closes()).stream()
                .filter(window -> !window.opens().isAfter(begins))
                .findFirst()
                .map(window -> turn.closingAt(window.closes()))
                .orElse(turn);
    }

    private static Turn needing(Turn turn, int pace) {
        return new Turn(
                turn.firstHop(),
                turn.lastHop(),
                turn.begins(),
                turn.closes(),
                turn.needs().dividedBy(pace));
    }

    private static Turn shifted(Turn turn, Instant from, Instant now, int pace) {
        return new Turn(
                turn.firstHop(),
                turn.lastHop(),
                now.plus(Duration.between(from, turn.begins()).dividedBy(pace)),
                now.plus(Duration.between(from, turn.closes())),
                turn.needs().dividedBy(pace));
    }

    /**
     * A part that waits for nothing but the one before it may begin as soon as that one has ended.
     */
    private List<Turn> turns(UnitPlan unit, List<Placement> placements, Instant now) {
        List<List<UnitPlan.HopPlan>> hops = unit.parts();
        List<Turn> turns = new ArrayList<>();
        for (int part = 0; part < hops.size(); part++) {
            int first = hops.get(part).getFirst().ordinal();
            int last = hops.get(part).getLast().ordinal();
            int number = part + 1;
            Optional<Placement> place =
                    placements.stream().filter(p -> p.part() == number).findFirst();
            Instant begins =
                    place.filter(
                                    p ->
                                            p.why() instanceof Held.AfterOwnPart
                                                    && !turns.isEmpty()
                                                    && turns.getLast().closes().equals(p.closes()))
                            .map(_ -> turns.getLast().begins())
                            .or(() -> place.map(Placement::begins))
                            .orElse(now);
            turns.add(
                    new Turn(
                            first,
                            last,
                            begins,
                            place.map(Placement::closes).orElse(now),
                            place.map(p -> Duration.between(p.begins(), p.ends()))
                                    .orElse(
                                            known(waveUnits, unit.device())
                                                    .chunks()
                                                    .get(part)
                                                    .needs())));
        }
        return turns;
    }

    private WaveTask task(Wishes wishes, Start start, Instant now) {
        Instant asked =
                start instanceof Start.At(Instant moment) && moment.isAfter(now) ? moment : now;
        Instant from =
                asked.minusNanos(1).truncatedTo(ChronoUnit.MINUTES).plus(1, ChronoUnit.MINUTES);
        Map<String, List<Window>> windows = new HashMap<>();
        waveUnits.values().stream()
                .map(WaveUnit::site)
                .distinct()
                .forEach(
                        name -> {
                            Site site = known(known.sites(), name);
                            windows.put(
                                    name,
                                    switch (start) {
                                        case Start.NextWindow() ->
                                                known.rules().of(site, from, from.plus(AHEAD));
                                        case Start.Now(), Start.At(Instant _) ->
                                                List.of(
                                                        Window.of(
                                                                from,
                                                                from.plus(WITHOUT_WINDOWS),
                                                                site.zone()));
                                    });
                        });
        return new WaveTask(
                from,
                from.plus(AHEAD),
                List.copyOf(waveUnits.values()),
                windows,
                known.rules().kindOf(),
                known.rules().links(),
                known.rules().limits(),
                wishes);
    }

    private Nights.Night night(
            LocalDate date, List<Placement> placements, Instant from, int draws) {
        List<Leg> legs = placements.stream().map(placement -> leg(placement, from)).toList();
        NightForecast forecast = NightPlay.of(legs, known.rules().limits(), draws, SEED);
        List<String> units = placements.stream().map(Placement::unit).distinct().toList();
        Map<String, List<Reached>> behind = new TreeMap<>(reached);
        behind.keySet().retainAll(units);
        TreeSet<String> cutOff =
                behind.values().stream()
                        .flatMap(List::stream)
                        .flatMap(site -> site.devices().stream())
                        .collect(Collectors.toCollection(TreeSet::new));
        List<Together> together = Together.of(placements, known.network());
        together.forEach(several -> cutOff.addAll(several.cutOff()));
        units.forEach(cutOff::remove);
        return new Nights.Night(
                date, forecast, List.copyOf(cutOff), serves(units, cutOff), behind, together);
    }

    private List<String> serves(List<String> units, Set<String> cutOff) {
        return Reached.serving(
                Stream.concat(units.stream(), cutOff.stream())
                        .map(name -> known(known.devices(), name))
                        .toList());
    }

    private Leg leg(Placement placement, Instant from) {
        WaveUnit unit = known(waveUnits, placement.unit());
        Function<Instant, Double> seconds = at -> Duration.between(from, at).toMillis() / 1e3;
        return new Leg(
                unit.name(),
                placement.part(),
                unit.site(),
                unit.family(),
                seconds.apply(placement.begins()),
                seconds.apply(placement.closes()),
                new ArrayList<>(known(parts, unit.name()).get(placement.part() - 1).steps()),
                notWith.getOrDefault(unit.name(), Set.of()));
    }
}
