package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.time.Duration;

/** What proving came to. */
public sealed interface Proof {
    record Proven(String expected, String seen, Evidence evidence) implements Proof {}

    /**
     * @param hope whether the step is tried again by itself
     */
    record Unproven(Trouble trouble, Hope hope) implements Proof {
        Unproven(Trouble trouble) {
            this(trouble, Hope.NONE);
        }
    }

    record NotYet(String seen, Duration again) implements Proof {}
}
