package calmstep.core.step;

import calmstep.core.device.DeviceTrouble;
import java.time.Clock;
import java.time.Duration;

/** Plays look, act and prove of one step, with the intent written down before the act. */
public final class StepRunner {
    private final Clock clock;

    public StepRunner(Clock clock) {
        this.clock = clock;
    }

    /**
     * Takes one step one try further. What the journal throws comes out: without a journal nothing
     * is done.
     */
    public StepOutcome carry(StepName name, Scene scene, Journal journal) {
        Step step = Steps.of(name, scene);
        try {
            journal.looking();
            return switch (step.look(scene)) {
                case Looked.NotNeeded(String seen) -> new StepOutcome.NotNeeded(seen);
                case Looked.Shown(String expected, String seen, Evidence evidence) ->
                        new StepOutcome.Done(expected, seen, evidence);
                case Looked.Impossible(var trouble) -> new StepOutcome.Failed(trouble, Hope.NONE);
                case Looked.NotYet(String seen, Duration again) ->
                        new StepOutcome.Waiting(seen, again);
                case Looked.ToDo toDo -> actAndProve(step, toDo, scene, journal);
            };
        } catch (DeviceTrouble trouble) {
            return new StepOutcome.Failed(trouble.trouble(), hope(name, trouble.kind()));
        }
    }

    /**
     * A device that answered and does so no more may have restarted by itself; but where it is
     * silent at its check, or when it is to be disturbed, a person is asked soon.
     */
    private static Hope hope(StepName name, DeviceTrouble.Kind kind) {
        return switch (kind) {
            case NO_ANSWER ->
                    name == StepName.CHECK || name == StepName.CHOOSE_BOOT
                            ? Hope.SOON
                            : Hope.WHEN_IT_IS_BACK;
            case TIMED_OUT, LINK_LOST -> name == StepName.STAGE ? Hope.COPIED_AGAIN : Hope.SOON;
            case SOURCE_NOT_REACHED -> Hope.SOON;
            // Many a device says of a copy that was cut that it failed, and no more.
            case REFUSED_BY_DEVICE -> name == StepName.STAGE ? Hope.COPIED_AGAIN : Hope.NONE;
            case SIGN_IN_REFUSED, HOST_KEY_CHANGED, UNKNOWN_QUESTION, UNREADABLE_ANSWER ->
                    Hope.NONE;
        };
    }

    private StepOutcome actAndProve(Step step, Looked.ToDo toDo, Scene scene, Journal journal) {
        journal.acting(
                new Intent(clock.instant(), toDo.mark().orElse("")), toDo.expected(), toDo.seen());
        step.act(scene);
        journal.proving();
        return switch (step.prove(scene)) {
            case Proof.Proven(String expected, String seen, Evidence evidence) ->
                    new StepOutcome.Done(
                            expected.isEmpty() ? toDo.expected() : expected, seen, evidence);
            case Proof.Unproven(var trouble, Hope hope) -> new StepOutcome.Failed(trouble, hope);
            case Proof.NotYet(String seen, Duration again) -> new StepOutcome.Waiting(seen, again);
        };
    }
}
