package calmstep.core.wave;

import calmstep.core.fleet.Site;
import calmstep.core.window.Days;
import calmstep.core.window.Freeze;
import calmstep.core.window.Limits;
import calmstep.core.window.NightRules;
import calmstep.core.window.Places;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import calmstep.core.window.WindowRule;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.IntStream;

/**
 * Small plans by chance, a quarter long: two to eight units at sites with windows of any kind, from
 * open at any time to once a month, and a freeze now and then.
 */
final class QuarterWaves {
    private static final List<ZoneId> ZONES =
            List.of(ZoneId.of("Europe/Lisbon"), ZoneId.of("Atlantic/Azores"), ZoneOffset.UTC);
    private static final int DAYS = 92;

    private final Random random;
    private final Instant from;
    private final int units;

    private QuarterWaves(long seed) {
        random = new Random(seed);
        units = 2 + random.nextInt(7);
        from =
                LocalDate.of(2026, 11, 2)
                        .plusDays(random.nextInt(300))
                        .atTime(random.nextInt(24), 15 * random.nextInt(4))
                        .toInstant(ZoneOffset.UTC);
    }

    static WaveTask task(long seed) {
        return new QuarterWaves(seed).task();
    }

    private WaveTask task() {
        int sites = 1 + random.nextInt(4);
        Map<String, List<Window>> windows = new HashMap<>();
        Map<String, String> kinds = new HashMap<>();
        Map<String, SiteLink> links = new HashMap<>();
        for (int s = 0; s < sites; s++) {
            String site = "s" + s;
            kinds.put(site, random.nextBoolean() ? "terminal" : "vessel");
            windows.put(site, windows(site));
            if (random.nextInt(4) == 0) {
                links.put(site, new SiteLink(site, 4_000L + random.nextInt(20_000)));
            }
        }
        Limits limits =
                new Limits(
                        1 + random.nextInt(4),
                        1 + random.nextInt(3),
                        1 + random.nextInt(4),
                        random.nextInt(3) > 0
                                ? Map.of()
                                : Map.of("terminal", 1 + random.nextInt(sites)),
                        random.nextInt(3),
                        Duration.ofHours(random.nextInt(4) * (long) random.nextInt(26)));
        return new WaveTask(
                from,
                from.plus(Duration.ofDays(DAYS)),
                IntStream.range(0, units).mapToObj(u -> unit(u, sites)).toList(),
                windows,
                kinds,
                links,
                limits,
                Wishes.NONE);
    }

    private List<Window> windows(String site) {
        ZoneId zone = ZONES.get(random.nextInt(ZONES.size()));
        LocalDate since = from.atZone(zone).toLocalDate();
        List<WindowRule> rules = new ArrayList<>();
        for (int rule = 0; rule <= random.nextInt(2); rule++) {
            LocalTime opens = LocalTime.of(random.nextInt(24), 15 * random.nextInt(4));
            rules.add(
                    new WindowRule(
                            "r" + rule,
                            Places.ALL,
                            Days.Recurring.of(rule(), Optional.of(since)),
                            opens,
                            opens.plusMinutes(90 + 15 * random.nextInt(22))));
        }
        List<Freeze> freezes =
                random.nextInt(3) > 0
                        ? List.of()
                        : List.of(freeze(since.plusDays(random.nextInt(DAYS)).atStartOfDay()));
        return new NightRules(Map.of(), rules, freezes, Limits.USUAL, Map.of())
                .of(new Site(site, site, zone), from, from.plus(Duration.ofDays(DAYS)));
    }

    private Freeze freeze(LocalDateTime begin) {
        return new Freeze("f", Places.ALL, begin, begin.plusDays(1 + random.nextInt(20)));
    }

    private String rule() {
        String day = DayOfWeek.of(1 + random.nextInt(7)).name().substring(0, 2);
        return switch (random.nextInt(8)) {
            case 0, 1, 2 -> "FREQ=DAILY";
            case 3 -> "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH";
            case 4 -> "FREQ=WEEKLY;BYDAY=" + day;
            case 5 -> "FREQ=WEEKLY;INTERVAL=2;BYDAY=" + day;
            case 6 -> "FREQ=WEEKLY;BYDAY=SA,SU";
            default -> "FREQ=MONTHLY;BYDAY=1" + day;
        };
    }

    private WaveUnit unit(int number, int sites) {
        int likeness = random.nextInt(Math.max(1, units / 2));
        int parts = 1 + (likeness % 3 == 1 ? 1 : 0);
        List<Chunk> chunks =
                IntStream.range(0, parts)
                        .mapToObj(
                                part ->
                                        new Chunk(
                                                "r" + part,
                                                "r" + (part + 1),
                                                Duration.ofMinutes(15 + 5 * random.nextInt(14)),
                                                Duration.ZERO,
                                                random.nextInt(2)
                                                        * 1_000_000L
                                                        * random.nextInt(40)))
                        .toList();
        Set<String> behind = new TreeSet<>();
        if (random.nextInt(4) == 0 && number + 1 < units) {
            behind.add("u" + (number + 1 + random.nextInt(units - number - 1)));
        }
        return new WaveUnit(
                "u" + number,
                "s" + random.nextInt(sites),
                "f" + random.nextInt(2),
                "l" + likeness,
                chunks,
                behind,
                random.nextInt(3) == 0 ? Set.of("g" + random.nextInt(2)) : Set.of());
    }
}
