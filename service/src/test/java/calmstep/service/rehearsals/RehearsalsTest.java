package calmstep.service.rehearsals;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.practice.PracticeFleet;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.jobs.Jobs;
import calmstep.service.plans.Plans;
import calmstep.service.plans.Wanted;
import calmstep.service.problems.Refusal;
import calmstep.service.rehearsals.Outcome.PlayedNight;
import calmstep.service.rehearsals.Outcome.PlayedPart;
import calmstep.service.rehearsals.Outcome.PlayedUnit;
import calmstep.service.releases.Catalogues;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunViews;
import calmstep.service.shelf.Shelf;
import calmstep.service.windows.Windows;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Plans of devices that nobody can reach, played against their stand-ins: real images, real
 * sessions, real copies.
 */
class RehearsalsTest {
    private static final int PACE = 120;

    private final Rehearsals rehearsals = RunningService.bean(Rehearsals.class);
    private final Plans plans = RunningService.bean(Plans.class);
    private final Fleet fleet = RunningService.bean(Fleet.class);
    private final Shelf shelf = RunningService.bean(Shelf.class);
    private final String plan = RunningService.name("plan");

    @BeforeEach
    void imagesLoginAndWindowsAreThere() throws Exception {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
        RunningService.sql().update("delete from shelf_image where sha256 = ''");
        Path top = Path.of("").toAbsolutePath().getParent();
        Path images = top.resolve("build/test-images");
        PracticeFleet.writeImages(top.resolve("demo/practice-fleet.yaml"), images);
        PracticeFleet.writeImages(top.resolve("demo/practice-images.yaml"), images);
        RunningService.bean(Catalogues.class)
                .take(
                        "tarnel-t2.yaml",
                        Files.readString(top.resolve("demo/catalogue/tarnel-t2.yaml")),
                        "test");
        for (String file :
                List.of(
                        "osmer-r6c-2.6.3.img",
                        "osmer-r6c-2.8.2.img",
                        "t2-6.1.2-48.bin",
                        "t2-loader-1.9.bin",
                        "t2-5.6.0-48.bin")) {
            if (!shelf.has(file)) {
                try (InputStream bytes = Files.newInputStream(images.resolve(file))) {
                    shelf.takeIn(file, bytes, "test");
                }
            }
        }
        RunningService.router();
        // One that is about to close would leave no time for what a test plays in it.
        LocalTime opens =
                LocalTime.now(ZoneId.of("Europe/Lisbon"))
                        .truncatedTo(ChronoUnit.MINUTES)
                        .plusHours(3);
        RunningService.bean(Windows.class)
                .take(
                        "windows.yaml",
                        "windows: 1\n"
                                + "open: [{ name: nights, sites: [dunmere], rule: FREQ=DAILY, from:"
                                + " \"%s\", until: \"%s\" }]\n"
                                        .formatted(opens, opens.plusMinutes(195))
                                + "limits: { soak: 20 h, at-once-a-site: 1 }\n",
                        "test");
    }

    @AfterEach
    void windowsAreForgotten() {
        RunningService.sql().update("delete from windows_file");
    }

    private static String router(String release) {
        String name = RunningService.router();
        RunningService.keep(name, RunningService.reading(release));
        return name;
    }

