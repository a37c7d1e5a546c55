package calmstep.core.step;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Reading;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

/**
 * The step machine and the steps, played against a device in memory, with crashes wherever a
 * journal can be cut off.
 */
class StepsTest {
    private static final Instant START = Instant.parse("2026-11-23T02:00:00Z");
    private static final UnitMachine.Leave AT_ONCE = new UnitMachine.Leave(true, List.of(), 0);
    private static final String DIGEST = "c".repeat(64);

    private static FirmwareImage image(int release) {
        return new FirmwareImage(
                "v%d.img".formatted(release), 100, DIGEST, Purpose.UPGRADE, Variant.ANY);
    }

    static UnitPlan plan() {
        List<HopPlan> hops = new ArrayList<>();
        for (int ordinal = 1; ordinal <= 2; ordinal++) {
            Hop hop =
                    new Hop(
                            "system",
                            String.valueOf(ordinal - 1),
                            String.valueOf(ordinal),
                            List.of(image(ordinal)),
                            List.of(),
                            List.of(),
                            1,
                            Duration.ofMinutes(4),
                            Effect.Configuration.KEPT,
                            true,
                            List.of(),
                            List.of());
            hops.add(new HopPlan(ordinal, hop, UnitPlan.stepsOf(hop, ordinal == 2, false)));
        }
        return new UnitPlan(
                "rt",
                "site",
                "192.0.2.1",
                Optional.of(START),
                "S1",
                Digests.sha256("settings"),
                false,
                "the quay",
                Duration.ofMinutes(20),
                10,
                UnitPlan.Supply.SHELF,
                Set.of("v0.img", "v1.img", "v2.img"),
                hops);
    }

    /**
     * Plays a plan to its end, as the service does; after each number of journal writes in {@code
     * crashes} the driver is gone and another looks at the rows.
     */
    private static final class Night {
        final DeviceInMemory device = new DeviceInMemory(DIGEST);
        final List<StepRecord> rows = new ArrayList<>(UnitMachine.start(plan()));
        final java.util.Map<Integer, Intent> intents = new java.util.HashMap<>();
        final List<String> told = new ArrayList<>();
        final List<Reading> checks = new ArrayList<>();
        Instant now = START;
        int writesUntilCrash = Integer.MAX_VALUE;
        Around around = Around.NOTHING;
        boolean doubtful;
        Optional<String> serial = Optional.empty();

        static final class Crash extends RuntimeException {}

        UnitState play(int rounds) {
            for (int round = 0; round < rounds; round++) {
                now = now.plusSeconds(1);
                device.now = now;
                switch (UnitMachine.next(
                        plan(), rows, new UnitMachine.Leave(true, List.of(), 0, doubtful), START)) {
                    case Next.Carry(StepRecord record) -> carry(record);
                    case Next.Settled() -> {
                        return UnitMachine.stateOf(rows);
                    }
                    case Next.Stuck _ -> {
                        return UnitState.STUCK;
                    }
                    case Next.AtGate _ -> throw new AssertionError("the gate is open");
                    case Next.Doubtful _ -> {
                        return UnitMachine.stateOf(rows);
                    }
                    case Next.Begin _, Next.NotYet _, Next.Missed _ ->
                            throw new AssertionError("it has no turns");
                }
            }
            throw new AssertionError("not over after %d rounds: %s".formatted(rounds, told));
        }

        void rows(List<StepRecord> others) {
            rows.clear();
            rows.addAll(others);
        }

        /** Some steps, with crashes among them. */
        void crash(List<Integer> crashes) {
            for (int writes : crashes) {
                writesUntilCrash = writes;
                for (int round = 0;
                        round < 8
                                && UnitMachine.next(plan(), rows, AT_ONCE, START)
                                        instanceof Next.Carry(StepRecord record);
                        round++) {
                    now = now.plusSeconds(1);
                    device.now = now;
                    carry(record);
                }
            }
            writesUntilCrash = Integer.MAX_VALUE;
        }

