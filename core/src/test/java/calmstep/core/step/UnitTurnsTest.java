package calmstep.core.step;

import static calmstep.core.step.NightInMemory.START;
import static calmstep.core.step.NightInMemory.plan;
import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.window.Limits;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import org.junit.jupiter.api.Test;

/** When a unit may begin, go on, and be taken for pilots. */
class UnitTurnsTest {
    private static final Duration SOAK = Duration.ofHours(12);
    private static final Instant NOON = Instant.parse("2026-12-08T12:00:00Z");

    /**
     * Over two nights: what disturbs nobody goes ahead, what interrupts waits for its turn, and
     * what has begun is ended.
     */
    @Test
    void keepsToItsTurns() {
        Turn first = turn(1, START.plusSeconds(3600));
        Turn second = turn(2, START.plusSeconds(90_000));
        List<StepRecord> staged = done(r -> r.hop() == 1 && r.name().compareTo(StepName.QUIET) < 0);
        List<Turn> turns = List.of(first, second);
        assertThat(next(UnitMachine.start(plan()), false, turns, 0, START))
                .as("staging is done ahead")
                .isInstanceOf(Next.Carry.class);
        assertThat(next(staged, false, turns, 0, first.begins()))
                .as("the gate first")
                .isInstanceOf(Next.AtGate.class);
        assertThat(next(staged, false, turns, 0, START))
                .as("a word is for one night")
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("rt restarts once")
                                        .contains("about 4 min")
                                        .contains("from 0 to 1."));
        Turn sameNight = new Turn(2, 2, first.begins(), first.closes(), Duration.ofMinutes(20));
        assertThat(next(staged, false, List.of(first, sameNight), 0, START))
                .as("both parts in one window")
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("restarts 2 times")
                                        .contains("from 0 to 2.")
                                        .contains("Staged and proven: the image of 1.")
                                        .contains(
                                                "The image of 2 is copied in between, when it runs"
                                                    + " 1: if that fails, it stays there, where it"
                                                    + " may rest")
                                        .contains("Its configuration is backed up."));
        assertThat(next(staged, true, turns, 0, START)).isEqualTo(new Next.NotYet(first));
        assertThat(next(staged, true, turns, 0, first.begins()))
                .isInstanceOfSatisfying(
                        Next.Begin.class, begin -> assertThat(begin.turn()).isZero());
        assertThat(next(staged, true, turns, 0, first.closes().minus(first.needs())))
                .as("just fits")
                .isInstanceOf(Next.Begin.class);
        assertThat(next(staged, true, turns, 0, first.closes().minus(first.needs()).plusSeconds(1)))
                .isEqualTo(new Next.Missed(first));
        assertThat(next(staged, true, turns, 1, first.closes().plusSeconds(1)))
                .as("begun is ended, also beyond the window")
                .isInstanceOf(Next.Carry.class);
        List<StepRecord> restsOnTheFirst =
                done(r -> r.hop() == 1 || r.name().compareTo(StepName.QUIET) < 0);
        assertThat(next(restsOnTheFirst, true, turns, 1, first.closes()))
                .as("rests until its second night")
                .isEqualTo(new Next.NotYet(second));
    }

    /** Images with room beside the first one's are there before anybody is asked. */
    @Test
    void anImageThatIsBroughtAheadIsProvenBeforeTheGate() {
        UnitPlan ahead = NightInMemory.planAhead();
        List<StepRecord> all = UnitMachine.start(ahead);
        assertThat(all.stream().takeWhile(r -> r.name() != StepName.QUIET).map(StepRecord::name))
                .containsExactly(
                        StepName.CHECK,
                        StepName.BACK_UP,
                        StepName.MAKE_ROOM,
                        StepName.STAGE,
                        StepName.CONFIRM_IMAGE,
                        StepName.MAKE_ROOM,
                        StepName.STAGE,
                        StepName.CONFIRM_IMAGE);
        assertThat(all).hasSameSizeAs(UnitMachine.start(plan()));
        List<StepRecord> staged =
                all.stream().map(r -> all.indexOf(r) < 8 ? r.with(StepState.DONE) : r).toList();
        assertThat(
                        UnitMachine.next(
                                ahead, staged, new UnitMachine.Leave(false, List.of(), 0), START))
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate ->
                                assertThat(gate.question())
                                        .contains("All its 2 images are staged and proven."));
        List<StepRecord> skipped =
                staged.stream()
                        .map(r -> r.name() == StepName.BACK_UP ? r.with(StepState.SKIPPED) : r)
                        .toList();
        assertThat(
                        UnitMachine.next(
                                ahead, skipped, new UnitMachine.Leave(false, List.of(), 0), START))
                .isInstanceOfSatisfying(
                        Next.AtGate.class,
                        gate -> assertThat(gate.question()).contains("is NOT backed up"));
    }

    private static Turn turn(int hop, Instant begins) {
        return new Turn(hop, hop, begins, begins.plusSeconds(3600), Duration.ofMinutes(20));
    }

    private static List<StepRecord> done(Predicate<StepRecord> which) {
        return UnitMachine.start(plan()).stream()
                .map(r -> which.test(r) ? r.with(StepState.DONE) : r)
                .toList();
    }

    private static Next next(
            List<StepRecord> records, boolean go, List<Turn> turns, int begun, Instant at) {
        return UnitMachine.next(plan(), records, new UnitMachine.Leave(go, turns, begun), at);
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
    void aUnitFollowsThePilotsOfItsKind() {
        Neighbours follower = new Neighbours("b", "pier", "f", Set.of(), Set.of("a"));
        assertThat(
                        whyBehind(
                                follower,
                                pilot("a", UnitState.SETTLED, true, false),
                                NOON.minusSeconds(1)))
                .as("later than planned, watched as long")
                .hasValueSatisfying(
                        why -> assertThat(why).contains("is watched until 2026-12-08 12:00"));
        assertThat(whyBehind(follower, pilot("a", UnitState.CHANGING, false, false), NOON))
                .hasValueSatisfying(
                        why -> assertThat(why).contains("a, the pilot of its kind, goes first"));
        assertThat(whyBehind(follower, pilot("a", UnitState.STUCK, true, false), NOON))
                .hasValueSatisfying(why -> assertThat(why).contains("is stuck"));
        assertThat(whyBehind(follower, pilot("a", UnitState.SOAKING, true, true), NOON))
                .isPresent();
        assertThat(
                        follower.whyBehind(
                                List.of(
                                        pilot("a", UnitState.SOAKING, true, false),
                                        pilot("x", UnitState.STUCK, false, true)),
                                0,
                                SOAK,
                                NOON))
                .as("of another kind")
                .isEmpty();
        assertThat(
                        follower.whyBehind(
                                List.of(pilot("a", UnitState.STAGED, true, false)), 1, SOAK, NOON))
                .as("the second part behind its second")
                .isPresent();
        assertThat(whyBehind(follower.onItsOwn(), pilot("a", UnitState.STUCK, false, false), NOON))
                .isEmpty();
    }

    private static Neighbours.Pilot pilot(
            String name, UnitState state, boolean ended, boolean inDoubt) {
        return new Neighbours.Pilot(
                name, state, ended ? List.of(NOON.minus(SOAK)) : List.of(), inDoubt);
    }

    private static Optional<String> whyBehind(
            Neighbours follower, Neighbours.Pilot pilot, Instant at) {
        return follower.whyBehind(List.of(pilot), 0, SOAK, at);
    }

    @Test
    void tooMuchTroubleStopsARun() {
        Limits.Watch watch = new Limits.Watch(Duration.ZERO, 3, 20);
        assertThat(watch.whyStop(1, 2)).as("one is never too many by its share").isEmpty();
        assertThat(watch.whyStop(2, 10))
                .hasValueSatisfying(why -> assertThat(why).contains("20 %"));
        assertThat(watch.whyStop(2, 11)).isEmpty();
        assertThat(watch.whyStop(3, 1000))
                .hasValueSatisfying(why -> assertThat(why).contains("no more than 2 may"));
    }
}
