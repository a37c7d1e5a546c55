package calmstep.core.window;

import calmstep.core.fleet.Site;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
    /** A window that began longer ago than this is over. */
    private static final Duration LOOKED_BACK = Duration.ofDays(2);

    private static final Duration LOOKED_AHEAD = Duration.ofDays(92);

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

    /**
     * Why a site may not be disturbed in a stretch of time, as a sentence; empty where it may be,
     * and as long as nobody said anything about windows at all.
     */
    public Optional<String> whyNot(Site site, Instant begins, Instant ends) {
        if (windows.isEmpty() && freezes.isEmpty()) {
            return Optional.empty();
        }
        return freezesOf(site).stream()
                .filter(freeze -> begins.isBefore(freeze.until().atZone(site.zone()).toInstant()))
                .filter(freeze -> ends.isAfter(freeze.from().atZone(site.zone()).toInstant()))
                .findFirst()
                .map(
                        freeze ->
                                "it lies in the freeze \"%s\" of %s, which lasts until %s %s"
                                        .formatted(
                                                freeze.name(),
                                                site.name(),
                                                freeze.until().toString().replace('T', ' '),
                                                site.zone()))
                .or(() -> whyOutside(site, begins, ends));
    }

    private Optional<String> whyOutside(Site site, Instant begins, Instant ends) {
        List<Window> near =
                of(site, begins.minus(LOOKED_BACK), ends.plus(LOOKED_AHEAD)).stream()
                        .filter(window -> window.closes().isAfter(begins))
                        .toList();
        boolean inside =
                near.stream()
                        .anyMatch(w -> !w.opens().isAfter(begins) && !w.closes().isBefore(ends));
        return inside ? Optional.empty() : Optional.of(outside(site, begins, near));
    }

    private static String outside(Site site, Instant begins, List<Window> near) {
        if (near.isEmpty()) {
            return "%s has no window in the next %s days"
                    .formatted(site.name(), LOOKED_AHEAD.toDays());
        }
        Window next = near.getFirst();
        return next.opens().isAfter(begins)
                ? "%s has no window then; its next one opens at %s"
                        .formatted(site.name(), clock(next.opens(), site))
                : "the window of %s closes at %s, before it would end"
                        .formatted(site.name(), clock(next.closes(), site));
    }

    private static String clock(Instant at, Site site) {
        return "%s %s"
                .formatted(
                        at.atZone(site.zone())
                                .toLocalDateTime()
                                .truncatedTo(ChronoUnit.MINUTES)
                                .toString()
                                .replace('T', ' '),
                        site.zone());
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
