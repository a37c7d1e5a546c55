package calmstep.core.step;

/** What is to be done with a unit now. */
public sealed interface Next {
    /** Carry this step out (or on). */
    record Carry(StepRecord step) implements Next {}

    /** Wait for a person's word before this step; {@code question} says who is affected. */
    record AtGate(StepRecord step, String question) implements Next {}

    /** The part's turn has come: begin it with this step, if those that are in work let it. */
    record Begin(StepRecord step, int turn) implements Next {}

    /** Its turn comes later. */
    record NotYet(Turn turn) implements Next {}

    /** It would not end inside its window any more; a person decides. */
    record Missed(Turn turn) implements Next {}

    /**
     * It is proven and was watched, and something about it is odd; a person accepts or refuses it
     * before this step.
     */
    record Doubtful(StepRecord step) implements Next {}

    /** A step failed; a person decides. */
    record Stuck(StepRecord step) implements Next {}

    record Settled() implements Next {}
}
