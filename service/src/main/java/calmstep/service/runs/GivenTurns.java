package calmstep.service.runs;

import calmstep.core.plan.NightPlanning;
import calmstep.core.plan.Start;
import calmstep.core.step.Neighbours;
import calmstep.core.step.Turn;
import calmstep.core.window.Window;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import calmstep.service.windows.Windows;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;

/** When a unit begins its next part, by a person's word. */
@Component
class GivenTurns {
    /** A turn that a person gives is open this long. */
    private static final Duration GIVEN_FOR = Duration.ofHours(24);

    private final Runs runs;
    private final StepRows steps;
    private final Windows windows;
    private final Events events;
    private final Wake wake;
    private final ReachedSites reached;
    private final ApplicationEventPublisher publisher;
    private final Json json;
    private final Clock clock;

    GivenTurns(
            Runs runs,
            StepRows steps,
            Windows windows,
            Events events,
            Wake wake,
            ReachedSites reached,
            ApplicationEventPublisher publisher,
            Json json,
            Clock clock) {
        this.runs = runs;
        this.steps = steps;
        this.windows = windows;
        this.events = events;
        this.wake = wake;
        this.reached = reached;
        this.publisher = publisher;
        this.json = json;
        this.clock = clock;
    }

    /**
     * Says when a unit begins its next part.
     *
     * @param begins {@code now}, {@code next-window} (of its site, long enough for it), or a moment
     * @param why why it is begun outside the windows of its site; may be empty where it is not
     */
    RunView turn(String runName, String unitName, String begins, String why, String who) {
        Start start = Refusal.reading(() -> Start.parse(begins));
        Reason.plain(why);
        mustBeAhead(start);
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            List<Turn> turns = new ArrayList<>(json.read(row.turns, Runs.TURNS));
                            if (row.begun >= turns.size()) {
                                throw Refusal.conflict(
                                        turns.isEmpty()
                                                ? "%s has no turns: its plan has no nights, so it begins when somebody says go."
                                                        .formatted(row.name)
                                                : "%s has begun the last part of its path; there is nothing left to say when."
                                                        .formatted(row.name));
                            }
                            Turn before = turns.get(row.begun);
                            Turn turn = decided(row, given(row, before, start), why);
                            turns.set(row.begun, turn);
                            row.turns = json.write(turns);
                            row.beside =
                                    json.write(json.read(row.beside, Neighbours.class).onItsOwn());
                            row.waitsFor = "";
                            row.state =
                                    StepRow.stateOf(steps.findByUnitIdOrderByOrdinal(row.id()))
                                            .toString();
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s says that %s begins at %s, not at %s.%s"
                                            .formatted(
                                                    who,
                                                    row.name,
                                                    Turn.words(turn.begins()),
                                                    Turn.words(before.begins()),
                                                    outside(turn, why)));
                            publisher.publishEvent(
                                    new SitesConcerned(
                                            run.id(),
                                            reached.ofUnit(row.id()),
                                            SitesConcerned.Occasion.MOVED));
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    private void mustBeAhead(Start start) {
        if (start.isPast(clock.instant())) {
            throw Refusal.wrong(
                    "Expected a moment that is still to come, saw %s. Say another one, now, or next-window."
                            .formatted(start.words()));
        }
    }

    /** Outside its windows only with a reason. */
    private Turn decided(UnitRow row, Turn turn, String why) {
        String site = json.read(row.beside, Neighbours.class).site();
        Optional<String> outside =
                windows.whyNot(site, turn.begins(), turn.begins().plus(turn.needs()));
        outside.ifPresent(
                bars ->
                        Runs.mustSayWhy(
                                why,
                                "%s is begun outside the windows of its site (%s)"
                                        .formatted(row.name, bars)));
        return outside.map(turn::although)
                .orElseGet(
                        () ->
                                windows.next(site, turn.begins(), turn.needs())
                                        .filter(w -> !w.opens().isAfter(turn.begins()))
                                        .map(w -> turn.closingAt(w.closes()))
                                        .orElse(turn));
    }

    private static String outside(Turn turn, String why) {
        return turn.outside().isEmpty()
                ? ""
                : " That is outside its windows: %s. %s".formatted(turn.outside(), why);
    }

    private Turn given(UnitRow row, Turn turn, Start start) {
        Instant now = clock.instant();
        return switch (start) {
            case Start.Now() -> turn.between(now, now.plus(GIVEN_FOR));
            case Start.At(Instant moment) -> turn.between(moment, moment.plus(GIVEN_FOR));
            case Start.NextWindow() -> {
                String site = json.read(row.beside, Neighbours.class).site();
                Window window =
                        windows.next(site, now, turn.needs())
                                .orElseThrow(
                                        () ->
                                                Refusal.conflict(
                                                        "%s needs %s min, and %s has no window of that length in the next %s days. Change the windows, or say a moment."
                                                                .formatted(
                                                                        row.name,
                                                                        turn.needs().toMinutes(),
                                                                        site,
                                                                        NightPlanning.AHEAD
                                                                                .toDays())));
                yield turn.between(
                        window.opens().isAfter(now) ? window.opens() : now, window.closes());
            }
        };
    }
}