        private void carry(StepRecord record) {
            int index = rows.indexOf(record);
            int hop = record.hop();
            int restart = index(hop, StepName.RESTART);
            Optional<FirmwareImage> loads =
                    Optional.of(record)
                            .filter(one -> one.name() == StepName.RESCUE)
                            .map(_ -> plan().hop(hop).hop().image());
            // What the hop's check saw: the device ran what it ran before.
            Optional<Reading> before =
                    record.name() == StepName.CHECK
                            ? Optional.empty()
                            : checks.stream().reduce((_, last) -> last);
            UnitPlan.HopPlan hopPlan =
                    UnitMachine.isBackwards(rows, record)
                            ? plan().hop(hop).back(List.of(image(hop - 1)))
                            : plan().hop(hop);
            Scene scene =
                    new Scene(
                            plan().replacedBy(serial),
                            hopPlan,
                            device,
                            Optional.empty(),
                            device.backups,
                            new ShelfInMind(),
                            Optional.ofNullable(intents.get(index)),
                            Optional.ofNullable(intents.get(restart)),
                            before,
                            loads,
                            now,
                            1,
                            around,
                            (one, other) -> ConfigurationComparison.of(one, other, List.of()));
            try {
                StepOutcome outcome =
                        new StepRunner(Clock.fixed(now, ZoneOffset.UTC))
                                .carry(record.name(), scene, journal(index));
                write();
                finish(index, outcome);
            } catch (Crash gone) {
                writesUntilCrash = Integer.MAX_VALUE;
            }
        }

        private int index(int hop, StepName name) {
            for (int i = rows.size() - 1; i >= 0; i--) {
                if (rows.get(i).hop() == hop && rows.get(i).name() == name) {
                    return i;
                }
            }
            throw new AssertionError(name);
        }

        private void finish(int index, StepOutcome outcome) {
            StepRecord row = rows.get(index);
            told.add(row.hop() + " " + row.name() + " " + outcome);
            switch (outcome) {
                case StepOutcome.Done(String _, String _, Evidence evidence) -> {
                    rows.set(index, row.with(StepState.DONE));
                    evidence.reading()
                            .filter(_ -> row.name() == StepName.CHECK)
                            .ifPresent(checks::add);
                }
                case StepOutcome.NotNeeded _ -> rows.set(index, row.with(StepState.NOT_NEEDED));
                case StepOutcome.Waiting _ -> rows.set(index, row.with(StepState.LOOKING));
                case StepOutcome.Failed(var _, Hope hope) -> {
                    List<StepRecord> after =
                            UnitMachine.afterFailure(rows, row, hope, plan().giveUpAfter());
                    rows.clear();
                    rows.addAll(after);
                }
            }
        }

        private void write() {
            if (--writesUntilCrash < 0) {
                throw new Crash();
            }
        }

        private Journal journal(int index) {
            return new Journal() {
                @Override
                public void looking() {
                    write();
                    StepRecord row = rows.get(index);
                    rows.set(
                            index,
                            new StepRecord(
                                    row.hop(),
                                    row.detour(),
                                    row.name(),
                                    StepState.LOOKING,
                                    row.state() == StepState.LOOKING
                                            ? row.attempts()
                                            : row.attempts() + 1));
                }

                @Override
                public void acting(Intent intent, String expected, String seen) {
                    write();
                    rows.set(index, rows.get(index).with(StepState.ACTING));
                    intents.put(index, intent);
                }

                @Override
                public void proving() {
                    write();
                    rows.set(index, rows.get(index).with(StepState.PROVING));
                }
            };
        }
    }

