package calmstep.core.wave;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.wave.FitsNowhere.Change;
import calmstep.core.wave.FitsNowhere.Reason;
import calmstep.core.window.Limits;
import calmstep.core.window.SiteLink;
import calmstep.core.window.Window;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * Why something stands where it stands, and what would make it fit: one rule at a time on a quay
 * with a window of two hours a night.
 */
class WaveReasonsTest {
    private static final Instant FROM = Instant.parse("2026-11-23T18:00:00Z");
    private static final ZoneId ZONE = ZoneId.of("Europe/Lisbon");
    private static final Duration DAY = Duration.ofDays(1);
    private static final LocalDate FIRST = LocalDate.of(2026, 11, 23);

    /** A fluent setting: sites with a window from 01:00 to 03:00 in each of some nights. */
    private static final class Quay {
        private final List<WaveUnit> units = new ArrayList<>();
        private final Map<String, List<Window>> windows = new HashMap<>();
        private final Map<String, String> kinds = new HashMap<>();
        private final Map<String, SiteLink> links = new HashMap<>();
        private Limits limits = new Limits(9, 9, 9, Map.of(), 0, Duration.ZERO);
        private Wishes wishes = Wishes.NONE;

        Quay site(String name, int nights) {
            windows.put(
                    name,
                    IntStream.range(0, nights)
                            .mapToObj(
                                    n ->
                                            Window.of(
                                                    FROM.plus(Duration.ofHours(7))
                                                            .plus(DAY.multipliedBy(n)),
                                                    FROM.plus(Duration.ofHours(9))
                                                            .plus(DAY.multipliedBy(n)),
                                                    ZONE))
                            .toList());
            kinds.put(name, "quay");
            return this;
        }

        Quay unit(String name, String site, int... minutes) {
            return unit(name, site, Set.of(), Set.of(), Duration.ZERO, 0, minutes);
        }

        Quay unit(
                String name,
                String site,
                Set<String> cutsOff,
                Set<String> mates,
                Duration saved,
                long bytes,
                int... minutes) {
            units.add(
                    new WaveUnit(
                            name,
                            site,
                            "family",
                            "like",
                            IntStream.of(minutes)
                                    .mapToObj(
                                            m ->
                                                    new Chunk(
                                                            "a",
                                                            "b",
                                                            Duration.ofMinutes(m),
                                                            saved,
                                                            bytes))
                                    .toList(),
                            cutsOff,
                            mates));
            return this;
        }

        Quay limits(Limits given) {
            limits = given;
            return this;
        }

        Schedule schedule() {
            WaveTask task =
                    new WaveTask(
                            FROM,
                            FROM.plus(DAY.multipliedBy(10)),
                            units,
                            windows,
                            kinds,
                            links,
                            limits,
                            wishes);
            Schedule schedule = WaveSearch.of(task);
            assertThat(BrokenRules.of(task, schedule)).isEmpty();
            return schedule;
        }
    }

    private static FitsNowhere only(Schedule schedule) {
        assertThat(schedule.nowhere()).hasSize(1);
        return schedule.nowhere().getFirst();
    }

    private static Held why(Schedule schedule, String unit, int part) {
        return schedule.of(unit).get(part - 1).why();
    }

    @Test
    void aPartThatIsLongerThanEveryWindowNamesBothAndWhatBringingImagesAheadWouldSave() {
        FitsNowhere ahead =
                only(
                        new Quay()
                                .site("quay", 3)
                                .unit(
                                        "sw",
                                        "quay",
                                        Set.of(),
                                        Set.of(),
                                        Duration.ofMinutes(40),
                                        0,
                                        150)
                                .schedule());
        assertThat(ahead.reason())
                .isEqualTo(
                        new Reason.WindowsTooShort(
                                Duration.ofMinutes(150), Duration.ofMinutes(120)));
        assertThat(ahead.change()).isEqualTo(new Change.StageAhead(Duration.ofMinutes(40)));
        assertThat(ahead.sentence())
                .contains("needs 150 min")
                .contains("is 120 min")
                .contains("would save 40 min");
        FitsNowhere longer =
                only(
                        new Quay()
                                .site("quay", 3)
                                .unit(
                                        "sw",
                                        "quay",
                                        Set.of(),
                                        Set.of(),
                                        Duration.ofMinutes(20),
                                        0,
                                        30,
                                        150)
                                .schedule());
        assertThat(longer.part()).as("the second part is the one").isEqualTo(2);
        assertThat(longer.change())
                .as("20 min less are still too many")
                .isEqualTo(new Change.LongerWindow(Duration.ofMinutes(150)));
        assertThat(only(new Quay().site("quay", 0).unit("sw", "quay", 30).schedule()).reason())
                .isInstanceOf(Reason.NoWindow.class);
    }

