package calmstep.core.window;

import java.util.Collections;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/** The sites that a rule speaks of: by name, by kind, or all where neither is given. */
public record Places(Set<String> sites, Set<String> kinds) {
    public static final Places ALL = new Places(Set.of(), Set.of());

    public Places {
        sites = Collections.unmodifiableSet(new TreeSet<>(sites));
        kinds = Collections.unmodifiableSet(new TreeSet<>(kinds));
    }

    /**
     * @param kindOf kind by site
     */
    public boolean hold(String site, Map<String, String> kindOf) {
        return (sites.isEmpty() && kinds.isEmpty())
                || sites.contains(site)
                || (kindOf.containsKey(site) && kinds.contains(kindOf.get(site)));
    }
}
