package calmstep.core.path;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Guard;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.MovementRule.Way;
import calmstep.core.catalogue.Release;
import calmstep.core.text.RejectedText;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/**
 * The search against an oracle that tries every path, on thousands of random small catalogues with
 * two components, guards of every kind, ways down, software lines and files that bring another
 * component along. The oracle reads the catalogue's records by itself and knows nothing of the
 * search.
 */
@Tag("sweep")
class PathOracleTest {
    private static final VersionScheme SCHEME = VersionScheme.dotted(1);
    private static final Hardware BOARD_B = new Hardware("m", "B", "", "");
    private static final List<Integer> CATALOGUES = Sweep.numbers("catalogues", 1_000, 4_000);

    private record Case(
            Catalogue catalogue,
            SortedMap<String, Version> start,
            Version target,
            boolean entitled) {}

    private static Case random(long seed) {
        SplittableRandom random = new SplittableRandom(seed);
        while (true) {
            try {
                return draw(random);
            } catch (RejectedText contradictory) {
                // Another one is drawn.
            }
        }
    }

    private static Case draw(SplittableRandom random) {
        int releases = 3 + random.nextInt(4);
        StringBuilder text =
                new StringBuilder(
                        """
                        catalogue: 1
                        family: f
                        issued: 2026-01-01
                        components: { system: { fields: 1 }, board: { fields: 1 } }
                        releases:
                        """);
        drawReleases(random, releases, text);
        drawRules(random, releases, text);
        text.append(
                "effects:\n  - { to: '>= %s', restarts: %s, dark: %s s }\n  - { to: any, from: '>= 2', restarts: 1, dark: 3 s }\n"
                        .formatted(
                                1 + random.nextInt(releases),
                                random.nextInt(3),
                                random.nextInt(4)));
        Catalogue catalogue = CatalogueText.read("random", text.toString());
        SortedMap<String, Version> start = new TreeMap<>();
        start.put("system", SCHEME.parse(String.valueOf(1 + random.nextInt(releases))));
        start.put("board", SCHEME.parse(String.valueOf(1 + random.nextInt(3))));
        return new Case(
                catalogue,
                start,
                SCHEME.parse(String.valueOf(1 + random.nextInt(releases))),
                random.nextInt(3) > 0);
    }

    private static void drawReleases(SplittableRandom random, int releases, StringBuilder text) {
        boolean lines = random.nextInt(3) == 0;
        for (int i = 1; i <= releases; i++) {
            String brings =
                    random.nextInt(5) == 0
                            ? ", brings: { board: %s }".formatted(1 + random.nextInt(3))
                            : "";
            String line = lines ? ", line: %s".formatted(i <= releases / 2 ? "quay" : "mole") : "";
            String channel =
                    random.nextInt(8) == 0
                            ? ", channel: withdrawn"
                            : random.nextInt(4) == 0 ? ", channel: early" : "";
            text.append(
                    "  - { version: %s, date: 2025-01-01%s%s%s, images: [{ file: s-%s, size-bytes: %s, sha256: %s }] }\n"
                            .formatted(
                                    i,
                                    brings,
                                    line,
                                    channel,
                                    i,
                                    1 + random.nextInt(3),
                                    "a".repeat(64)));
        }
        for (int i = 1; i <= 3; i++) {
            text.append(
                    "  - { component: board, version: %s, date: 2025-01-01, images: [{ file: b-%s, size-bytes: 1, sha256: %s }] }\n"
                            .formatted(i, i, "b".repeat(64)));
        }
    }

    private static void drawRules(SplittableRandom random, int releases, StringBuilder text) {
        text.append("rules:\n");
        int rules = 1 + random.nextInt(6);
        for (int number = 1; number <= rules; number++) {
            String range = random.nextBoolean() ? "'>= %s'" : "%s";
            String guard =
                    switch (random.nextInt(6)) {
                        case 0, 1 -> "from: '>= %s'".formatted(1 + random.nextInt(releases));
                        case 2 -> "from: '<= %s'".formatted(1 + random.nextInt(releases));
                        case 3 -> "needs: { board: '>= %s' }".formatted(1 + random.nextInt(3));
                        case 4 ->
                                "never-on: { revisions: [%s] }"
                                        .formatted(random.nextBoolean() ? "A" : "B");
                        default -> "entitled: true";
                    };
            String opens =
                    switch (random.nextInt(6)) {
                        case 0 -> ", opens-down: true";
                        case 1 -> ", opens-line: true";
                        case 2 -> ", opens-down: true, opens-line: true";
                        default -> "";
                    };
            text.append(
                    "  - { id: r/%s, to: %s, %s%s, source: n, says: s }\n"
                            .formatted(
                                    number,
                                    range.formatted(1 + random.nextInt(releases)),
                                    guard,
                                    opens));
        }
    }

