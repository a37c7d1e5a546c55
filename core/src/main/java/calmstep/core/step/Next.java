package calmstep.core.step;

/** What is to be done with a unit now. */
public sealed interface Next {
    /** Carry this step out (or on). */
    record Carry(StepRecord step) implements Next {}

    /** Wait for a person's word before this step; {@code question} says who is affected. */
    record AtGate(StepRecord step, String question) implements Next {}

    /** A step failed; a person decides. */
    record Stuck(StepRecord step) implements Next {}

    record Settled() implements Next {}
}