    @Test
    void takesAUnitOverTwoHopsToTheWantedRelease() {
        Night night = new Night();
        assertThat(night.play(2000)).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.release).isEqualTo("2");
        assertThat(night.device.restarts).isEqualTo(2);
        assertThat(night.device.files).containsOnlyKeys("v1.img", "v2.img");
        assertThat(night.device.backups.kept(1)).hasSize(2);
    }

    /**
     * Whatever the moments of the crashes: the unit ends where it should, with one restart a hop.
     */
    @Property(tries = 400)
    void neverRestartsTwiceForOneHopHoweverOftenTheDriverDies(
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        Night night = new Night();
        night.crash(crashes);
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.restarts).isEqualTo(2);
        assertThat(night.device.release).isEqualTo("2");
    }

    /**
     * As above, with a device that stops in its boot loader once or twice: each rescue starts it
     * from memory once, and it starts by itself in the end.
     */
    @Property(tries = 200)
    void rescuesHoweverOftenTheDriverDies(
            @ForAll @IntRange(min = 1, max = 2) int stops,
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        Night night = new Night();
        night.device.stopsInLoader = stops;
        for (int stop = 1; stop <= stops; stop++) {
            assertThat(night.play(2000)).isEqualTo(UnitState.STUCK);
            night.rows(UnitMachine.rescued(night.rows).orElseThrow());
            night.crash(crashes);
        }
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.memoryStarts).as("%s", night.told).isEqualTo(stops);
        assertThat(night.device.restarts).isEqualTo(2 + stops);
        assertThat(night.device.release).isEqualTo("2");
        assertThat(night.device.running).isEqualTo("v2.img");
        assertThat(night.device.files).containsKey(night.device.fallback);
        assertThat(UnitMachine.rescued(night.rows)).as("nobody is waited for any more").isEmpty();
    }

    /**
     * A device that is dead behind a restart: the box in its place is brought to where this one
     * should be, restarted once for each hop that is left, and has its settings.
     */
    @Property(tries = 200)
    void anotherBoxTakesItsPlaceHoweverOftenTheDriverDies(
            @ForAll @IntRange(min = 1, max = 2) int dies,
            @ForAll boolean hasTheNewRelease,
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        Night night = new Night();
        night.device.diesAt = dies;
        assertThat(UnitMachine.replaced(night.rows, plan().hop(1), true))
                .as("it is not stuck")
                .isEmpty();
        assertThat(night.play(3000)).isEqualTo(UnitState.STUCK);
        night.rows(UnitMachine.replaced(night.rows, plan().hop(dies), true).orElseThrow());
        night.serial = Optional.of("S2");
        night.device.replaceBy(
                "S2", hasTheNewRelease ? "v%d.img".formatted(dies) : "v%d.img".formatted(dies - 1));
        night.crash(crashes);
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.release).isEqualTo("2");
        assertThat(night.device.running).isEqualTo("v2.img");
        assertThat(night.device.settings).as("%s", night.told).isEqualTo("settings");
        assertThat(night.device.restarts)
                .as("%s", night.told)
                .isEqualTo(hasTheNewRelease ? 2 - dies : 3 - dies);
        assertThat(night.rows)
                .filteredOn(row -> row.state() == StepState.SKIPPED)
                .extracting(StepRecord::hop)
                .containsOnly(dies);
    }

    /**
     * A release that is not what it says it is: the unit goes back over that hop alone, and nothing
     * of the rest is done.
     */
    @Property(tries = 200)
    void goesBackHoweverOftenTheDriverDies(
            @ForAll @IntRange(min = 1, max = 2) int bad,
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        Night night = new Night();
        night.device.calls = release -> release.equals(String.valueOf(bad)) ? "another" : release;
        assertThat(UnitMachine.returned(night.rows, true)).as("nothing was chosen yet").isEmpty();
        assertThat(night.play(2000)).isEqualTo(UnitState.STUCK);
        night.rows(UnitMachine.returned(night.rows, true).orElseThrow());
        night.crash(crashes);
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.RETURNED);
        assertThat(night.device.restarts).as("%s", night.told).isEqualTo(bad + 1);
        assertThat(night.device.running).isEqualTo("v%d.img".formatted(bad - 1));
        assertThat(night.device.next).isEqualTo("v%d.img".formatted(bad - 1));
        assertThat(night.rows)
                .filteredOn(row -> row.hop() > bad)
                .allMatch(row -> row.state() == StepState.SKIPPED);
        assertThat(UnitMachine.returned(night.rows, true)).isEmpty();
    }

    /**
     * Alarms that were quieted ring again however often the driver dies, and only while they are
     * quiet does anything go dark.
     */
    @Property(tries = 200)
    void unQuietsHoweverOftenTheDriverDies(
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        Night night = new Night();
        AlarmsInMind alarms = new AlarmsInMind();
        night.around =
                new Around(Optional.of(alarms), (_, _, _) -> List.of(), Duration.ofSeconds(30));
        night.crash(crashes);
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(alarms.until).as("they ring again").isNull();
        assertThat(alarms.quieted)
                .as("once a hop, and once more for each crash at most")
                .isBetween(2, 2 + crashes.size());
        assertThat(night.device.restarts).isEqualTo(2);
    }

    private static final class AlarmsInMind implements Around.Alarms {
        @Nullable Instant until;
        int quieted;

        @Override
        public List<String> about() {
            return List.of("rt", "sw");
        }

        @Override
        public boolean areQuiet() {
            return until != null;
        }

        @Override
        public void quiet(Instant moment, String why) {
            assertThat(why).contains("rt goes from");
            until = moment;
            quieted++;
        }

        @Override
        public void unQuiet() {
            until = null;
        }
    }

    @Test
    void aDeviceThatRestartsByItselfWhileItIsWatchedIsNotSettled() {
        Night night = new Night();
        night.around = new Around(Optional.empty(), (_, _, _) -> List.of(), Duration.ofMinutes(10));
        int[] looks = {0};
        night.around =
                new Around(
                        Optional.empty(),
                        (_, _, _) -> {
                            if (UnitMachine.stateOf(night.rows) == UnitState.SOAKING
                                    && ++looks[0] == 3) {
                                night.device.restarts++;
                            }
                            return List.of();
                        },
                        Duration.ofMinutes(10));
        assertThat(night.play(4000)).isEqualTo(UnitState.STUCK);
        assertThat(night.told.getLast()).contains("2 soak Failed", "it restarted by itself");
        assertThat(night.device.files).as("nothing is tidied away").containsKey("v0.img");
        assertThat(UnitMachine.returned(night.rows, true)).as("it can still go back").isPresent();
    }

    /**
     * A check of one's own that held before and does not hold any more is for a person; until then
     * nothing is removed.
     */
    @Test
    void whatIsOddWaitsForAPersonsJudgement() {
        Night night = new Night();
        night.around =
                new Around(
                        Optional.empty(),
                        (_, _, _) ->
                                List.of(
                                        new Reading.Fact(
                                                "check",
                                                "tills answer",
                                                night.device.release.equals("2")
                                                        ? "does not answer"
                                                        : "ok")),
                        Duration.ofMinutes(1));
        night.doubtful = true;
        assertThat(night.play(4000)).isEqualTo(UnitState.SOAKING);
        assertThat(night.told.getLast())
                .contains("2 soak Done")
                .contains("check tills answer was ok, is does not answer");
        assertThat(night.device.files).containsKey("v0.img");
        night.doubtful = false;
        assertThat(night.play(10)).isEqualTo(UnitState.SETTLED);
    }

    @Test
    void theGateStandsBeforeTheBootChoiceAndSaysWhoIsAffected() {
        List<StepRecord> staged =
                UnitMachine.start(plan()).stream()
                        .map(
                                r ->
                                        r.hop() == 1 && r.name().compareTo(StepName.QUIET) < 0
                                                ? r.with(StepState.DONE)
                                                : r)
                        .toList();
        assertThat(
                        UnitMachine.next(
                                plan(), staged, new UnitMachine.Leave(false, List.of(), 0), START))
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("rt restarts 2 times")
                                        .contains("about 8 min")
                                        .contains("Without network meanwhile: the quay."));
        assertThat(UnitMachine.next(plan(), staged, AT_ONCE, START)).isInstanceOf(Next.Carry.class);
        assertThat(UnitMachine.stateOf(staged)).isEqualTo(UnitState.STAGED);
    }

    /**
     * Over two nights: what disturbs nobody goes ahead, what interrupts waits for its turn, and
     * what has begun is ended.
     */
    @Test
    void keepsToItsTurns() {
        Turn first =
                new Turn(
                        1,
                        1,
                        START.plusSeconds(3600),
                        START.plusSeconds(7200),
                        Duration.ofMinutes(20));
        Turn second =
                new Turn(
                        2,
                        2,
                        START.plusSeconds(90_000),
                        START.plusSeconds(93_600),
                        Duration.ofMinutes(20));
        List<StepRecord> staged =
                UnitMachine.start(plan()).stream()
                        .map(
                                r ->
                                        r.hop() == 1 && r.name().compareTo(StepName.QUIET) < 0
                                                ? r.with(StepState.DONE)
                                                : r)
                        .toList();
        List<Turn> turns = List.of(first, second);
        assertThat(
                        UnitMachine.next(
                                plan(),
                                UnitMachine.start(plan()),
                                new UnitMachine.Leave(false, turns, 0),
                                START))
                .as("staging is done ahead")
                .isInstanceOf(Next.Carry.class);
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(false, turns, 0),
                                first.begins()))
                .as("the gate first")
                .isInstanceOf(Next.AtGate.class);
        assertThat(UnitMachine.next(plan(), staged, new UnitMachine.Leave(false, turns, 0), START))
                .as("a word is for one night")
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("rt restarts once")
                                        .contains("about 4 min")
                                        .contains("from 0 to 1."));
        Turn sameNight = new Turn(2, 2, first.begins(), first.closes(), Duration.ofMinutes(20));
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(false, List.of(first, sameNight), 0),
                                START))
                .as("both parts in one window")
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("restarts 2 times")
                                        .contains("from 0 to 2."));
        assertThat(UnitMachine.next(plan(), staged, new UnitMachine.Leave(true, turns, 0), START))
                .isEqualTo(new Next.NotYet(first));
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(true, turns, 0),
                                first.begins()))
                .isInstanceOfSatisfying(
                        Next.Begin.class, begin -> assertThat(begin.turn()).isZero());
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(true, turns, 0),
                                first.closes().minus(first.needs())))
                .as("just fits")
                .isInstanceOf(Next.Begin.class);
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(true, turns, 0),
                                first.closes().minus(first.needs()).plusSeconds(1)))
                .isEqualTo(new Next.Missed(first));
        assertThat(
                        UnitMachine.next(
                                plan(),
                                staged,
                                new UnitMachine.Leave(true, turns, 1),
                                first.closes().plusSeconds(1)))
                .as("begun is ended, also beyond the window")
                .isInstanceOf(Next.Carry.class);
        List<StepRecord> restsOnTheFirst =
                UnitMachine.start(plan()).stream()
                        .map(
                                r ->
                                        r.hop() == 1 || r.name().compareTo(StepName.QUIET) < 0
                                                ? r.with(StepState.DONE)
                                                : r)
                        .toList();
        assertThat(
                        UnitMachine.next(
                                plan(),
                                restsOnTheFirst,
                                new UnitMachine.Leave(true, turns, 1),
                                first.closes()))
                .as("rests until its second night")
                .isEqualTo(new Next.NotYet(second));
    }

    @Test
    void waitsForWhomItMustNotBeBesideAndForTheLimits() {
        calmstep.core.window.Limits limits =
                new calmstep.core.window.Limits(3, 2, 2, java.util.Map.of(), 0, Duration.ZERO);
        Neighbours unit = new Neighbours("a", "pier", "f", Set.of("b"));
        Neighbours mate = new Neighbours("b", "quay", "g", Set.of());
        Neighbours here = new Neighbours("c", "pier", "g", Set.of());
        Neighbours alike = new Neighbours("d", "hill", "f", Set.of());
        assertThat(unit.whyNotNow(List.of(), limits)).isEmpty();
        assertThat(unit.whyNotNow(List.of(unit), limits)).as("it is not in its own way").isEmpty();
        assertThat(unit.whyNotNow(List.of(here, alike), limits)).isEmpty();
        assertThat(unit.whyNotNow(List.of(mate), limits))
                .hasValueSatisfying(why -> assertThat(why).contains("b is in work"));
        assertThat(mate.whyNotNow(List.of(unit), limits)).as("both ways").isPresent();
        assertThat(
                        unit.whyNotNow(
                                List.of(here, new Neighbours("e", "pier", "h", Set.of())), limits))
                .hasValueSatisfying(
                        why -> assertThat(why).contains("2 units are in work").endsWith("at pier"));
        assertThat(
                        unit.whyNotNow(
                                List.of(alike, new Neighbours("e", "hill", "f", Set.of())), limits))
                .hasValueSatisfying(why -> assertThat(why).endsWith("of f"));
        assertThat(
                        unit.whyNotNow(
                                List.of(here, alike, new Neighbours("e", "hill", "h", Set.of())),
                                limits))
                .hasValueSatisfying(
                        why -> assertThat(why).contains("3 units are").endsWith("over all"));
    }

    @Test
    void aUnitFollowsThePilotsOfItsKindAndTooMuchTroubleStopsARun() {
        Neighbours follower = new Neighbours("b", "pier", "f", Set.of(), Set.of("a"));
        Duration soak = Duration.ofHours(12);
        Instant noon = Instant.parse("2026-12-08T12:00:00Z");
        List<Instant> ended = List.of(noon.minus(soak));
        assertThat(
                        follower.whyBehind(
                                List.of(new Neighbours.Pilot("a", UnitState.SETTLED, ended, false)),
                                0,
                                soak,
                                noon.minusSeconds(1)))
                .as("later than planned, watched as long")
                .hasValueSatisfying(
                        why -> assertThat(why).contains("is watched until 2026-12-08 12:00"));
        assertThat(
                        follower.whyBehind(
                                List.of(
                                        new Neighbours.Pilot(
                                                "a", UnitState.CHANGING, List.of(), false)),
                                0,
                                soak,
                                noon))
                .hasValueSatisfying(
                        why -> assertThat(why).contains("a, the pilot of its kind, goes first"));
        assertThat(
                        follower.whyBehind(
                                List.of(new Neighbours.Pilot("a", UnitState.STUCK, ended, false)),
                                0,
                                soak,
                                noon))
                .hasValueSatisfying(why -> assertThat(why).contains("is stuck"));
        assertThat(
                        follower.whyBehind(
                                List.of(new Neighbours.Pilot("a", UnitState.SOAKING, ended, true)),
                                0,
                                soak,
                                noon))
                .isPresent();
        assertThat(
                        follower.whyBehind(
                                List.of(
                                        new Neighbours.Pilot("a", UnitState.SOAKING, ended, false),
                                        new Neighbours.Pilot(
                                                "x", UnitState.STUCK, List.of(), true)),
                                0,
                                soak,
                                noon))
                .as("of another kind")
                .isEmpty();
        assertThat(
                        follower.whyBehind(
                                List.of(new Neighbours.Pilot("a", UnitState.STAGED, ended, false)),
                                1,
                                soak,
                                noon))
                .as("the second part behind its second")
                .isPresent();
        assertThat(
                        follower.onItsOwn()
                                .whyBehind(
                                        List.of(
                                                new Neighbours.Pilot(
                                                        "a", UnitState.STUCK, List.of(), false)),
                                        0,
                                        soak,
                                        noon))
                .isEmpty();
        calmstep.core.window.Limits.Watch watch =
                new calmstep.core.window.Limits.Watch(Duration.ZERO, 3, 20);
        assertThat(watch.whyStop(1, 2)).as("one is never too many by its share").isEmpty();
        assertThat(watch.whyStop(2, 10))
                .hasValueSatisfying(why -> assertThat(why).contains("20 %"));
        assertThat(watch.whyStop(2, 11)).isEmpty();
        assertThat(watch.whyStop(3, 1000))
                .hasValueSatisfying(why -> assertThat(why).contains("no more than 2 may"));
    }

    @Test
    void aRestartOrderThatWasLostIsGivenAgainOnlyAfterTheDeviceHadTime() {
        Night night = new Night();
        night.device.losesOrders = 1;
        assertThat(night.play(4000)).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.restarts).as("carried out").isEqualTo(2);
        assertThat(night.device.orders).as("given").isEqualTo(3);
        assertThat(night.told)
                .filteredOn(t -> t.startsWith("1 restart Waiting"))
                .hasSizeGreaterThan(100);
    }

    @Test
    void aDamagedCopyIsFetchedOnceMoreAndASecondOneStopsTheUnit() {
        Night once = new Night();
        once.device.damagedCopies = 1;
        assertThat(once.play(4000)).isEqualTo(UnitState.SETTLED);
        Night twice = new Night();
        twice.device.damagedCopies = 2;
        assertThat(twice.play(4000)).isEqualTo(UnitState.STUCK);
        assertThat(twice.device.next).as("never chosen").isEqualTo("v0.img");
        assertThat(twice.told.getLast()).contains("Two copies came out wrong");
    }
}
