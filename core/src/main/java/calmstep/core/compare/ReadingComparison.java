package calmstep.core.compare;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.PartShown;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** Compares what a device showed before a change with what it shows after. */
public final class ReadingComparison {
    private static final Set<String> GOOD =
            Set.of("up", "ok", "valid", "in sync", "present", "none", "active", "standby");

    private ReadingComparison() {}

    /** The differences, ordered by kind and name; empty when nothing differs. */
    public static List<Change> of(Reading before, Reading after) {
        List<Change> changes = new ArrayList<>();
        compare("release", releasesOf(before), releasesOf(after), changes, true);
        compare("fact", factsOf(before), factsOf(after), changes, false);
        return changes;
    }

    /** By component; those of parts behind the part's name. */
    private static Map<String, String> releasesOf(Reading reading) {
        Map<String, String> releases = new TreeMap<>(reading.components());
        reading.parts()
                .forEach(
                        shown ->
                                shown.part()
                                        .runs()
                                        .forEach(
                                                (component, release) ->
                                                        releases.put(
                                                                "%s %s %s"
                                                                        .formatted(
                                                                                shown.part().kind(),
                                                                                shown.name(),
                                                                                component),
                                                                release)));
        return releases;
    }

    private static Map<String, String> factsOf(Reading reading) {
        Map<String, String> facts = new TreeMap<>();
        for (PartShown shown : reading.parts()) {
            facts.put(shown.part().kind() + "\u0000" + shown.name(), shown.state());
            if (!shown.role().isEmpty()) {
                facts.put(
                        "role\u0000%s %s".formatted(shown.part().kind(), shown.name()),
                        shown.role());
            }
        }
        reading.identity().features().forEach(name -> facts.put("feature\u0000" + name, "present"));
        for (Fact fact : reading.facts()) {
            facts.put(fact.kind() + "\u0000" + fact.name(), fact.value());
        }
        return facts;
    }

    private static void compare(
            String kind,
            Map<String, String> before,
            Map<String, String> after,
            List<Change> changes,
            boolean expected) {
        Set<String> names = new TreeSet<>(before.keySet());
        names.addAll(after.keySet());
        for (String name : names) {
            String was = before.getOrDefault(name, "");
            String is = after.getOrDefault(name, "");
            boolean goneWithItsPart = expected && is.isEmpty() && name.contains(" ");
            if (!was.equals(is) && !goneWithItsPart) {
                int cut = name.indexOf('\u0000');
                Change.Weight weight =
                        expected && !is.isEmpty() ? Change.Weight.EXPECTED : weightOf(is);
                changes.add(
                        new Change(
                                cut < 0 ? kind : name.substring(0, cut),
                                name.substring(cut + 1),
                                was,
                                is,
                                weight));
            }
        }
    }

    /**
     * Something that is now in a good state is fine however it was; anything else, and anything
     * missing, is for a person.
     */
    private static Change.Weight weightOf(String after) {
        return GOOD.contains(after) ? Change.Weight.FINE : Change.Weight.CAUTION;
    }
}
