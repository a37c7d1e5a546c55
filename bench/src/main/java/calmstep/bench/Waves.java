package calmstep.bench;

import calmstep.core.fleet.Site;
import calmstep.core.wave.Chunk;
import calmstep.core.wave.Schedule;
import calmstep.core.wave.WaveSearch;
import calmstep.core.wave.WaveTask;
import calmstep.core.wave.WaveUnit;
import calmstep.core.wave.Wishes;
import calmstep.core.window.Days;
import calmstep.core.window.Freeze;
import calmstep.core.window.Limits;
import calmstep.core.window.NightRules;
import calmstep.core.window.Places;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import calmstep.core.window.WindowRule;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;

/** Waves of 10,000 units on 500 sites over a quarter's windows. */
final class Waves {
    private static final Instant FROM = Instant.parse("2026-11-23T18:00:00Z");
    private static final Instant UNTIL = FROM.plus(Duration.ofDays(91));
    private static final int SITES = 500;
    private static final int UNITS_A_SITE = 20;
    private static final Duration AIM = Duration.ofSeconds(3);
    private static final double AIM_DISTANCE = 0.05;
    private static final long AIM_BYTES = 1L << 30;

    private Waves() {}

    static List<Figure> take() {
        Map<String, String> kinds = new HashMap<>();
        List<Site> sites = new ArrayList<>();
        for (int s = 0; s < SITES; s++) {
            sites.add(
                    new Site(
                            String.format(Locale.ROOT, "site-%03d", s),
                            "Site " + s,
                            ZoneId.of(s % 4 == 0 ? "Atlantic/Azores" : "Europe/Lisbon")));
            kinds.put(sites.get(s).name(), s % 10 == 0 ? "office" : "branch");
        }
        NightRules rules = rules(kinds);
        long begun = System.nanoTime();
        Map<String, List<Window>> windows = new HashMap<>();
        sites.forEach(site -> windows.put(site.name(), rules.of(site, FROM, UNTIL)));
        Figure opened = new Figure("waves windows", seconds(begun), "s", 1);
        Map<String, SiteLink> links = new HashMap<>();
        sites.forEach(site -> links.put(site.name(), new SiteLink(site.name(), 400_000L)));
        WaveTask task =
                new WaveTask(
                        FROM,
                        UNTIL,
                        units(),
                        windows,
                        kinds,
                        links,
                        new Limits(160, 3, 60, Map.of("branch", 16), 2, Duration.ofHours(20)),
                        Wishes.NONE);
        System.gc();
        begun = System.nanoTime();
        Schedule schedule = WaveSearch.of(task);
        double took = seconds(begun);
        long used = Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory();
        System.out.printf(
                "  %s parts in %s nights (at least %s), %s units fit nowhere, end %s%n",
                schedule.placements().size(),
                schedule.nights().size(),
                schedule.atLeast().nights(),
                schedule.nowhere().size(),
                schedule.end().orElse(FROM));
        return List.of(
                opened,
                new Figure("waves", took, "s", AIM.toSeconds()),
                new Figure(
                        "waves over the bound", schedule.distance() * 100, "%", AIM_DISTANCE * 100),
                new Figure("waves memory", used / 1e6, "MB", AIM_BYTES / 1e6));
    }

    private static NightRules rules(Map<String, String> kinds) {
        NightRules rules =
                new NightRules(
                        kinds,
                        List.of(
                                new WindowRule(
                                        "nights",
                                        new Places(Set.of(), Set.of("branch")),
                                        Days.Recurring.of("FREQ=DAILY", Optional.empty()),
                                        LocalTime.of(1, 15),
                                        LocalTime.of(4, 30)),
                                new WindowRule(
                                        "weekends",
                                        new Places(Set.of(), Set.of("office")),
                                        Days.Recurring.of(
                                                "FREQ=WEEKLY;BYDAY=SA,SU", Optional.empty()),
                                        LocalTime.of(8, 0),
                                        LocalTime.of(16, 0))),
                        List.of(
                                new Freeze(
                                        "year's end",
                                        Places.ALL,
                                        LocalDateTime.of(2026, 12, 23, 12, 0),
                                        LocalDateTime.of(2027, 1, 3, 12, 0))),
                        Limits.USUAL,
                        Map.of());
        return rules;
    }

    private static double seconds(long since) {
        return (System.nanoTime() - since) / 1e9;
    }

    private static List<WaveUnit> units() {
        Random random = new Random(4);
        List<WaveUnit> units = new ArrayList<>();
        for (int s = 0; s < SITES; s++) {
            Set<String> behind = new TreeSet<>();
            for (int u = 1; u < UNITS_A_SITE; u++) {
                behind.add(name(s, u));
            }
            for (int u = 0; u < UNITS_A_SITE; u++) {
                int family = u == 0 ? 0 : u < 3 ? 1 : 2 + random.nextInt(5);
                List<Chunk> chunks = new ArrayList<>();
                for (int part = 0; part <= (family == 4 ? 1 : 0); part++) {
                    chunks.add(
                            new Chunk(
                                    "r" + part,
                                    "r" + (part + 1),
                                    Duration.ofMinutes(12 + 3L * family + random.nextInt(3) * 5L),
                                    Duration.ZERO,
                                    12_000_000));
                }
                units.add(
                        new WaveUnit(
                                name(s, u),
                                String.format(Locale.ROOT, "site-%03d", s),
                                "family-" + family,
                                "family-%s/%s".formatted(family, random.nextInt(3)),
                                chunks,
                                u == 0 ? behind : Set.of(),
                                family == 1 ? Set.of("pair-" + s) : Set.of()));
            }
        }
        return units;
    }

    private static String name(int site, int unit) {
        return String.format(Locale.ROOT, "u-%03d-%02d", site, unit);
    }
}
