package calmstep.service.runs;

import calmstep.core.reach.Network;
import calmstep.core.step.Neighbours;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitState;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** When a unit may begin: its gate, its turn in a window, and who is in work beside it. */
@Component
class UnitTurns {
    private final UnitLedger ledger;
    private final RunRows runs;
    private final UnitRows units;
    private final StepRows steps;
    private final Beside beside;
    private final CutOff cutOff;
    private final Events events;
    private final Json json;
    private final TransactionTemplate transactions;
    private final Clock clock;

    UnitTurns(
            UnitLedger ledger,
            RunRows runs,
            UnitRows units,
            StepRows steps,
            Beside beside,
            CutOff cutOff,
            Events events,
            Json json,
            TransactionTemplate transactions,
            Clock clock) {
        this.ledger = ledger;
        this.runs = runs;
        this.units = units;
        this.steps = steps;
        this.beside = beside;
        this.cutOff = cutOff;
        this.events = events;
        this.json = json;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * @return whether the gate was opened meanwhile
     */
    boolean askAtGate(long unitId, String question) {
        return Boolean.TRUE.equals(transactions.execute(_ -> asked(unitId, question)));
    }

    private Boolean asked(long unitId, String question) {
        UnitRow unit = units.lock(unitId);
        if (unit.gateQuestion == null) {
            unit.gateQuestion = question;
            unit.gateAskedAt = clock.instant();
            unit.state = UnitState.STAGED.toString();
            events.append(
                    Optional.of(unit.runId),
                    unit.name,
                    "gate",
                    Events.SERVICE,
                    "At the gate: " + question);
        }
        return unit.gateOpen;
    }

    /** Why a unit that could go on does not begin its part now. */
    void waits(long unitId, String why) {
        transactions.executeWithoutResult(
                _ -> {
                    UnitRow unit = units.lock(unitId);
                    if (!unit.waitsFor.equals(why)) {
                        unit.waitsFor = why;
                        events.append(
                                Optional.of(unit.runId),
                                unit.name,
                                "unit",
                                Events.SERVICE,
                                "%s waits: %s.".formatted(unit.name, why));
                    }
                });
    }

    /** Its part would not end inside the window any more. */
    void missed(long unitId, Turn turn) {
        transactions.executeWithoutResult(
                _ -> {
                    UnitRow unit = ledger.lock(unitId);
                    if (!unit.isOver() && !unit.state.equals(UnitState.HELD.toString())) {
                        unit.state = UnitState.HELD.toString();
                        unit.waitsFor =
                                "its window closes at %s, and it needs %s min; it begins when somebody says when"
                                        .formatted(
                                                Turn.words(turn.closes()),
                                                turn.needs().toMinutes());
                        tellMissed(unit);
                    }
                });
    }

    private void tellMissed(UnitRow unit) {
        events.append(
                Optional.of(unit.runId),
                unit.name,
                "unit",
                Events.SERVICE,
                "%s is held: %s.".formatted(unit.name, unit.waitsFor));
    }

    /**
     * Begins a part. @return whether those that are in work let it; otherwise it is told whom it
     * waits for
     */
    boolean begin(long unitId, int turn, Instant now) {
        Network network = cutOff.network();
        return Boolean.TRUE.equals(
                transactions.execute(
                        _ -> {
                            units.oneBeginsAtATime();
                            UnitRow unit = ledger.lock(unitId);
                            RunRow run = runs.findById(unit.runId).orElseThrow();
                            Neighbours own = beside.of(unit.beside);
                            List<Neighbours> inWork =
                                    units.besideThoseInWork(unit.runId).stream()
                                            .map(beside::of)
                                            .toList();
                            Optional<String> why =
                                    run.state.equals(RunRow.HELD) || unit.isOver()
                                            ? Optional.of("the run is held")
                                            : own.whyNotNow(inWork, ledger.limits(run))
                                                    .or(() -> whyNotWith(network, own, inWork))
                                                    .or(
                                                            () ->
                                                                    own.whyBehind(
                                                                            pilots(run, own),
                                                                            turn,
                                                                            ledger.limits(run)
                                                                                    .soak(),
                                                                            now));
                            if (why.isEmpty()) {
                                unit.begun = turn + 1;
                                unit.inWork = true;
                                unit.waitsFor = "";
                                tellOutside(unit, turn);
                            } else if (!unit.waitsFor.equals(why.get())) {
                                unit.waitsFor = why.get();
                                events.append(
                                        Optional.of(unit.runId),
                                        unit.name,
                                        "unit",
                                        Events.SERVICE,
                                        "%s waits: %s.".formatted(unit.name, why.get()));
                            }
                            return why.isEmpty();
                        }));
    }

    private static Optional<String> whyNotWith(
            Network network, Neighbours own, List<Neighbours> inWork) {
        return CutOff.whyNotWith(
                network, own.unit(), inWork.stream().map(Neighbours::unit).toList());
    }

    private void tellOutside(UnitRow unit, int turn) {
        String outside = json.read(unit.turns, Runs.TURNS).get(turn).outside();
        if (!outside.isEmpty()) {
            events.append(
                    Optional.of(unit.runId),
                    unit.name,
                    "unit",
                    Events.SERVICE,
                    "%s begins outside its windows, as it was decided: %s."
                            .formatted(unit.name, outside));
        }
    }

    private List<Neighbours.Pilot> pilots(RunRow run, Neighbours own) {
        List<UnitRow> pilots =
                own.follows().isEmpty()
                        ? List.of()
                        : units.findByRunIdAndNameIn(run.id(), own.follows());
        return pilots.stream()
                .map(
                        pilot ->
                                new Neighbours.Pilot(
                                        pilot.name,
                                        UnitState.parse(pilot.state),
                                        ended(pilot),
                                        new Standing(run, pilot, List.of()).isDoubtful()))
                .toList();
    }

    private List<Instant> ended(UnitRow unit) {
        List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unit.id());
        return json.read(unit.turns, Runs.TURNS).stream()
                .limit(unit.inWork ? unit.begun - 1 : unit.begun)
                .map(
                        turn ->
                                rows.stream()
                                        .filter(
                                                row ->
                                                        row.hop == turn.lastHop()
                                                                && UnitLedger.endsPart(row))
                                        .map(row -> row.finishedAt)
                                        .filter(Objects::nonNull)
                                        .reduce((_, last) -> last)
                                        .orElse(Instant.EPOCH))
                .toList();
    }
}
