package calmstep.core.step;

import calmstep.core.device.Trouble;
import java.time.Duration;
import java.util.Optional;

/** What a look came to. */
public sealed interface Looked {
    /** What the step is for is so already; nothing was done. */
    record NotNeeded(String seen) implements Looked {}

    /** The step is a look alone, and it is as expected. */
    record Shown(String expected, String seen, Evidence evidence) implements Looked {}

    /** Act. {@code mark} goes into the intent; empty for acts that may be repeated. */
    record ToDo(String expected, String seen, Optional<String> mark) implements Looked {
        ToDo(String expected, String seen) {
            this(expected, seen, Optional.empty());
        }
    }

    record Impossible(Trouble trouble) implements Looked {}

    /** Cannot tell yet; look again after {@code again}. */
    record NotYet(String seen, Duration again) implements Looked {}
}
