package calmstep.service.plans;

import calmstep.core.wave.Wishes;
import calmstep.service.problems.Refusal;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What a person wants otherwise in a plan's nights; what is not given stays as it is.
 *
 * @param pin night by unit
 * @param unpin units that go where they fit again
 * @param exclude units that stay as they are
 * @param include units that are done after all
 * @param siteOrder sites that go before all others
 * @param begins {@code next-window}, {@code now}, or a moment
 * @param asks for which units a person is asked at the gate: {@code each}, {@code pilots}, {@code
 *     nobody}
 */
public record Wanted(
        @Nullable Map<String, LocalDate> pin,
        @Nullable Set<String> unpin,
        @Nullable Set<String> exclude,
        @Nullable Set<String> include,
        @Nullable List<String> siteOrder,
        @Nullable String begins,
        @Nullable String asks,
        @Nullable String whenOdd) {

    /**
     * @throws Refusal when a unit is none of the plan's, or a site is not known
     */
    Wishes on(Wishes before, Set<String> units, Set<String> sites) {
        Map<String, LocalDate> nights = new TreeMap<>(before.nights());
        TreeSet<String> excluded = new TreeSet<>(before.excluded());
        Map<String, LocalDate> pinned = pin == null ? Map.of() : pin;
        mustBeUnits(pinned, units, nights);
        leaveOut(nights, excluded, pinned);
        if (siteOrder != null) {
            mustBe("site", Set.copyOf(siteOrder), sites);
        }
        return new Wishes(
                nights,
                excluded,
                siteOrder == null ? before.siteOrder() : siteOrder,
                asks == null ? before.asks() : asksOf(asks),
                whenOdd == null
                        ? before.whenOdd()
                        : Refusal.reading(() -> Wishes.WhenOdd.parse(whenOdd)));
    }

    private void leaveOut(
            Map<String, LocalDate> nights,
            TreeSet<String> excluded,
            Map<String, LocalDate> pinned) {
        orNone(unpin).forEach(nights::remove);
        excluded.addAll(orNone(exclude));
        orNone(exclude).forEach(nights::remove);
        excluded.removeAll(orNone(include));
        excluded.removeAll(pinned.keySet());
    }

    private void mustBeUnits(
            Map<String, LocalDate> pinned, Set<String> units, Map<String, LocalDate> nights) {
        mustBe("unit of this plan", pinned.keySet(), units);
        pinned.forEach(nights::put);
        for (Set<String> named : List.of(orNone(unpin), orNone(exclude), orNone(include))) {
            mustBe("unit of this plan", named, units);
        }
    }

    private static Wishes.Asks asksOf(String words) {
        return Refusal.reading(() -> Wishes.Asks.parse(words));
    }

    private static Set<String> orNone(@Nullable Set<String> names) {
        return names == null ? Set.of() : names;
    }

    private static void mustBe(String what, Set<String> named, Set<String> known) {
        named.stream()
                .filter(name -> !known.contains(name))
                .sorted()
                .findFirst()
                .ifPresent(
                        name -> {
                            throw Refusal.notFound(what, name);
                        });
    }
}
