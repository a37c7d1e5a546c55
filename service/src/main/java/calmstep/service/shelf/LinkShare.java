package calmstep.service.shelf;

import java.time.Duration;

/** What may go over a link: bytes take their turn, so that all copies together keep to its rate. */
final class LinkShare {
    private static final long SECOND = 1_000_000_000L;

    /**
     * What came short may be made up for so long, no longer: a pause is not followed by a flood.
     */
    private static final long MADE_UP = SECOND / 4;

    private final long bytesPerSecond;
    private long free = System.nanoTime();

    LinkShare(long bytesPerSecond) {
        this.bytesPerSecond = bytesPerSecond;
    }

    long bytesPerSecond() {
        return bytesPerSecond;
    }

    /** Waits until as many bytes more are within the rate. */
    void take(long bytes) {
        long wait;
        synchronized (this) {
            long now = System.nanoTime();
            free = Math.max(free, now - MADE_UP) + bytes * SECOND / bytesPerSecond;
            wait = free - now;
        }
        if (wait > 0) {
            try {
                Thread.sleep(Duration.ofNanos(wait));
            } catch (InterruptedException stop) {
                Thread.currentThread().interrupt();
            }
        }
    }
}
