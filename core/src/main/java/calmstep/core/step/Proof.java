package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.time.Duration;

/** What proving came to. */
public sealed interface Proof {
    record Proven(String expected, String seen, Evidence evidence) implements Proof {}

    record Unproven(Trouble trouble) implements Proof {}

    record NotYet(String seen, Duration again) implements Proof {}
}
