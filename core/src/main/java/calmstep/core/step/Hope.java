package calmstep.core.step;

import calmstep.core.patience.GrowingPause;
import java.time.Duration;

/** Whether a step that failed is tried again by itself. */
public enum Hope {
    /** A person is asked. */
    NONE,
    /** What passes soon, or not at all: a few times. */
    SOON,
    /** A copy that was cut: a few times, in growing pauses, before a person is asked. */
    COPIED_AGAIN,
    /** The device may be starting: as long as it may take for that, in growing pauses. */
    WHEN_IT_IS_BACK;

    private static final int TRIES = 3;
    private static final GrowingPause PAUSE =
            new GrowingPause(Duration.ofSeconds(2), Duration.ofMinutes(1));
    private static final GrowingPause BETWEEN_COPIES =
            new GrowingPause(Duration.ofSeconds(20), Duration.ofMinutes(5));

    /**
     * How often it is begun in all.
     *
     * @param giveUpAfter how long the device may be away
     */
    int tries(Duration giveUpAfter) {
        return switch (this) {
            case NONE -> 0;
            case SOON, COPIED_AGAIN -> TRIES;
            case WHEN_IT_IS_BACK -> {
                int tries = 1;
                for (Duration waited = Duration.ZERO;
                        waited.compareTo(giveUpAfter) < 0;
                        waited = waited.plus(pause(tries))) {
                    tries++;
                }
                yield Math.max(TRIES, tries);
            }
        };
    }

    /**
     * How long to wait behind a try, on the device's clock.
     *
     * @param attempts how often it was begun
     */
    public Duration pause(int attempts) {
        return switch (this) {
            case NONE, SOON -> PAUSE.first();
            case COPIED_AGAIN -> BETWEEN_COPIES.behind(attempts);
            case WHEN_IT_IS_BACK -> PAUSE.behind(attempts);
        };
    }
}
