package calmstep.check;

import java.time.Duration;
import java.util.concurrent.Callable;
import java.util.function.Predicate;

/** Waits until something is so. What was waited for, and how long, is in the account. */
public final class Await {
    /**
     * A machine whose host takes its processors away needs many times what is usual; a test that
     * waits in vain waits that much longer, and nothing else does.
     */
    public static final int PATIENCE = 10;

    private static final long SHORTEST_PAUSE_MILLIS = 20;

    /** Looking more often would keep a busy machine from what is waited for. */
    private static final long LONGEST_PAUSE_MILLIS = 250;

    /** A wait lasts this part longer than it must, at most. */
    private static final int PART = 10;

    private Await() {}

    /** A condition, which may fail as what it asks may. */
    @FunctionalInterface
    public interface Condition {
        boolean isSo() throws Exception;
    }

    /**
     * @param usual how long it takes at most on a quiet machine; ten times that is the limit
     * @throws AssertionError where it is still not so; it says what was waited for
     */
    public static void until(Duration usual, String what, Condition condition) {
        until(usual, what, condition::isSo, so -> so);
    }

    /**
     * @param look gives what is seen
     * @param enough whether that is what was waited for
     * @return what was seen last
     */
    public static <T> T until(Duration usual, String what, Callable<T> look, Predicate<T> enough) {
        long began = System.nanoTime();
        long deadline = began + usual.multipliedBy(PATIENCE).toNanos();
        try {
            while (true) {
                T seen = look.call();
                if (enough.test(seen)) {
                    return seen;
                }
                if (System.nanoTime() > deadline) {
                    throw new AssertionError(
                            "Expected within %s s: %s. Seen last: %s"
                                    .formatted(
                                            usual.multipliedBy(PATIENCE).toSeconds(), what, seen));
                }
                Thread.sleep(pauseAfter(Duration.ofNanos(System.nanoTime() - began)));
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new AssertionError("Told to stop while waiting for: " + what, stopped);
        } catch (RuntimeException fault) {
            throw fault;
        } catch (Exception fault) {
            throw new AssertionError("Waiting for: " + what, fault);
        } finally {
            Account.waited(what, Duration.ofNanos(System.nanoTime() - began));
        }
    }

    private static long pauseAfter(Duration waited) {
        return Math.clamp(waited.toMillis() / PART, SHORTEST_PAUSE_MILLIS, LONGEST_PAUSE_MILLIS);
    }

    /** Lets time pass where the passing of time is what is tested. */
    public static void pass(Duration time, String why) {
        try {
            Thread.sleep(time);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new AssertionError("Told to stop while time passed: " + why, stopped);
        } finally {
            Account.waited(why, time);
        }
    }
}
