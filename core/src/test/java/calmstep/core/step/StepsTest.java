package calmstep.core.step;

import static calmstep.core.step.NightInMemory.AT_ONCE;
import static calmstep.core.step.NightInMemory.START;
import static calmstep.core.step.NightInMemory.plan;
import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
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
    @Test
    void takesAUnitOverTwoHopsToTheWantedRelease() {
        NightInMemory night = new NightInMemory();
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
        NightInMemory night = new NightInMemory();
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
        NightInMemory night = new NightInMemory();
        night.device.stopsInLoader = stops;
        for (int stop = 1; stop <= stops; stop++) {
            assertThat(night.play(2000)).isEqualTo(UnitState.STUCK);
            night.rows(Detour.rescued(night.rows).orElseThrow());
            night.crash(crashes);
        }
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.memoryStarts).as("%s", night.told).isEqualTo(stops);
        assertThat(night.device.restarts).isEqualTo(2 + stops);
        assertThat(night.device.release).isEqualTo("2");
        assertThat(night.device.running).isEqualTo("v2.img");
        assertThat(night.device.files).containsKey(night.device.fallback);
        assertThat(Detour.rescued(night.rows)).as("nobody is waited for any more").isEmpty();
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
        NightInMemory night = new NightInMemory();
        night.device.diesAt = dies;
        assertThat(Detour.replaced(night.rows, plan().hop(1), true))
                .as("it is not stuck")
                .isEmpty();
        assertThat(night.play(3000)).isEqualTo(UnitState.STUCK);
        night.rows(Detour.replaced(night.rows, plan().hop(dies), true).orElseThrow());
        night.serial = Optional.of("S2");
        night.device.replaceBy(
                "S2", hasTheNewRelease ? "v%s.img".formatted(dies) : "v%s.img".formatted(dies - 1));
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
    @Property(tries = 300)
    void goesBackHoweverOftenTheDriverDies(
            @ForAll @IntRange(min = 1, max = 2) int bad,
            @ForAll boolean toWhatRanBeforeTheNight,
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        NightInMemory night = new NightInMemory();
        night.device.calls = release -> release.equals(String.valueOf(bad)) ? "another" : release;
        assertThat(Detour.behind(night.rows, 1)).as("nothing was chosen yet").isEmpty();
        assertThat(night.play(2000)).isEqualTo(UnitState.STUCK);
        List<Integer> over = Detour.behind(night.rows, toWhatRanBeforeTheNight ? 1 : bad);
        int stays = over.getLast() - 1;
        night.rows(Detour.returned(night.rows, NightInMemory.plan(), over, true).orElseThrow());
        night.crash(crashes);
        assertThat(night.play(6000)).as("%s", night.told).isEqualTo(UnitState.RETURNED);
        assertThat(over).hasSize(toWhatRanBeforeTheNight ? bad : 1);
        assertThat(night.device.restarts).as("%s", night.told).isEqualTo(bad + over.size());
        assertThat(night.device.running).isEqualTo("v%s.img".formatted(stays));
        assertThat(night.device.next).isEqualTo("v%s.img".formatted(stays));
        assertThat(night.rows)
                .filteredOn(row -> row.hop() > bad)
                .allMatch(row -> row.state() == StepState.SKIPPED);
        assertThat(Detour.behind(night.rows, 1)).isEmpty();
    }

    /**
     * Alarms that were quieted ring again however often the driver dies, and only while they are
     * quiet does anything go dark.
     */
    @Property(tries = 200)
    void unQuietsHoweverOftenTheDriverDies(
            @ForAll @Size(max = 12) List<@IntRange(min = 0, max = 9) Integer> crashes) {
        NightInMemory night = new NightInMemory();
        AlarmsInMind alarms = new AlarmsInMind();
        night.around =
                new Around(
                        Optional.of(alarms), (_, _, _) -> List.of(), Duration.ofSeconds(30), false);
        night.crash(crashes);
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(alarms.until).as("they ring again").isNull();
        assertThat(alarms.quieted)
                .as("once a hop, and once more for each crash at most")
                .isBetween(2, 2 + crashes.size());
        assertThat(night.device.restarts).isEqualTo(2);
    }

    /** What was quieted runs out while a person holds the unit, or while nobody drives it. */
    @Test
    void quietsAnewBeforeAnythingGoesDark() {
        NightInMemory night = new NightInMemory();
        AlarmsInMind alarms = new AlarmsInMind();
        night.around =
                new Around(
                        Optional.of(alarms), (_, _, _) -> List.of(), Duration.ofSeconds(30), false);
        night.beforeChoice = () -> alarms.until = null;
        assertThat(night.play(4000)).as("%s", night.told).isEqualTo(UnitState.SETTLED);
        assertThat(alarms.quieted).as("twice a hop").isEqualTo(4);
        assertThat(alarms.until).as("they ring again").isNull();
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
        public Optional<Instant> askedUntil() {
            return Optional.ofNullable(until);
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
        NightInMemory night = new NightInMemory();
        night.around =
                new Around(Optional.empty(), (_, _, _) -> List.of(), Duration.ofMinutes(10), false);
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
                        Duration.ofMinutes(10),
                        false);
        assertThat(night.play(4000)).isEqualTo(UnitState.STUCK);
        assertThat(night.told.getLast()).contains("2 soak Failed", "it restarted by itself");
        assertThat(night.device.files).as("nothing is tidied away").containsKey("v0.img");
        assertThat(Detour.behind(night.rows, 1)).as("it can still go back").containsExactly(2, 1);
    }

    /**
     * What the first of two hops loses is put to a person before the second one disturbs anybody,
     * and is not forgotten where the second one's own check never saw it.
     */
    @Test
    void aLossInTheFirstHopWaitsForAPersonBeforeTheSecond() {
        NightInMemory night = new NightInMemory();
        night.around =
                new Around(
                        Optional.empty(),
                        (_, _, _) ->
                                night.device.release.equals("0")
                                        ? List.of(new Reading.Fact("licence", "tunnels", "valid"))
                                        : List.of(),
                        Duration.ofMinutes(1),
                        false);
        night.doubtful = () -> night.told.toString().contains("1 prove Done");
        assertThat(night.play(4000)).isEqualTo(UnitState.CHANGING);
        assertThat(night.device.release).as("the second hop has not begun").isEqualTo("1");
        assertThat(night.told.toString()).contains("licence tunnels is gone; it was valid");
        night.doubtful = () -> false;
        night.told.clear();
        assertThat(night.play(4000)).isEqualTo(UnitState.SETTLED);
        assertThat(night.told.toString())
                .as("compared with what it had before its first hop")
                .contains("2 soak Done", "licence tunnels is gone; it was valid");
    }

    /** A colleague saves a line between the backup and the night. */
    @Test
    void aConfigurationThatChangedSinceItsBackupIsTakenOverByAPersonOrNothingIsChosen() {
        NightInMemory night = new NightInMemory();
        night.beforeChoice = () -> night.device.settings = night.device.settings + " and a line";
        assertThat(night.play(4000)).isEqualTo(UnitState.STUCK);
        assertThat(night.told.getLast())
                .contains("1 choose-boot Failed", "somebody changed it since");
        assertThat(night.device.restarts).isZero();
        night.beforeChoice = () -> {};
        List<StepRecord> after = Detour.takenOver(night.rows).orElseThrow();
        night.rows.clear();
        night.rows.addAll(after);
        night.takesOver = true;
        assertThat(night.play(4000)).isEqualTo(UnitState.SETTLED);
        assertThat(night.device.backups.kept(1).getLast().sha256())
                .as("the line is in the backup that would be put back")
                .isEqualTo(Digests.sha256("settings and a line"));
    }

    /**
     * A check of one's own that held before and does not hold any more is for a person; until then
     * nothing is removed.
     */
    @Test
    void whatIsOddWaitsForAPersonsJudgement() {
        NightInMemory night = new NightInMemory();
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
                        Duration.ofMinutes(1),
                        false);
        night.doubtful = () -> night.told.toString().contains("does not answer");
        assertThat(night.play(4000)).isEqualTo(UnitState.SOAKING);
        assertThat(night.told.getLast())
                .contains("2 soak Done")
                .contains("check tills answer was ok, is does not answer");
        assertThat(night.device.files).containsKey("v0.img");
        night.doubtful = () -> false;
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

    @Test
    void aRestartOrderThatWasLostIsGivenAgainOnlyAfterTheDeviceHadTime() {
        NightInMemory night = new NightInMemory();
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
        NightInMemory once = new NightInMemory();
        once.device.damagedCopies = 1;
        assertThat(once.play(4000)).isEqualTo(UnitState.SETTLED);
        NightInMemory twice = new NightInMemory();
        twice.device.damagedCopies = 2;
        assertThat(twice.play(4000)).isEqualTo(UnitState.STUCK);
        assertThat(twice.device.next).as("never chosen").isEqualTo("v0.img");
        assertThat(twice.told.getLast()).contains("Two copies came out wrong");
    }
}
