package calmstep.service.runs;

import calmstep.core.device.UnknownQuestion;
import calmstep.core.step.StepState;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** One question of a device that nobody foresaw, answered once by a person's word. */
@Component
class OneAnswer {
    private static final int LONGEST = 200;

    private final UnitRows units;
    private final StepRows steps;
    private final Runs runs;
    private final UnitDecisions decisions;
    private final Events events;
    private final Json json;
    private final TransactionTemplate transactions;

    OneAnswer(
            UnitRows units,
            StepRows steps,
            Runs runs,
            UnitDecisions decisions,
            Events events,
            Json json,
            TransactionTemplate transactions) {
        this.units = units;
        this.steps = steps;
        this.runs = runs;
        this.decisions = decisions;
        this.events = events;
        this.json = json;
        this.transactions = transactions;
    }

    /** What is said when the device asks just this in just this step; by whom and why. */
    record Given(long step, String question, String say, String by, String why) {}

    /** The question that a unit is stuck at. */
    static Optional<String> asked(List<StepRow> rows) {
        return stuckAt(rows).flatMap(row -> UnknownQuestion.in(row.seen));
    }

    private static Optional<StepRow> stuckAt(List<StepRow> rows) {
        return rows.stream().filter(row -> row.stepState() == StepState.FAILED).findFirst();
    }

    /**
     * Tries the failed step again; the question that it met is answered so, once.
     *
     * @param say without the end of its line
     */
    RunView give(String runName, String unitName, String say, String why, String who) {
        Runs.mustSayWhy(why, "the question is answered so");
        if (say.length() > LONGEST || say.chars().anyMatch(Character::isISOControl)) {
            throw Refusal.wrong(
                    "Expected an answer of one line of at most %s characters.".formatted(LONGEST));
        }
        runs.change(
                runName,
                unitName,
                (run, unit) -> {
                    List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unit.id());
                    String question =
                            asked(rows)
                                    .orElseThrow(
                                            () ->
                                                    Refusal.conflict(
                                                            "%s is not asked anything that its dialect does not know; it is %s."
                                                                    .formatted(
                                                                            unit.name,
                                                                            unit.state)));
                    unit.answer =
                            json.write(
                                    new Given(
                                            stuckAt(rows).orElseThrow().id(),
                                            question,
                                            say,
                                            who,
                                            why));
                    events.append(
                            Optional.of(run.id()),
                            unit.name,
                            "unit",
                            who,
                            "%s has \"%s\" of %s answered with \"%s\", once: %s"
                                    .formatted(who, question, unit.name, say, why));
                });
        return decisions.retry(runName, unitName, who);
    }

    /** The same talk, which knows what to say to the one question. */
    Talk with(Talk talk, UnitRow unit, StepRow step) {
        return unit.answer == null
                ? talk
                : new Talk() {
                    @Override
                    public void typed(String text) {
                        talk.typed(text);
                    }

                    @Override
                    public void answered(String text) {
                        talk.answered(text);
                    }

                    @Override
                    public Optional<String> answerTo(String question) {
                        return take(unit.id(), step.id(), question);
                    }
                };
    }

    /** Durable before it is said, so that it is said once whatever becomes of us. */
    private Optional<String> take(long unitId, long stepId, String question) {
        return transactions.execute(
                _ -> {
                    UnitRow unit = units.lock(unitId);
                    Optional<Given> given =
                            Optional.ofNullable(unit.answer)
                                    .map(text -> json.read(text, Given.class))
                                    .filter(
                                            one ->
                                                    one.step() == stepId
                                                            && one.question().equals(question));
                    given.ifPresent(_ -> unit.answer = null);
                    return given.map(Given::say);
                });
    }
}
