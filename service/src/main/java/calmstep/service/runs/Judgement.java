package calmstep.service.runs;

import calmstep.core.step.StepName;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitState;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.EnumSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** A person's word about what is odd when a unit's watch is over. */
@Component
class Judgement {
    /** What can show something odd: the proof of a hop, and the watch behind the last one. */
    static final Set<StepName> SHOW = EnumSet.of(StepName.PROVE, StepName.SOAK);

    private final Runs runs;
    private final StepRows steps;
    private final Events events;
    private final Wake wake;
    private final Clock clock;

    Judgement(Runs runs, StepRows steps, Events events, Wake wake, Clock clock) {
        this.runs = runs;
        this.steps = steps;
        this.events = events;
        this.wake = wake;
        this.clock = clock;
    }

    /**
     * What a person makes of what is odd about a unit that was watched.
     *
     * @param accepts otherwise it is stuck, and can still go back
     */
    RunView of(String runName, String unitName, boolean accepts, String why, String who) {
        Runs.mustSayWhy(why, accepts ? "it is borne" : "it is not borne");
        UnitRow unit =
                runs.change(
                        runName,
                        unitName,
                        (run, row) -> {
                            if (!row.isDoubtful()) {
                                throw Refusal.conflict(
                                        "Nothing about %s waits for a judgement; it is %s."
                                                .formatted(row.name, row.state));
                            }
                            String odd = Objects.requireNonNull(row.doubt).replace("\n", "; ");
                            row.judgedBy = who;
                            row.judgedAt = clock.instant();
                            row.judgedWhy = why;
                            if (accepts) {
                                row.accepted = (row.accepted + "\n" + row.doubt).stripLeading();
                            } else {
                                refuse(row, odd, "%s does not bear it: %s".formatted(who, why));
                            }
                            events.append(
                                    Optional.of(run.id()),
                                    row.name,
                                    "unit",
                                    who,
                                    "%s %s what is odd about %s (%s): %s"
                                            .formatted(
                                                    who,
                                                    accepts ? "accepts" : "refuses",
                                                    row.name,
                                                    odd,
                                                    why));
                        });
        wake.unit(unit.id());
        return runs.find(runName);
    }

    private void refuse(UnitRow row, String odd, String word) {
        List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(row.id());
        StepRow watch =
                rows.stream()
                        .filter(step -> step.stepState() == StepState.DONE)
                        .filter(step -> SHOW.contains(StepName.parse(step.name)))
                        .reduce((_, last) -> last)
                        .orElseThrow();
        watch.state = StepState.FAILED.toString();
        watch.seen = odd;
        watch.remedy =
                word
                        + ". Let it go back to what it ran, mend the cause and watch it again, or"
                        + " set it aside.";
        row.doubt = null;
        row.state = UnitState.STUCK.toString();
    }
}
