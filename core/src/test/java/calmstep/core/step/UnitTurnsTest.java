package calmstep.core.step;

import static calmstep.core.step.NightInMemory.START;
import static calmstep.core.step.NightInMemory.plan;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** When a unit may begin, go on, and be taken for pilots. */
class UnitTurnsTest {
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
}