    /** A stack of three members, as it was read. */
    private static String stack(String release, String loader) {
        String name = RunningService.name("sw");
        RunningService.bean(Fleet.class)
                .take(
                        "inventory.yaml",
                        RunningService.inventory(name, "127.77.200." + name.substring(3))
                                .replace(
                                        "osmer-r6, model: R6-4, revision: C",
                                        "tarnel-t2, model: T2-48"),
                        InventoryText.Format.YAML,
                        false,
                        "test");
        String file = "t2-%s-48.bin".formatted(release);
        SortedMap<String, String> runs = new TreeMap<>(Map.of("system", release, "loader", loader));
        List<PartShown> members =
                IntStream.rangeClosed(1, 3)
                        .mapToObj(
                                number ->
                                        new PartShown(
                                                new Part(
                                                        String.valueOf(number),
                                                        Part.Kind.MEMBER,
                                                        "T2-48",
                                                        "TA-" + number,
                                                        runs,
                                                        List.of()),
                                                number == 1 ? PartShown.ACTIVE : PartShown.STANDBY,
                                                PartShown.IN_SYNC,
                                                "17 times"))
                        .toList();
        List<Reading.Volume> volumes =
                members.stream()
                        .map(
                                member ->
                                        new Reading.Volume(
                                                "on " + member.name(),
                                                8_000_000,
                                                6_300_000,
                                                List.of(new Reading.StoredFile(file, 1_700_000)),
                                                member.name()))
                        .toList();
        RunningService.keep(
                name,
                new Reading(
                        Instant.now(),
                        new Reading.Identity(name, "T2-48", "", "TA-1"),
                        runs,
                        new Reading.BootChoice(file, file, "", true),
                        "17 times",
                        volumes,
                        false,
                        "0".repeat(64),
                        List.of(new Reading.Fact("interface", "1/1", "up")),
                        members,
                        new TreeMap<>()));
        return name;
    }

    /**
     * A stack restarts member by member; another one as a whole, and one of its members does not
     * rejoin.
     */
    @Test
    void playsStacksWithTheirMembers() throws Exception {
        String rolls = stack("6.1.0", "1.9");
        String together = stack("5.6.0", "1.9");
        plans.draft(plan, List.of(rolls, together), "6.1.2", "mara");
        Outcome outcome = outcome(play(new AskedFault(together, "does-not-rejoin")));
        assertThat(unit(outcome, rolls).state()).as("%s", said()).isEqualTo("settled");
        PlayedUnit stuck = unit(outcome, together);
        assertThat(stuck.state()).isEqualTo("stuck");
        assertThat(Objects.requireNonNull(stuck.trouble()).expected())
                .isEqualTo("member 3 back in sync with the others");
        assertThat(Objects.requireNonNull(stuck.trouble()).seen())
                .startsWith("member 3: away, after");
        assertThatThrownBy(
                        () ->
                                rehearsals.start(
                                        plan,
                                        PACE,
                                        List.of(new AskedFault(router("2.6.3"), "does-not-rejoin")),
                                        "mara"))
                .hasMessageContaining("means no unit that is played");
    }

    private RehearsalView play(AskedFault... faults) throws InterruptedException {
        RehearsalView begun = rehearsals.start(plan, PACE, List.of(faults), "mara");
        return awaitEnd(begun);
    }

    private RehearsalView awaitEnd(RehearsalView begun) throws InterruptedException {
        return Await.until(
                Duration.ofMinutes(1),
                "the rehearsal is over",
                () -> rehearsals.find(plan, begun.number()),
                now -> !now.state().equals("under-way"));
    }

    private static String said() {
        return RunningService.sql()
                .queryForList("select text from event order by id desc limit 30", String.class)
                .reversed()
                .stream()
                .collect(java.util.stream.Collectors.joining("\n"));
    }

    private static Outcome outcome(RehearsalView view) {
        Outcome outcome = Objects.requireNonNull(view.outcome());
        assertThat(outcome.broken()).isEmpty();
        return outcome;
    }

    private static PlayedUnit unit(Outcome outcome, String device) {
        return outcome.units().stream()
                .filter(u -> u.device().equals(device))
                .findFirst()
                .orElseThrow();
    }

    private static List<PlayedPart> parts(Outcome outcome, String device) {
        return outcome.nights().stream()
                .flatMap(n -> n.parts().stream())
                .filter(p -> p.device().equals(device))
                .toList();
    }

    private List<Integer> traces() {
        return Stream.of("reading", "backup", "record", "lease").map(this::count).toList();
    }

    private int count(String table) {
        return Objects.requireNonNull(
                RunningService.sql()
                        .queryForObject("select count(*) from " + table, Integer.class));
    }

