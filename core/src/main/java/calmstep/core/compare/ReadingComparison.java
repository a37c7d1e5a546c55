package calmstep.core.compare;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** Compares what a device showed before a change with what it shows after. */
public final class ReadingComparison {
    private static final Set<String> GOOD = Set.of("up", "ok", "valid", "in sync", "present", "none");

    private ReadingComparison() {}

    /** The differences, ordered by kind and name; empty when nothing differs. */
    public static List<Change> of(Reading before, Reading after) {
        List<Change> changes = new ArrayList<>();
        compare("release", before.components(), after.components(), changes, true);
        compare("fact", factsOf(before), factsOf(after), changes, false);
        return changes;
    }

    private static Map<String, String> factsOf(Reading reading) {
        Map<String, String> facts = new TreeMap<>();
        for (Fact fact : reading.facts()) {
            facts.put(fact.kind() + "\u0000" + fact.name(), fact.value());
        }
        return facts;
    }

    private static void compare(String kind, Map<String, String> before, Map<String, String> after, List<Change> changes,
            boolean expected) {
        Set<String> names = new TreeSet<>(before.keySet());
        names.addAll(after.keySet());
        for (String name : names) {
            String was = before.getOrDefault(name, "");
            String is = after.getOrDefault(name, "");
            if (!was.equals(is)) {
                int cut = name.indexOf('\u0000');
                Change.Weight weight = expected && !is.isEmpty() ? Change.Weight.EXPECTED : weightOf(is);
                changes.add(new Change(cut < 0 ? kind : name.substring(0, cut), name.substring(cut + 1), was, is, weight));
            }
        }
    }

    /** Something that is now in a good state is fine however it was; anything else, and anything missing, is for a person. */
    private static Change.Weight weightOf(String after) {
        return GOOD.contains(after) ? Change.Weight.FINE : Change.Weight.CAUTION;
    }
}
