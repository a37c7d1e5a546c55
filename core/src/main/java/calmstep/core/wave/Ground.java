package calmstep.core.wave;

import static calmstep.core.known.Known.known;

import calmstep.core.window.Limits;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * A task in numbers: minutes from its beginning, nights from its first, units by name. Nothing here
 * changes while it is scheduled.
 */
final class Ground {
    static final int NONE = -1;
    private static final int SECONDS = 60;

    /**
     * The open stretches of a site; {@code offsets} say where the minutes of each begin in an array
     * that holds the site's open minutes alone.
     */
    record Openings(
            String site,
            int kind,
            int[] opens,
            int[] closes,
            int[] nights,
            int[] offsets,
            int minutes) {
        int count() {
            return opens.length;
        }

        int longest() {
            return IntStream.range(0, count()).map(w -> closes[w] - opens[w]).max().orElse(0);
        }

        /** The windows of some nights alone. */
        Openings in(IntPredicate some) {
            int[] kept = IntStream.range(0, count()).filter(w -> some.test(nights[w])).toArray();
            return kept.length == count()
                    ? this
                    : new Openings(
                            site,
                            kind,
                            picked(opens, kept),
                            picked(closes, kept),
                            picked(nights, kept),
                            picked(offsets, kept),
                            minutes);
        }

        private static int[] picked(int[] from, int[] kept) {
            return IntStream.of(kept).map(w -> from[w]).toArray();
        }

        /** The first window that closes behind a minute. */
        int firstAfter(int minute) {
            int low = 0;
            int high = count();
            while (low < high) {
                int middle = (low + high) >>> 1;
                if (closes[middle] > minute) {
                    high = middle;
                } else {
                    low = middle + 1;
                }
            }
            return low;
        }
    }

    /**
     * A unit; {@code stages} is how long bringing the images of each part takes over its {@code
     * link}.
     */
    record Work(
            WaveUnit unit,
            int site,
            int link,
            int family,
            int likeness,
            int[] needs,
            int[] stages,
            int pin) {
        int parts() {
            return needs.length;
        }

        int longest() {
            return IntStream.of(needs).max().orElse(0);
        }
    }

    final WaveTask task;
    final Limits limits;

    /** How long others wait behind the pilots, in minutes: a part of one is waited for whole. */
    final int soak;

    final List<Work> works;
    final List<Openings> sites;
    final List<String> kinds;
    final int[] kindMost;
    final int links;
    final int families;
    final int likenesses;

    /**
     * By unit: those that it cuts off, those that cut it off, and its mates in redundancy groups.
     */
    final int[][] farther;

    final int[][] nearer;
    final int[][] mates;
    final int minutes;
    final int nights;
    private final long firstNight;

    Ground(WaveTask task) {
        this.task = task;
        limits = task.limits();
        soak = (int) Math.ceilDiv(limits.soak().toSeconds(), SECONDS);
        minutes = minuteBefore(task.until());
        firstNight =
                task.windows().values().stream()
                        .flatMap(List::stream)
                        .mapToLong(w -> w.night().toEpochDay())
                        .min()
                        .orElse(0);
        nights =
                (int)
                        (task.windows().values().stream()
                                        .flatMap(List::stream)
                                        .mapToLong(w -> w.night().toEpochDay())
                                        .max()
                                        .orElse(-1)
                                - firstNight
                                + 1);
        kinds = List.copyOf(new TreeSet<>(limits.sitesANight().keySet()));
        kindMost = kinds.stream().mapToInt(limits.sitesANight()::get).toArray();
        List<WaveUnit> units = sortedUnits(task);
        Map<String, Integer> siteNumbers = numbered(units.stream().map(WaveUnit::site).toList());
        sites = siteNumbers.keySet().stream().map(this::openings).toList();
        Map<String, Integer> familyNumbers =
                numbered(units.stream().map(WaveUnit::family).toList());
        Map<String, Integer> likenessNumbers =
                numbered(units.stream().map(WaveUnit::likeness).toList());
        Map<String, Integer> linkNumbers =
                numbered(units.stream().map(WaveUnit::site).map(this::linkOf).toList());
        links = linkNumbers.size();
        families = familyNumbers.size();
        likenesses = likenessNumbers.size();
        works =
                units.stream()
                        .map(u -> work(u, siteNumbers, linkNumbers, familyNumbers, likenessNumbers))
                        .toList();
        Map<String, Integer> numbers = new HashMap<>();
        for (int u = 0; u < units.size(); u++) {
            numbers.put(units.get(u).name(), u);
        }
        farther =
                units.stream()
                        .map(
                                u ->
                                        u.cutsOff().stream()
                                                .filter(
                                                        name ->
                                                                numbers.containsKey(name)
                                                                        && !name.equals(u.name()))
                                                .mapToInt(numbers::get)
                                                .toArray())
                        .toArray(int[][]::new);
        nearer = turned(farther);
        mates = mates(units);
    }

    private static List<WaveUnit> sortedUnits(WaveTask task) {
        List<WaveUnit> units =
                task.units().stream()
                        .filter(u -> !task.wishes().excluded().contains(u.name()))
                        .sorted(Comparator.comparing(WaveUnit::name))
                        .toList();
        return units;
    }

