package calmstep.core.step;

import java.util.Optional;

/**
 * What is recorded of one step.
 *
 * @param hop ordinal of the hop, from 1
 * @param detour 0 for what was planned; steps that a person's word put in between count from 1, in
 *     the order of the words
 * @param attempts how often it was begun
 */
public record StepRecord(int hop, int detour, StepName name, StepState state, int attempts) {
    /** A step that was planned. */
    public StepRecord(int hop, StepName name, StepState state, int attempts) {
        this(hop, 0, name, state, attempts);
    }

    public StepRecord with(StepState newState) {
        return new StepRecord(hop, detour, name, newState, attempts);
    }

    /**
     * The intent that counts: one whose act may not have been carried out is as good as none, where
     * giving the order twice does no harm.
     *
     * @param written the one that was written down last
     */
    public Optional<Intent> counts(Optional<Intent> written) {
        return written.filter(_ -> !(state == StepState.ACTING && name.mayBeOrderedTwice()));
    }

    /** Whether both tell of the same step. */
    boolean isSame(StepRecord other) {
        return isBeside(other) && name == other.name;
    }

    /** Whether both are steps of one hop and one detour. */
    boolean isBeside(StepRecord other) {
        return hop == other.hop && detour == other.detour;
    }
}
