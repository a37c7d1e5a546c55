package calmstep.core.step;

import calmstep.core.window.Limits;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * What a unit is beside others: who may be in work while it is.
 *
 * @param notWith what it cuts off, what cuts it off, and what stands in for it
 */
public record Neighbours(String unit, String site, String family, Set<String> notWith) {
    public Neighbours {
        notWith = Collections.unmodifiableSet(new TreeSet<>(notWith));
    }

    /**
     * Why it has to wait although its turn has come: the plan keeps these rules in its nights, and whoever is late must not break them.
     *
     * @param inWork units that are in work now
     * @return empty when it may begin
     */
    public Optional<String> whyNotNow(Collection<Neighbours> inWork, Limits limits) {
        List<Neighbours> others = inWork.stream().filter(other -> !other.unit.equals(unit)).toList();
        Optional<String> mate = others.stream().filter(other -> notWith.contains(other.unit) || other.notWith.contains(unit)).findFirst()
                .map(other -> "%s is in work; the two are never in work together".formatted(other.unit));
        return mate.or(() -> full(others.size(), limits.atOnce(), " over all"))
                .or(() -> full(others.stream().filter(other -> other.site.equals(site)).count(), limits.perSite(), " at " + site))
                .or(() -> full(others.stream().filter(other -> other.family.equals(family)).count(), limits.perFamily(), " of " + family));
    }

    private static Optional<String> full(long inWork, int limit, String where) {
        return inWork < limit ? Optional.empty() : Optional.of("%d %s in work, and no more than %d may be at once".formatted(inWork, inWork == 1 ? "unit is" : "units are", limit) + where);
    }
}