    @Test
    void playsAPlanOverItsNightsAndLeavesNoTraceOnTheFleet() throws Exception {
        String far = router("2.4.0");
        String near = router("2.6.3");
        String there = router("2.8.2");
        plans.draft(plan, List.of(far, near, there), "2.8.2", "mara");
        List<Integer> before = traces();
        int runs =
                RunningService.sql().queryForList("select id from run where not rehearsal").size();

        RehearsalView view = play();

        Outcome outcome = outcome(view);
        assertThat(view.state()).isEqualTo("finished");
        assertThat(outcome.units())
                .as("%s", said())
                .extracting(PlayedUnit::state)
                .containsOnly("settled")
                .hasSize(2);
        assertThat(parts(outcome, far))
                .as("in two parts: it may rest on 2.6.3")
                .extracting(PlayedPart::part)
                .containsExactly(1, 2);
        isPlayedOverItsNights(outcome);
        double dark =
                unit(outcome, near).steps().stream()
                        .filter(s -> s.step().equals("restart") || s.step().equals("come-back"))
                        .mapToDouble(s -> Objects.requireNonNull(s.seconds()))
                        .sum();
        assertThat(dark)
                .as(
                        "by the stand-in's clock, which starts as the forecast's median says: never"
                                + " sooner, and not of another size")
                .isBetween(235.0, 1000.0);
        assertThat(view.planChanged()).isFalse();

        assertThat(traces()).as("readings, backups, records, leases").isEqualTo(before);
        assertThat(RunningService.sql().queryForList("select id from run where not rehearsal"))
                .hasSize(runs);
        assertThat(fleet.require(far).reading().orElseThrow().system()).isEqualTo("2.4.0");
        assertThat(plans.find(plan).state()).isNotEqualTo("used");
        assertThat(RunningService.bean(Settings.class).data().resolve("rehearsals"))
                .isEmptyDirectory();
        RunView run = RunningService.bean(RunViews.class).find(outcome.run());
        assertThat(run.rehearsal()).isTrue();

        plans.wish(
                plan,
                new Wanted(null, null, Set.of(near), null, null, null, null, null),
                true,
                "mara");
        assertThat(rehearsals.find(plan, 1).planChanged())
                .as("what was rehearsed is not what is planned any more")
                .isTrue();
    }

    private static void isPlayedOverItsNights(Outcome outcome) {
        assertThat(outcome.nights()).isNotEmpty().extracting(PlayedNight::begins).isSorted();
        for (PlayedNight night : outcome.nights()) {
            for (PlayedPart part : night.parts()) {
                assertThat(part.playedBegin())
                        .as("one that follows its own may be early, none is before its night")
                        .isAfterOrEqualTo(night.begins());
                Instant begin = Objects.requireNonNull(part.playedBegin());
                assertThat(Duration.between(begin, Objects.requireNonNull(part.playedEnd())))
                        .as("a restart takes four minutes, and a slow machine of ours adds to it")
                        .isGreaterThan(Duration.ofMinutes(4).minusSeconds(5));
            }
        }
    }

    /**
     * As long as nobody said when sites may be disturbed, a plan has no nights; it is played as if
     * it began at once.
     */
    @Test
    void playsAPlanThatHasNoNights() throws Exception {
        windowsAreForgotten();
        String router = router("2.6.3");
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        assertThatThrownBy(() -> plans.nights(plan)).hasMessageContaining("has no nights");
        Outcome outcome = outcome(play());
        assertThat(parts(outcome, router))
                .singleElement()
                .satisfies(
                        part -> {
                            assertThat(part.how()).isIn("in-time", "late");
                            assertThat(Duration.between(part.plannedBegin(), part.plannedEnd()))
                                    .isGreaterThan(Duration.ofMinutes(4));
                            assertThat(part.playedBegin()).isAfterOrEqualTo(part.plannedBegin());
                        });
    }