    /** The identifiers of what bars a move: rules by their own, the rest by a word. */
    private static Set<String> bars(Case c, SortedMap<String, Version> state, Release release) {
        Set<String> bars = new java.util.TreeSet<>();
        Version running = state.get(release.component());
        boolean down = release.version().compareTo(running) < 0;
        String line = c.catalogue().find(release.component(), running).orElseThrow().line();
        boolean cross = !line.equals(release.line());
        if (release.channel() == calmstep.core.catalogue.Channel.WITHDRAWN) {
            bars.add("withdrawn " + release.version());
        }
        List<MovementRule> speaking =
                c.catalogue().rules().stream()
                        .filter(
                                r ->
                                        r.component().equals(release.component())
                                                && r.to().contains(release.version()))
                        .toList();
        speaking.stream()
                .filter(r -> r.opens().isEmpty() && !holds(c, r, state, running))
                .forEach(r -> bars.add(r.id()));
        if (down) {
            addShut(
                    c,
                    Way.DOWN,
                    speaking,
                    state,
                    running,
                    "down %s %s".formatted(running, release.version()),
                    bars);
        }
        if (cross) {
            addShut(c, Way.LINE, speaking, state, running, "line " + release.line(), bars);
        }
        release.brings()
                .forEach(
                        (other, version) -> {
                            if (version.compareTo(state.get(other)) < 0) {
                                bars.add(
                                        "lower %s %s %s"
                                                .formatted(other, state.get(other), version));
                            }
                        });
        return bars;
    }

    private static void addShut(
            Case c,
            Way way,
            List<MovementRule> speaking,
            SortedMap<String, Version> state,
            Version running,
            String otherwise,
            Set<String> bars) {
        List<MovementRule> openers =
                speaking.stream().filter(r -> r.opens().contains(way)).toList();
        if (openers.stream().noneMatch(r -> holds(c, r, state, running))) {
            bars.add(openers.isEmpty() ? otherwise : openers.getFirst().id());
        }
    }

    private static boolean holds(
            Case c, MovementRule rule, SortedMap<String, Version> state, Version running) {
        return switch (rule.guard()) {
            case Guard.From(var range) -> range.contains(running);
            case Guard.Needs(String other, var range) -> range.contains(state.get(other));
            case Guard.NeverOn(var variant) -> !variant.revisions().contains("B");
            case Guard.Entitled() -> c.entitled();
            case Guard.OnlyOn _ -> throw new AssertionError("not drawn");
        };
    }

    private static String name(Obstacle obstacle) {
        return switch (obstacle) {
            case Obstacle.BarredByRule(MovementRule rule, String _) -> rule.id();
            case Obstacle.Withdrawn(Release release) -> "withdrawn " + release.version();
            case Obstacle.WayDownNotDescribed(String from, String to) ->
                    "down %s %s".formatted(from, to);
            case Obstacle.OtherLine(String _, String wanted) -> "line " + wanted;
            case Obstacle.WouldLower(String component, String from, String to) ->
                    "lower %s %s %s".formatted(component, from, to);
            case Obstacle.NoImage _, Obstacle.UnknownRelease _, Obstacle.UnreadableVersion _ ->
                    throw new AssertionError("not drawn: " + obstacle);
        };
    }

    private static List<Long> costOf(Case c, SortedMap<String, Version> state, Release release) {
        for (var effect : c.catalogue().effects()) {
            if (effect.to().contains(release.version())
                    && effect.from().contains(state.get(release.component()))
                    && effect.component().equals(release.component())) {
                return List.of(
                        (long) effect.restarts(),
                        effect.dark().toSeconds(),
                        release.channel().isProven() ? 0L : 1L,
                        release.images().getFirst().sizeBytes());
            }
        }
        return List.of(
                1L,
                300L,
                release.channel().isProven() ? 0L : 1L,
                release.images().getFirst().sizeBytes());
    }

    private static List<Long> plus(List<Long> a, List<Long> b) {
        List<Long> sum = new ArrayList<>();
        for (int i = 0; i < a.size(); i++) {
            sum.add(a.get(i) + b.get(i));
        }
        return sum;
    }

    private static int compare(List<Long> a, List<Long> b) {
        for (int i = 0; i < a.size(); i++) {
            int by = Long.compare(a.get(i), b.get(i));
            if (by != 0) {
                return by;
            }
        }
        return 0;
    }

    /** Releases of the system between here and there, those of the board above what it runs. */
    private static boolean mayComeNext(Case c, SortedMap<String, Version> state, Release release) {
        Version running = state.get(release.component());
        int way = release.version().compareTo(running);
        if (release.component().equals("board")) {
            return way > 0;
        }
        int toTarget = c.target().compareTo(running);
        return Integer.signum(way) == Integer.signum(toTarget)
                && way != 0
                && Integer.signum(c.target().compareTo(release.version()))
                        != -Integer.signum(toTarget);
    }

