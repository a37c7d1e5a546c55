package calmstep.core.plan;

import calmstep.core.reach.Network;
import calmstep.core.wave.Placement;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Units that a night has in work at one time and that together cut off somebody, although no two of
 * them do: two are kept apart by the schedule, but what more of them do depends on who else is in
 * work.
 *
 * @param unit one of them
 * @param beside the others, as few as it takes
 * @param cutOff who would lose every way to a root
 */
public record Together(String unit, List<String> beside, List<String> cutOff) {
    public Together {
        beside = List.copyOf(beside);
        cutOff = List.copyOf(cutOff);
    }

    /** Looked for where a part begins: from then on there are only fewer. */
    static List<Together> of(List<Placement> placements, Network network) {
        Map<Set<String>, Together> all = new LinkedHashMap<>();
        List<Placement> underWay = new ArrayList<>();
        for (Placement begun :
                placements.stream().sorted(Comparator.comparing(Placement::begins)).toList()) {
            underWay.removeIf(other -> !other.ends().isAfter(begun.begins()));
            underWay.add(begun);
            Set<String> inWork =
                    underWay.stream()
                            .map(Placement::unit)
                            .collect(Collectors.toCollection(TreeSet::new));
            if (!network.cutOffTogether(inWork).isEmpty()) {
                Set<String> least = least(inWork, network);
                all.computeIfAbsent(least, some -> told(new ArrayList<>(some), network));
            }
        }
        return List.copyOf(all.values());
    }

    private static Together told(List<String> units, Network network) {
        return new Together(
                units.getFirst(),
                units.subList(1, units.size()),
                List.copyOf(network.cutOffTogether(Set.copyOf(units))));
    }

    private static Set<String> least(Set<String> inWork, Network network) {
        Set<String> needed = new TreeSet<>(inWork);
        for (String one : inWork) {
            needed.remove(one);
            if (network.cutOffTogether(needed).isEmpty()) {
                needed.add(one);
            }
        }
        return needed;
    }
}