    private Work work(
            WaveUnit u,
            Map<String, Integer> siteNumbers,
            Map<String, Integer> linkNumbers,
            Map<String, Integer> familyNumbers,
            Map<String, Integer> likenessNumbers) {
        return new Work(
                u,
                known(siteNumbers, u.site()),
                known(linkNumbers, linkOf(u.site())),
                known(familyNumbers, u.family()),
                known(likenessNumbers, u.likeness()),
                u.chunks().stream().mapToInt(c -> minutesOf(c.needs())).toArray(),
                u.chunks().stream().mapToInt(c -> stageMinutes(u.site(), c.bytes())).toArray(),
                pinOf(u));
    }

    private static Map<String, Integer> numbered(List<String> texts) {
        Map<String, Integer> numbers = new TreeMap<>();
        texts.forEach(text -> numbers.put(text, 0));
        int next = 0;
        for (Map.Entry<String, Integer> entry : numbers.entrySet()) {
            entry.setValue(next++);
        }
        return numbers;
    }

    private Openings openings(String site) {
        List<int[]> kept = kept(site);
        int[] offsets = new int[kept.size()];
        int open = 0;
        for (int w = 0; w < offsets.length; w++) {
            offsets[w] = open;
            open += kept.get(w)[1] - kept.get(w)[0];
        }
        return new Openings(
                site,
                kinds.indexOf(task.kindOf().getOrDefault(site, "")),
                column(kept, 0),
                column(kept, 1),
                column(kept, 2),
                offsets,
                open);
    }

    private List<int[]> kept(String site) {
        List<int[]> kept = new ArrayList<>();
        for (Window window : task.windows().getOrDefault(site, List.of())) {
            int opens = Math.max(0, minuteAfter(window.opens()));
            int closes = Math.min(minutes, minuteBefore(window.closes()));
            if (opens < closes) {
                kept.add(
                        new int[] {
                            opens, closes, (int) (window.night().toEpochDay() - firstNight)
                        });
            }
        }
        return kept;
    }

    private static int[] column(List<int[]> rows, int column) {
        return rows.stream().mapToInt(row -> row[column]).toArray();
    }

    /**
     * The night that a unit is pinned to; one behind the last where that night is none of the
     * task's.
     */
    private int pinOf(WaveUnit unit) {
        LocalDate night = task.wishes().nights().get(unit.name());
        if (night == null) {
            return NONE;
        }
        long number = night.toEpochDay() - firstNight;
        return number < 0 || number >= nights ? nights : (int) number;
    }

    private static int[][] turned(int[][] edges) {
        List<List<Integer>> back = new ArrayList<>();
        IntStream.range(0, edges.length).forEach(_ -> back.add(new ArrayList<>()));
        for (int u = 0; u < edges.length; u++) {
            for (int v : edges[u]) {
                back.get(v).add(u);
            }
        }
        return back.stream()
                .map(list -> list.stream().mapToInt(Integer::intValue).toArray())
                .toArray(int[][]::new);
    }

    private static int[][] mates(List<WaveUnit> units) {
        Map<String, List<Integer>> groups = new TreeMap<>();
        for (int u = 0; u < units.size(); u++) {
            for (String group : units.get(u).mates()) {
                groups.computeIfAbsent(group, _ -> new ArrayList<>()).add(u);
            }
        }
        return IntStream.range(0, units.size())
                .mapToObj(
                        u ->
                                units.get(u).mates().stream()
                                        .flatMap(group -> known(groups, group).stream())
                                        .mapToInt(Integer::intValue)
                                        .filter(v -> v != u)
                                        .distinct()
                                        .toArray())
                .toArray(int[][]::new);
    }

    private String linkOf(String site) {
        return Optional.ofNullable(task.links().get(site)).map(SiteLink::name).orElse(site);
    }

    private static int minutesOf(Duration duration) {
        return (int) Math.max(1, Math.ceilDiv(duration.toSeconds(), SECONDS));
    }

    private int stageMinutes(String site, long bytes) {
        long rate =
                Optional.ofNullable(task.links().get(site))
                        .map(SiteLink::bytesPerSecond)
                        .orElse(0L);
        return rate <= 0 || bytes <= 0
                ? 0
                : (int)
                        Math.min(
                                Integer.MAX_VALUE / 4,
                                Math.ceilDiv(Math.ceilDiv(bytes, rate), SECONDS));
    }

    int minuteAfter(Instant at) {
        return (int) Math.ceilDiv(Duration.between(task.from(), at).toSeconds(), SECONDS);
    }

    private int minuteBefore(Instant at) {
        return (int) Math.floorDiv(Duration.between(task.from(), at).toSeconds(), SECONDS);
    }

    Instant instantOf(int minute) {
        return task.from().plusSeconds((long) minute * SECONDS);
    }

    LocalDate nightOf(int night) {
        return LocalDate.ofEpochDay(firstNight + night);
    }

    int parts() {
        return works.stream().mapToInt(Work::parts).sum();
    }
}
