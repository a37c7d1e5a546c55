package calmstep.practice;

import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;

/** Does what happens to stand-ins later, one thing after the other; a fault in it is told. */
final class OneThread {
    private final ScheduledExecutorService timer;
    private final String name;

    OneThread(String name) {
        this.name = name;
        this.timer =
                Executors.newSingleThreadScheduledExecutor(
                        task -> Thread.ofPlatform().daemon().name(name).unstarted(task));
    }

    void now(Runnable task) {
        timer.execute(() -> told(task));
    }

    void after(Duration wait, Runnable task) {
        Future<?> _ = timer.schedule(() -> told(task), wait.toMillis(), TimeUnit.MILLISECONDS);
    }

    void each(Duration time, Runnable task) {
        Future<?> _ =
                timer.scheduleAtFixedRate(
                        () -> told(task), 0, time.toMillis(), TimeUnit.MILLISECONDS);
    }

    void end() {
        timer.shutdownNow();
    }

    private void told(Runnable task) {
        try {
            task.run();
        } catch (RuntimeException fault) {
            System.err.printf("%s has a fault: %s%n", name, fault);
            fault.printStackTrace(System.err);
        }
    }
}