    private static Optional<List<Long>> cheapest(
            Case c, SortedMap<String, Version> state, Set<String> removed) {
        if (state.get("system").equals(c.target())) {
            return Optional.of(List.of(0L, 0L, 0L, 0L));
        }
        Optional<List<Long>> best = Optional.empty();
        for (Release release : c.catalogue().releases()) {
            if (mayComeNext(c, state, release) && removed.containsAll(bars(c, state, release))) {
                List<Long> own = costOf(c, state, release);
                Optional<List<Long>> whole =
                        cheapest(c, release.appliedTo(state), removed).map(rest -> plus(rest, own));
                if (whole.isPresent() && (best.isEmpty() || compare(whole.get(), best.get()) < 0)) {
                    best = whole;
                }
            }
        }
        return best;
    }

    private static PathAnswer ask(Case c) {
        return PathSearch.answer(
                new Kind(
                        c.catalogue(),
                        BOARD_B,
                        c.entitled(),
                        Preference.FEWEST_RESTARTS,
                        LocalDate.of(2026, 11, 1),
                        0),
                c.start(),
                "system",
                c.target());
    }

    @Test
    void findsACheapestLegalPathExactlyWhenThereIsOneAndEveryReasonIsTrue() {
        int found = 0;
        int refused = 0;
        for (long seed : CATALOGUES) {
            Case c = random(seed);
            Optional<List<Long>> expected = cheapest(c, c.start(), Set.of());
            switch (ask(c)) {
                case PathAnswer.AlreadyThere _ ->
                        assertThat(c.start().get("system")).isEqualTo(c.target());
                case PathAnswer.Found(Path best, List<Path> alternatives) -> {
                    found++;
                    Cost cost = best.cost();
                    assertThat(
                                    List.of(
                                            (long) cost.restarts(),
                                            cost.darkSeconds(),
                                            (long) cost.unproven(),
                                            cost.bytes()))
                            .as("seed %s", seed)
                            .isEqualTo(expected.orElseThrow());
                    checkLegal(c, best, true, seed);
                    alternatives.forEach(path -> checkLegal(c, path, false, seed));
                    assertThat(alternatives)
                            .as("seed %s", seed)
                            .allSatisfy(path -> assertThat(hops(path)).isNotEqualTo(hops(best)));
                }
                case PathAnswer.Refused(List<Obstacle> obstacles, var _) -> {
                    refused++;
                    assertThat(expected).as("seed " + seed).isEmpty();
                    checkSmallest(c, obstacles, seed);
                }
            }
        }
        assertThat(found).isGreaterThan(CATALOGUES.size() / 10);
        assertThat(refused).isGreaterThan(CATALOGUES.size() / 10);
    }

    private static List<String> hops(Path path) {
        return path.hops().stream().map(h -> h.component() + " " + h.to()).toList();
    }

    /**
     * Every hop is allowed, and what would skip it is barred by exactly the rules that are named.
     */
    private static void checkLegal(Case c, Path path, boolean best, long seed) {
        SortedMap<String, Version> state = c.start();
        for (int i = 0; i < path.hops().size(); i++) {
            Hop hop = path.hops().get(i);
            Release release =
                    c.catalogue().find(hop.component(), SCHEME.parse(hop.to())).orElseThrow();
            assertThat(bars(c, state, release)).as("seed %s, %s", seed, hops(path)).isEmpty();
            if (best && i + 1 < path.hops().size()) {
                Set<String> skipping =
                        firstBarsWithout(c, state, path.hops().subList(i + 1, path.hops().size()));
                assertThat(hop.why())
                        .as("seed %s", seed)
                        .extracting(Reason::rule)
                        .filteredOn(r -> r.startsWith("r/"))
                        .containsExactlyInAnyOrderElementsOf(
                                skipping.stream().filter(b -> b.startsWith("r/")).toList());
            }
            state = release.appliedTo(state);
        }
        assertThat(state.get("system")).isEqualTo(c.target());
    }

    private static Set<String> firstBarsWithout(
            Case c, SortedMap<String, Version> before, List<Hop> later) {
        SortedMap<String, Version> state = before;
        for (Hop hop : later) {
            Release release =
                    c.catalogue().find(hop.component(), SCHEME.parse(hop.to())).orElseThrow();
            Set<String> bars = bars(c, state, release);
            if (!bars.isEmpty()) {
                return bars;
            }
            state = release.appliedTo(state);
        }
        throw new AssertionError("A hop that nothing needs: " + later);
    }

    /** Removing what is named opens a path; removing all but one of it does not. */
    private static void checkSmallest(Case c, List<Obstacle> obstacles, long seed) {
        Set<String> named =
                new java.util.TreeSet<>(obstacles.stream().map(PathOracleTest::name).toList());
        assertThat(cheapest(c, c.start(), named))
                .as("seed %s: without %s", seed, named)
                .isPresent();
        for (String one : named) {
            Set<String> others = new java.util.TreeSet<>(named);
            others.remove(one);
            assertThat(cheapest(c, c.start(), others))
                    .as("seed %s: %s alone is not enough", seed, others)
                    .isEmpty();
        }
    }
}
