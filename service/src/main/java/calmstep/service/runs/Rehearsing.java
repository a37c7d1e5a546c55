package calmstep.service.runs;

import calmstep.core.plan.Timetable;
import calmstep.core.step.Neighbours;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitState;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BiFunction;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Plays rehearsals: the driver that carries real units, over the same rows, against stand-ins. The
 * scheduler has no part in it, since only this process has the stand-ins; what it would do (come
 * again at a time) is done here, a thread a unit, by a {@link RehearsalClock} that shows the plan's
 * time.
 */
@Component
public class Rehearsing {
    private static final Logger LOG = LoggerFactory.getLogger(Rehearsing.class);
    private static final Duration LOOKS_EVERY = Duration.ofMillis(100);

    /** By then a unit whose turn has come has asked whether it may begin. */
    private static final Duration ASKS_WITHIN = Duration.ofSeconds(10);

    private static final int FAULTS_BORNE = 5;

    private final Runs use;
    private final RunRows runs;
    private final UnitRows units;
    private final UnitDriver driver;
    private final Casts casts;
    private final Events events;
    private final Json json;
    private final TransactionTemplate transactions;
    private final Clock clock;

    Rehearsing(
            Runs use,
            RunRows runs,
            UnitRows units,
            UnitDriver driver,
            Casts casts,
            Events events,
            Json json,
            TransactionTemplate transactions,
            Clock clock) {
        this.use = use;
        this.runs = runs;
        this.units = units;
        this.driver = driver;
        this.casts = casts;
        this.events = events;
        this.json = json;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * What is played.
     *
     * @param units as their stand-ins are
     * @param begins when the run begins, by the plan's time
     */
    public record Play(
            long planId, String name, List<UnitPlan> units, Timetable timetable, Instant begins) {}

    /**
     * Who plays it.
     *
     * @param doors the way to a unit's stand-in, or to that of the base that feeds it
     * @param addresses where each of them is
     * @param pace how much faster than ours the stand-ins' clocks run
     * @param busy whether the stand-in of a unit copies or starts just now
     */
    public record StandIns(
            BiFunction<String, Talk, Door> doors,
            UnaryOperator<String> addresses,
            int pace,
            Predicate<String> busy) {}

    /** Who follows it. */
    public interface Audience {
        boolean hasLeft();

        /** What the plan's clock shows. */
        void isAt(Instant moment);
    }

    /**
     * Plays a plan until every unit is settled, stuck, or held because its window closed; its run
     * holds what happened.
     */
    public void play(Play play, StandIns standIns, Audience audience, String who) {
        RunRow run = use.rehearsal(play.planId(), play.name(), play.units(), play.timetable(), who);
        List<Player> players = new CopyOnWriteArrayList<>();
        try (RehearsalClock plan =
                new RehearsalClock(
                        play.begins(),
                        standIns.pace(),
                        () ->
                                players.stream()
                                        .anyMatch(
                                                player ->
                                                        !player.isGone()
                                                                && standIns.busy()
                                                                        .test(player.name)),
                        clock)) {
            casts.put(run.id(), new Cast(standIns, plan));
            units.findByRunIdOrderByName(run.id())
                    .forEach(unit -> players.add(new Player(unit.id(), unit.name, plan)));
            players.forEach(_ -> plan.begin());
            players.forEach(Player::start);
            while (!audience.hasLeft() && !isOver(run, players, plan)) {
                audience.isAt(plan.instant());
                pause();
            }
            players.forEach(Player::end);
            plan.end();
            players.forEach(Player::join);
        } finally {
            casts.remove(run.id());
            finish(run, audience.hasLeft());
        }
    }

    /** Whether all are at their end, or the rest waits for units that are stuck in the middle. */
    private boolean isOver(RunRow run, List<Player> players, RehearsalClock plan) {
        List<UnitRow> all = units.findByRunIdOrderByName(run.id());
        Predicate<UnitRow> gone =
                unit ->
                        players.stream()
                                .anyMatch(player -> player.unitId == unit.id() && player.isGone());
        List<UnitRow> left = all.stream().filter(gone.negate()).toList();
        List<UnitRow> inWork = all.stream().filter(unit -> unit.inWork).toList();
        return left.isEmpty()
                || (inWork.stream().allMatch(gone)
                        && left.stream()
                                .allMatch(unit -> cannotGoOn(unit, plan, inWork, all, gone)));
    }

    private boolean cannotGoOn(
            UnitRow unit,
            RehearsalClock plan,
            List<UnitRow> inWork,
            List<UnitRow> all,
            Predicate<UnitRow> gone) {
        return waitsForOthers(unit, plan.instant())
                && (!inWork.isEmpty() || follows(unit, all.stream().filter(gone).toList()));
    }

    /** Whether it waits for a pilot that will not go on. */
    private boolean follows(UnitRow unit, List<UnitRow> gone) {
        Neighbours beside = json.read(unit.beside, Neighbours.class);
        return gone.stream()
                .anyMatch(
                        other ->
                                beside.follows().contains(other.name)
                                        && !other.state.equals(UnitState.SETTLED.toString()));
    }

    private boolean waitsForOthers(UnitRow unit, Instant now) {
        List<Turn> turns = json.read(unit.turns, Runs.TURNS);
        return !unit.waitsFor.isEmpty()
                && unit.begun < turns.size()
                && now.isAfter(turns.get(unit.begun).begins().plus(ASKS_WITHIN));
    }

    private static void pause() {
        try {
            Thread.sleep(LOOKS_EVERY);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    private void finish(RunRow run, boolean left) {
        transactions.executeWithoutResult(
                _ -> {
                    RunRow row = runs.lock(run.id());
                    row.state = left ? "abandoned" : "finished";
                    row.finishedAt = clock.instant();
                    long settled =
                            units.findByRunIdOrderByName(run.id()).stream()
                                    .filter(u -> u.state.equals(UnitState.SETTLED.toString()))
                                    .count();
                    tellEnd(run, row, left, settled);
                });
    }

    private void tellEnd(RunRow run, RunRow row, boolean left, long settled) {
        events.append(
                Optional.of(run.id()),
                row.name,
                "run",
                Events.SERVICE,
                left
                        ? "Rehearsal %s was ended before its time.".formatted(row.name)
                        : "Rehearsal %s is over: %s units settled.".formatted(row.name, settled));
    }

    /** Drives one unit until only a person could take it further. */
    private final class Player {
        private final long unitId;
        private final String name;
        private final RehearsalClock plan;
        private final Thread thread;
        private volatile boolean ended;

        Player(long unitId, String name, RehearsalClock plan) {
            this.unitId = unitId;
            this.name = name;
            this.plan = plan;
            thread = Thread.ofVirtual().name("rehearse-" + name).unstarted(this::drive);
        }

        void start() {
            thread.start();
        }

        boolean isGone() {
            return !thread.isAlive();
        }

        /** What is in flight ends its step. */
        void end() {
            ended = true;
        }

        void join() {
            try {
                thread.join();
            } catch (InterruptedException stop) {
                Thread.currentThread().interrupt();
            }
        }

        private void drive() {
            int faults = 0;
            try {
                while (!ended && faults < FAULTS_BORNE) {
                    try {
                        Optional<Instant> next = driver.drive(unitId);
                        if (next.isEmpty() || needsAPerson()) {
                            return;
                        }
                        plan.restUntil(next.get());
                    } catch (RuntimeException fault) {
                        faults++;
                        LOG.warn(
                                "A rehearsed unit is interrupted, for the {}. time", faults, fault);
                        plan.restUntil(plan.instant().plusSeconds(1));
                    }
                }
            } catch (InterruptedException stop) {
                Thread.currentThread().interrupt();
            } finally {
                plan.leave();
            }
        }

        private boolean needsAPerson() {
            String state = units.findById(unitId).orElseThrow().state;
            return state.equals(UnitState.STUCK.toString())
                    || state.equals(UnitState.HELD.toString());
        }
    }
}
