package calmstep.check;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.junit.platform.engine.TestExecutionResult;
import org.junit.platform.engine.support.descriptor.ClassSource;
import org.junit.platform.launcher.TestExecutionListener;
import org.junit.platform.launcher.TestIdentifier;

/**
 * Writes down of each test class how long it took, and the three things that it waited for longest:
 * a line a class in the file that the property {@code calmstep.account} names, with seconds, name,
 * seconds waited, and words, separated by tabs. JUnit finds it by itself.
 */
public final class Account implements TestExecutionListener {
    private static final Map<String, Map<String, Duration>> WAITS = new ConcurrentHashMap<>();
    private static final InheritableThreadLocal<String> CLASS = new InheritableThreadLocal<>();
    private static final int NAMED = 3;

    private final Map<String, Long> began = new ConcurrentHashMap<>();

    static void waited(String what, Duration time) {
        String name = CLASS.get();
        if (name != null) {
            WAITS.computeIfAbsent(name, _ -> new ConcurrentHashMap<>())
                    .merge(what, time, Duration::plus);
        }
    }

    @Override
    public void executionStarted(TestIdentifier test) {
        if (isClass(test)) {
            CLASS.set(name(test));
            began.put(test.getUniqueId(), System.nanoTime());
        }
    }

    @Override
    public void executionFinished(TestIdentifier test, TestExecutionResult result) {
        Long since = isClass(test) ? began.remove(test.getUniqueId()) : null;
        String file = System.getProperty("calmstep.account");
        if (since == null || file == null) {
            return;
        }
        Map<String, Duration> waits = WAITS.getOrDefault(name(test), Map.of());
        double waited = waits.values().stream().mapToLong(Duration::toMillis).sum() / 1000.0;
        String words =
                waits.entrySet().stream()
                        .sorted(Map.Entry.<String, Duration>comparingByValue().reversed())
                        .limit(NAMED)
                        .map(
                                e ->
                                        String.format(
                                                Locale.ROOT,
                                                "%.0f s until %s",
                                                e.getValue().toMillis() / 1000.0,
                                                e.getKey()))
                        .collect(Collectors.joining("; "));
        write(
                Path.of(file),
                String.format(
                        Locale.ROOT,
                        "%.1f\t%s\t%.1f\t%s%n",
                        (System.nanoTime() - since) / 1e9,
                        name(test),
                        waited,
                        words));
    }

    private static synchronized void write(Path file, String line) {
        try {
            Files.writeString(file, line, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        } catch (IOException full) {
            throw new UncheckedIOException(full);
        }
    }

    private static boolean isClass(TestIdentifier test) {
        return test.getSource().filter(ClassSource.class::isInstance).isPresent();
    }

    private static String name(TestIdentifier test) {
        return test.getSource()
                .map(ClassSource.class::cast)
                .map(source -> source.getClassName().replaceAll(".*\\.", ""))
                .orElse("");
    }
}
