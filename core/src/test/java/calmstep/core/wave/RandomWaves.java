package calmstep.core.wave;

import calmstep.core.window.Limits;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;

/**
 * Tasks by chance: sites in two zones with windows over midnight, units of one to three parts,
 * single points, redundancy groups, slow links.
 */
final class RandomWaves {
    static final Instant FROM = Instant.parse("2026-11-23T18:00:00Z");
    private static final List<ZoneId> ZONES =
            List.of(ZoneId.of("Europe/Lisbon"), ZoneId.of("Atlantic/Azores"));

    private final Random random;
    private final int units;
    private final int sites;
    private final int nights;

    private RandomWaves(long seed, int units, int sites, int nights) {
        random = new Random(seed);
        this.units = units;
        this.sites = sites;
        this.nights = nights;
    }

    static WaveTask task(long seed, int units, int sites, int nights) {
        return new RandomWaves(seed, units, sites, nights).task();
    }

    private WaveTask task() {
        Map<String, List<Window>> windows = new HashMap<>();
        Map<String, String> kinds = new HashMap<>();
        Map<String, SiteLink> links = new HashMap<>();
        Random ofLinks = new Random(31L * units + sites);
        long shared = 4_000L + ofLinks.nextInt(20_000);
        for (int s = 0; s < sites; s++) {
            windows.put("s" + s, windows(ZONES.get(random.nextInt(2))));
            kinds.put("s" + s, random.nextBoolean() ? "terminal" : "vessel");
            if (random.nextInt(3) == 0) {
                long own = 4_000L + random.nextInt(20_000);
                links.put(
                        "s" + s,
                        ofLinks.nextBoolean()
                                ? new SiteLink("air", shared)
                                : new SiteLink("s" + s, own));
            }
        }
        List<WaveUnit> all = new ArrayList<>();
        for (int u = 0; u < units; u++) {
            all.add(unit(u));
        }
        Limits limits =
                new Limits(
                        2 + random.nextInt(Math.max(2, units / 3)),
                        1 + random.nextInt(3),
                        2 + random.nextInt(Math.max(2, units / 4)),
                        random.nextBoolean()
                                ? Map.of()
                                : Map.of("terminal", 1 + random.nextInt(sites)),
                        random.nextInt(3),
                        Duration.ofHours(random.nextInt(26)).plusSeconds(20L * (units % 4)));
        return new WaveTask(
                FROM,
                FROM.plus(Duration.ofDays(nights)),
                all,
                windows,
                kinds,
                links,
                limits,
                Wishes.NONE);
    }

    private List<Window> windows(ZoneId zone) {
        int from = random.nextInt(8);
        int length = 90 + 15 * random.nextInt(12);
        int every = 1 + random.nextInt(2);
        List<Window> open = new ArrayList<>();
        for (int night = random.nextInt(2); night < nights; night += every) {
            Instant opens = FROM.plus(Duration.ofDays(night)).plus(Duration.ofHours(3 + from));
            open.add(Window.of(opens, opens.plus(Duration.ofMinutes(length)), zone));
        }
        return open;
    }

    private WaveUnit unit(int u) {
        List<Chunk> chunks = new ArrayList<>();
        int likeness = random.nextInt(Math.max(2, units / 4));
        // Units of one likeness go the same path: as many parts, but not as long ones.
        int parts = 1 + (likeness % 4 == 0 ? 1 : 0) + (likeness % 12 == 0 ? 1 : 0);
        for (int part = 0; part < parts; part++) {
            chunks.add(
                    new Chunk(
                            "r" + part,
                            "r" + (part + 1),
                            Duration.ofMinutes(15 + 5 * random.nextInt(14)),
                            Duration.ZERO,
                            random.nextInt(2) * 1_000_000L * random.nextInt(12)));
        }
        Set<String> behind = new TreeSet<>();
        // Only what comes later can lie behind: no unit cuts itself off by a detour.
        for (int i = 0; u % 7 == 3 && i < 3 && u + 1 < units; i++) {
            behind.add("u" + (u + 1 + random.nextInt(units - u - 1)));
        }
        Set<String> mates =
                u % 5 == 1 ? Set.of("g" + random.nextInt(Math.max(1, units / 6))) : Set.of();
        return new WaveUnit(
                "u" + u,
                "s" + random.nextInt(sites),
                "f" + random.nextInt(3),
                "l" + likeness,
                chunks,
                behind,
                mates);
    }
}
