package calmstep.service.runs;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BooleanSupplier;

/**
 * The clock of a rehearsal, which shows the plan's time. While a stand-in copies or starts it runs
 * as fast as the stand-ins' own clocks; while we work it runs as ours does, so that our own seconds
 * stay seconds; and where everybody waits it leaps to the moment that somebody waits for, over
 * hours and days.
 */
final class RehearsalClock extends Clock implements AutoCloseable {
    private static final Duration LOOKS_EVERY = Duration.ofMillis(8);

    private final int pace;
    private final BooleanSupplier standInsBusy;
    private final Clock ours;
    private final List<Instant> awaited = new ArrayList<>();
    private Instant shows;
    private Instant lookedAt;
    private int rate = 1;
    private int atWork;
    private boolean closed;

    RehearsalClock(Instant begins, int pace, BooleanSupplier standInsBusy, Clock ours) {
        this.shows = begins;
        this.pace = pace;
        this.standInsBusy = standInsBusy;
        this.ours = ours;
        this.lookedAt = ours.instant();
        Thread.ofVirtual().name("rehearsal-clock").start(this::run);
    }

    private void run() {
        try {
            while (!isClosed()) {
                Thread.sleep(LOOKS_EVERY);
                look();
            }
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    private synchronized boolean isClosed() {
        return closed;
    }

    private synchronized void look() {
        advance();
        if (standInsBusy.getAsBoolean()) {
            rate = pace;
        } else {
            rate = 1;
            if (atWork == 0) {
                awaited.stream()
                        .min(Instant::compareTo)
                        .filter(shows::isBefore)
                        .ifPresent(next -> shows = next);
            }
        }
        notifyAll();
    }

    private void advance() {
        Instant now = ours.instant();
        shows = shows.plus(Duration.between(lookedAt, now).multipliedBy(rate));
        lookedAt = now;
    }

    @Override
    public synchronized Instant instant() {
        advance();
        return shows;
    }

    /** Somebody begins to work. */
    synchronized void begin() {
        atWork++;
    }

    /** Somebody ends work for good. */
    synchronized void leave() {
        atWork--;
    }

    /**
     * Whoever works rests until the clock shows a moment, or the rehearsal is over, and works
     * again.
     */
    synchronized void restUntil(Instant moment) throws InterruptedException {
        atWork--;
        awaited.add(moment);
        try {
            while (!closed && instant().isBefore(moment)) {
                wait(LOOKS_EVERY.toMillis());
            }
        } finally {
            awaited.remove(moment);
            atWork++;
        }
    }

    @Override
    public void close() {
        end();
    }

    /** Ends the rehearsal: whoever rests goes on at once. Safe to repeat. */
    synchronized void end() {
        closed = true;
        notifyAll();
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return this;
    }
}
