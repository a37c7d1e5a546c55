package calmstep.service.runs;

import calmstep.core.step.Hope;
import calmstep.core.step.Intent;
import calmstep.core.step.StepName;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.StepRecord;
import calmstep.core.step.UnitPlan;
import calmstep.dialect.ConsoleWatch;
import calmstep.dialect.Dialect;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.fleet.Fleet;
import jakarta.annotation.PreDestroy;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/**
 * Who listens to console lines while devices restart: from before the order until the release is
 * proven, or a person is asked and may want the line. What is said there is talk of the step that
 * restarts; whoever finds a restart under way that another process ordered listens from then on.
 */
@Component
class ConsoleWatches {
    /** A device that is later than this has long been given up. */
    private static final Duration BEYOND = Duration.ofMinutes(30);

    private final TalkLines lines;
    private final TalkRows talk;
    private final Fleet fleet;
    private final Map<Long, ConsoleWatch> open = new ConcurrentHashMap<>();

    ConsoleWatches(TalkLines lines, TalkRows talk, Fleet fleet) {
        this.lines = lines;
        this.talk = talk;
        this.fleet = fleet;
    }

    /** Before a step is carried; does nothing for one that is no restart, nor behind one. */
    void before(
            Standing standing, UnitPlan plan, StepRecord step, Door door, Counterpart counterpart) {
        UnitRow unit = standing.unit();
        ConsoleWatch known = open.get(unit.id());
        if (known != null && !known.isOver()) {
            return;
        }
        restartOf(standing, plan, step)
                .ifPresent(row -> listen(unit, step, row, door, plan.giveUpAfter(), counterpart));
    }

    private void listen(
            UnitRow unit,
            StepRecord step,
            StepRow restart,
            Door door,
            Duration giveUpAfter,
            Counterpart counterpart) {
        Talk heard = lines.of(unit, restart, counterpart.clock());
        door.watch(heard, giveUpAfter.plus(BEYOND).dividedBy(counterpart.pace()))
                .ifPresent(
                        watch -> {
                            open.put(unit.id(), watch);
                            if (!step.name().disturbs()) {
                                heard.overheard(
                                        "(what it said on its console line before this was not"
                                                + " heard)");
                            }
                        });
    }

    private static Optional<StepRow> restartOf(Standing standing, UnitPlan plan, StepRecord step) {
        if (plan.hop(step.hop()).hop().restarts() == 0) {
            return Optional.empty();
        }
        return switch (step.name()) {
            case RESTART_STANDBYS, RESTART, SECOND_RESTART -> Optional.of(standing.row(step));
            case COME_BACK -> standing.find(step.hop(), StepName.RESTART);
            case COME_BACK_AGAIN -> standing.find(step.hop(), StepName.SECOND_RESTART);
            default -> Optional.empty();
        };
    }

    /** Once the outcome of a step is written. */
    void after(UnitRow unit, StepRecord step, StepOutcome outcome) {
        boolean ends =
                switch (outcome) {
                    case StepOutcome.Failed failed -> failed.hope() == Hope.NONE;
                    case StepOutcome.Done _, StepOutcome.NotNeeded _ ->
                            step.name() == StepName.PROVE;
                    case StepOutcome.Waiting _ -> false;
                };
        if (ends) {
            end(unit.id());
        }
    }

    /** Whoever took the unit over wants its console line too. */
    void end(long unitId) {
        Optional.ofNullable(open.remove(unitId)).ifPresent(ConsoleWatch::close);
    }

    /** What a device complained of on its console line since the newest restarts of a hop. */
    List<String> complaints(Standing standing, StepRecord step) {
        lines.write();
        Dialect dialect = fleet.dialectOf(standing.unit().name);
        return Stream.of(StepName.RESTART_STANDBYS, StepName.RESTART, StepName.SECOND_RESTART)
                .flatMap(name -> standing.find(step.hop(), name).stream())
                .flatMap(row -> overheard(row).stream())
                .flatMap(text -> dialect.complaintsIn(text).stream())
                .distinct()
                .toList();
    }

    private List<String> overheard(StepRow row) {
        Optional<Intent> order = row.intent();
        return order.map(intent -> talk.overheard(row.id(), intent.at())).orElse(List.of());
    }

    @PreDestroy
    void close() {
        open.keySet().forEach(this::end);
    }
}
