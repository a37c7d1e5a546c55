package calmstep.core.step;

/**
 * What is recorded of one step.
 *
 * @param hop      ordinal of the hop, from 1
 * @param attempts how often it was begun
 */
public record StepRecord(int hop, StepName name, StepState state, int attempts) {
    public StepRecord with(StepState newState) {
        return new StepRecord(hop, name, newState, attempts);
    }
}
