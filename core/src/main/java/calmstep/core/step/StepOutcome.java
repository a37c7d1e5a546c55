package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.time.Duration;

/** How one try of a step ended. */
public sealed interface StepOutcome {
    record Done(String expected, String seen, Evidence evidence) implements StepOutcome {}

    record NotNeeded(String seen) implements StepOutcome {}

    /**
     * @param hope whether it is tried again by itself
     */
    record Failed(Trouble trouble, Hope hope) implements StepOutcome {}

    /** Nothing is wrong; try again after {@code again}. */
    record Waiting(String seen, Duration again) implements StepOutcome {}
}
