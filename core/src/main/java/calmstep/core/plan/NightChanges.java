package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.wave.FitsNowhere;
import calmstep.core.wave.Placement;
import calmstep.core.wave.Schedule;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** What other nights cost: two schedules of the same plan side by side, as sentences. */
public final class NightChanges {
    private static final int NAMED = 6;
    private static final DateTimeFormatter MINUTE =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm VV", Locale.ROOT);

    private NightChanges() {}

    /**
     * @param zone the zone that times are told in
     */
    public static List<String> between(Schedule before, Schedule after, ZoneId zone) {
        List<String> changes = new ArrayList<>();
        if (before.nights().size() != after.nights().size()) {
            changes.add(
                    "it takes %s nights instead of %s"
                            .formatted(after.nights().size(), before.nights().size()));
        }
        if (!before.end().equals(after.end())) {
            changes.add(
                    "it ends %s instead of %s"
                            .formatted(words(after.end(), zone), words(before.end(), zone)));
        }
        TreeSet<String> left =
                after.nowhere().stream()
                        .map(FitsNowhere::unit)
                        .collect(Collectors.toCollection(TreeSet::new));
        before.nowhere().forEach(unit -> left.remove(unit.unit()));
        after.nowhere().stream()
                .filter(unit -> left.contains(unit.unit()))
                .forEach(
                        unit ->
                                changes.add(
                                        "it leaves no place for %s: %s"
                                                .formatted(unit.unit(), unit.sentence())));
        TreeSet<String> placed =
                before.nowhere().stream()
                        .map(FitsNowhere::unit)
                        .collect(Collectors.toCollection(TreeSet::new));
        placed.removeIf(unit -> after.of(unit).isEmpty());
        if (!placed.isEmpty()) {
            changes.add("it gives %s a place".formatted(named(List.copyOf(placed))));
        }
        moved(changes, nightsOf(before), nightsOf(after));
        return changes;
    }

    private static void moved(
            List<String> changes,
            Map<String, List<LocalDate>> was,
            Map<String, List<LocalDate>> is) {
        List<String> moved =
                was.keySet().stream()
                        .filter(unit -> is.containsKey(unit) && !is.get(unit).equals(was.get(unit)))
                        .map(unit -> "%s (%s)".formatted(unit, words(known(is, unit))))
                        .toList();
        tellMoved(moved, changes);
        List<String> out = was.keySet().stream().filter(unit -> !is.containsKey(unit)).toList();
        if (!out.isEmpty()) {
            changes.add("%s is not done any more".formatted(named(out)));
        }
        tellNew(is, was, changes);
    }

    private static void tellNew(
            Map<String, List<LocalDate>> is,
            Map<String, List<LocalDate>> was,
            List<String> changes) {
        List<String> in =
                is.keySet().stream()
                        .filter(unit -> !was.containsKey(unit))
                        .map(unit -> "%s (%s)".formatted(unit, words(known(is, unit))))
                        .toList();
        if (!in.isEmpty()) {
            changes.add("it now does %s".formatted(named(in)));
        }
    }

    private static void tellMoved(List<String> moved, List<String> changes) {
        if (!moved.isEmpty()) {
            changes.add(
                    "%s %s to another night: %s"
                            .formatted(
                                    moved.size(),
                                    moved.size() == 1 ? "unit goes" : "units go",
                                    named(moved)));
        }
    }

    private static Map<String, List<LocalDate>> nightsOf(Schedule schedule) {
        return schedule.placements().stream()
                .collect(
                        Collectors.groupingBy(
                                Placement::unit,
                                TreeMap::new,
                                Collectors.mapping(Placement::night, Collectors.toList())));
    }

    private static String words(List<LocalDate> nights) {
        return nights.stream()
                .distinct()
                .map(LocalDate::toString)
                .collect(Collectors.joining(" and "));
    }

    private static String words(Optional<Instant> end, ZoneId zone) {
        return end.map(at -> at.atZone(zone).format(MINUTE)).orElse("never");
    }

    private static String named(List<String> names) {
        return names.size() <= NAMED
                ? String.join(", ", names)
                : "%s and %s more"
                        .formatted(
                                String.join(", ", names.subList(0, NAMED)), names.size() - NAMED);
    }
}