    @Test
    void showsWhatTheNightWouldDoWhenThingsGoWrong() throws Exception {
        String stops = router("2.6.3");
        String slow = router("2.6.3");
        String good = router("2.6.3");
        plans.draft(plan, List.of(stops, slow, good), "2.8.2", "mara");
        RehearsalView view =
                play(
                        new AskedFault(stops, "stops-in-boot-loader"),
                        new AskedFault(slow, "starts-slowly"),
                        new AskedFault("site:dunmere", "damages-next-copy"));
        Outcome outcome = outcome(view);
        assertThat(view.asked()).hasSize(3);
        PlayedUnit stuck = unit(outcome, stops);
        assertThat(stuck.state()).isEqualTo("stuck");
        assertThat(Objects.requireNonNull(stuck.trouble()).seen()).contains("boot loader");
        assertThat(parts(outcome, stops)).extracting(PlayedPart::how).containsExactly("stuck");
        if (unit(outcome, slow).state().equals("settled")) {
            assertThat(parts(outcome, slow))
                    .extracting(PlayedPart::how)
                    .containsAnyOf("late", "over");
        } else {
            assertThat(unit(outcome, slow).waitsFor())
                    .as("one at a time at this site, and one is stuck")
                    .contains("in work");
        }
        assertThat(unit(outcome, good).steps())
                .as("the damaged copy was fetched anew")
                .anySatisfy(
                        step -> {
                            assertThat(step.step()).isEqualTo("stage");
                            assertThat(step.state()).isEqualTo("done");
                        });
    }

    @Test
    void isEndedBeforeItsTimeByWhoeverEndsItsJob() throws Exception {
        plans.draft(plan, List.of(router("2.4.0")), "2.8.2", "mara");
        RehearsalView begun = rehearsals.start(plan, 1, List.of(), "mara");
        assertThatThrownBy(() -> rehearsals.start(plan, 1, List.of(), "mara"))
                .as("one at a time")
                .hasMessageContaining("being played");
        Await.pass(Duration.ofMillis(1500), "the rehearsal gets under way");
        RunningService.bean(Jobs.class).cancel(begun.job());
        assertThat(awaitEnd(begun).state()).isEqualTo("cancelled");
        assertThat(rehearsals.start(plan, PACE, List.of(), "mara").number()).isEqualTo(2);
        RunningService.bean(Jobs.class).cancel(rehearsals.find(plan, 2).job());
        awaitEnd(rehearsals.find(plan, 2));
        assertThat(rehearsals.of(plan)).extracting(RehearsalView::number).containsExactly(2, 1);
    }

    @Test
    void refusesWhatCannotBePlayedAndSaysWhy() throws Exception {
        String unread = RunningService.router("runs: { system: 2.6.3 }");
        plans.draft(plan, List.of(unread), "2.8.2", "mara");
        assertThatThrownBy(() -> rehearsals.start(plan, PACE, List.of(), "mara"))
                .isInstanceOfSatisfying(
                        Refusal.class,
                        refusal ->
                                assertThat(refusal.details())
                                        .singleElement()
                                        .asString()
                                        .contains(unread, "never read"));
        String second = RunningService.name("plan");
        plans.draft(second, List.of(router("2.6.3")), "2.8.2", "mara");
        assertThatThrownBy(
                        () ->
                                rehearsals.start(
                                        second,
                                        PACE,
                                        List.of(new AskedFault("site:dunmere", "melts")),
                                        "mara"))
                .hasMessageContaining("\"melts\"")
                .hasMessageContaining("stops-in-boot-loader");
        assertThatThrownBy(
                        () ->
                                rehearsals.start(
                                        second,
                                        PACE,
                                        List.of(new AskedFault("rt-nowhere", "slow-link")),
                                        "mara"))
                .hasMessageContaining("rt-nowhere");
        assertThatThrownBy(() -> rehearsals.start(second, 0, List.of(), "mara"))
                .hasMessageContaining("saw 0");
        String third = RunningService.name("plan");
        plans.draft(third, List.of(router("2.4.0")), "2.6.0", "mara");
        assertThatThrownBy(() -> rehearsals.start(third, PACE, List.of(), "mara"))
                .hasMessageContaining("shelf fetch --plan " + third);
    }
}
