package calmstep.core.patience;

import java.time.Duration;

/**
 * How long to wait behind a try that failed: twice as long each time, up to a longest pause.
 *
 * @param first behind the first try
 */
public record GrowingPause(Duration first, Duration longest) {
    private static final int DOUBLED_AT_MOST = 20;

    /**
     * @param tries how many there were, from 1
     */
    public Duration behind(int tries) {
        Duration pause = first.multipliedBy(1L << Math.clamp(tries - 1, 0, DOUBLED_AT_MOST));
        return pause.compareTo(longest) > 0 ? longest : pause;
    }
}