    @Test
    void aLimitThatLeavesNoRoomIsNamedWithOneMore() {
        Quay crowded =
                new Quay()
                        .site("quay", 1)
                        .limits(new Limits(9, 1, 9, Map.of(), 0, Duration.ZERO))
                        .unit("a", "quay", 80)
                        .unit("b", "quay", 80);
        FitsNowhere second = only(crowded.schedule());
        assertThat(second.reason()).isInstanceOf(Reason.NothingFree.class);
        assertThat(second.change()).isEqualTo(new Change.OneMore(new Limit.OfSite("quay", 1)));
        Quay sites =
                new Quay()
                        .site("quay", 1)
                        .site("pier", 1)
                        .limits(new Limits(9, 9, 9, Map.of("quay", 1), 0, Duration.ZERO))
                        .unit("a", "quay", 20)
                        .unit("b", "pier", 20);
        assertThat(only(sites.schedule()).change())
                .isEqualTo(new Change.OneMore(new Limit.SitesANight("quay", 1)));
        Quay soaked =
                new Quay()
                        .site("quay", 1)
                        .limits(new Limits(9, 9, 9, Map.of(), 1, Duration.ofHours(20)))
                        .unit("a", "quay", 20)
                        .unit("b", "quay", 20);
        assertThat(only(soaked.schedule()).change()).isEqualTo(new Change.ShorterSoak());
    }

    @Test
    void aSlowLinkAndAPinnedNightAreReasonsToo() {
        Quay slow =
                new Quay()
                        .site("quay", 2)
                        .unit("rl", "quay", Set.of(), Set.of(), Duration.ZERO, 1_000_000_000, 20);
        slow.links.put("quay", new SiteLink("quay", 1_000));
        assertThat(only(slow.schedule()).reason()).isInstanceOf(Reason.StagedTooLate.class);
        Quay slower =
                new Quay()
                        .site("quay", 4)
                        .unit("rl", "quay", Set.of(), Set.of(), Duration.ZERO, 100_000_000, 20);
        slower.links.put("quay", new SiteLink("quay", 1_000));
        Schedule staged = slower.schedule();
        assertThat(why(staged, "rl", 1)).isInstanceOf(Held.Staging.class);
        assertThat(staged.of("rl").getFirst().night())
                .as("100 MB at 1 kB/s take 28 hours")
                .isEqualTo(FIRST.plusDays(1));
        Quay pinned = new Quay().site("quay", 2).unit("a", "quay", 20);
        pinned.wishes = new Wishes(Map.of("a", FIRST.plusDays(5)), Set.of(), List.of());
        assertThat(only(pinned.schedule()).sentence())
                .contains("does not fit into the night of 2026-11-28")
                .contains("it would fit into the night of 2026-11-23");
        Quay later = new Quay().site("quay", 3).unit("a", "quay", 20);
        later.wishes = new Wishes(Map.of("a", FIRST.plusDays(2)), Set.of(), List.of());
        assertThat(why(later.schedule(), "a", 1)).isEqualTo(new Held.Pinned(FIRST.plusDays(2)));
    }

    @Test
    void eachPlaceSaysWhatKeepsItFromBeingEarlier() {
        Schedule behind =
                new Quay()
                        .site("quay", 1)
                        .unit("near", "quay", Set.of("far"), Set.of(), Duration.ZERO, 0, 20)
                        .unit("far", "quay", 30)
                        .schedule();
        assertThat(why(behind, "far", 1)).isEqualTo(new Held.FirstWindow());
        assertThat(why(behind, "near", 1)).isEqualTo(new Held.FartherFirst("far"));
        Schedule pair =
                new Quay()
                        .site("quay", 1)
                        .unit("one", "quay", Set.of(), Set.of("pair"), Duration.ZERO, 0, 30)
                        .unit("two", "quay", Set.of(), Set.of("pair"), Duration.ZERO, 0, 20)
                        .schedule();
        Placement second = pair.placements().getLast();
        assertThat(second.why()).isEqualTo(new Held.NotBeside(pair.placements().getFirst().unit()));
        Schedule parts = new Quay().site("quay", 1).unit("a", "quay", 20, 20).schedule();
        assertThat(why(parts, "a", 2)).isEqualTo(new Held.AfterOwnPart(1));
        Schedule soaked =
                new Quay()
                        .site("quay", 3)
                        .limits(new Limits(9, 9, 9, Map.of(), 1, Duration.ofHours(20)))
                        .unit("a", "quay", 20)
                        .unit("b", "quay", 20)
                        .schedule();
        assertThat(soaked.placements().getLast().why()).isInstanceOf(Held.AfterPilots.class);
        assertThat(soaked.placements().getFirst().pilot()).isTrue();
        Schedule crowded =
                new Quay()
                        .site("quay", 1)
                        .limits(new Limits(1, 9, 9, Map.of(), 0, Duration.ZERO))
                        .unit("a", "quay", 20)
                        .unit("b", "quay", 20)
                        .schedule();
        assertThat(crowded.placements().getLast().why())
                .isEqualTo(new Held.Full(new Limit.OverAll(1)));
    }

    @Test
    void aSiteThatIsWishedFirstGoesFirst() {
        Quay quay =
                new Quay()
                        .site("alpha", 6)
                        .site("omega", 6)
                        .limits(new Limits(1, 1, 1, Map.of("quay", 1), 0, Duration.ZERO));
        quay.unit("a1", "alpha", 50)
                .unit("a2", "alpha", 50)
                .unit("o1", "omega", 50)
                .unit("o2", "omega", 50);
        quay.wishes = new Wishes(Map.of(), Set.of(), List.of("omega"));
        Schedule schedule = quay.schedule();
        assertThat(schedule.placements().stream().map(Placement::unit).map(u -> u.substring(0, 1)))
                .containsExactly("o", "o", "a", "a");
    }
}
