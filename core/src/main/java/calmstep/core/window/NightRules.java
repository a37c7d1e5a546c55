package calmstep.core.window;

import calmstep.core.fleet.Site;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * When sites may be disturbed, and how much at once.
 *
 * @param kindOf kind by site, such as terminal or vessel
 * @param links by site; no entry where nobody limits the transfers to it
 */
public record NightRules(
        Map<String, String> kindOf,
        List<WindowRule> windows,
        List<Freeze> freezes,
        Limits limits,
        Map<String, SiteLink> links) {
    /** Nothing said: no site has a window. */
    public static final NightRules NONE =
            new NightRules(Map.of(), List.of(), List.of(), Limits.USUAL, Map.of());

    public NightRules {
        kindOf = Collections.unmodifiableMap(new TreeMap<>(kindOf));
        windows = List.copyOf(windows);
        freezes = List.copyOf(freezes);
        links = Collections.unmodifiableMap(new TreeMap<>(links));
    }

    /** The site's open stretches between two instants, in order, none touching another. */
    public List<Window> of(Site site, Instant from, Instant until) {
        LocalDate first = from.atZone(site.zone()).toLocalDate().minusDays(1);
        LocalDate last = until.atZone(site.zone()).toLocalDate();
        List<Window> open =
                joined(
                        windows.stream()
                                .filter(rule -> rule.places().hold(site.name(), kindOf))
                                .flatMap(
                                        rule ->
                                                rule.days().between(first, last).stream()
                                                        .flatMap(
                                                                day ->
                                                                        rule
                                                                                .on(
                                                                                        day,
                                                                                        site.zone())
                                                                                .stream()))
                                .toList());
        for (Freeze freeze : freezesOf(site)) {
            Instant frozen = freeze.from().atZone(site.zone()).toInstant();
            Instant thawed = freeze.until().atZone(site.zone()).toInstant();
            open =
                    open.stream()
                            .flatMap(window -> without(window, frozen, thawed).stream())
                            .toList();
        }
        return open.stream()
                .flatMap(window -> without(window, Instant.MIN, from).stream())
                .flatMap(window -> without(window, until, Instant.MAX).stream())
                .toList();
    }

    public List<Freeze> freezesOf(Site site) {
        return freezes.stream()
                .filter(freeze -> freeze.places().hold(site.name(), kindOf))
                .toList();
    }

    private static List<Window> joined(List<Window> windows) {
        List<Window> joined = new ArrayList<>();
        for (Window window :
                windows.stream().sorted(Comparator.comparing(Window::opens)).toList()) {
            if (!joined.isEmpty() && !window.opens().isAfter(joined.getLast().closes())) {
                Window before = joined.removeLast();
                Instant closes = Collections.max(List.of(window.closes(), before.closes()));
                joined.add(new Window(before.opens(), closes, before.night()));
            } else {
                joined.add(window);
            }
        }
        return joined;
    }

    private static List<Window> without(Window window, Instant from, Instant until) {
        if (!from.isBefore(window.closes()) || !until.isAfter(window.opens())) {
            return List.of(window);
        }
        List<Window> left = new ArrayList<>();
        if (window.opens().isBefore(from)) {
            left.add(new Window(window.opens(), from, window.night()));
        }
        if (until.isBefore(window.closes())) {
            left.add(new Window(until, window.closes(), window.night()));
        }
        return left;
    }
}
