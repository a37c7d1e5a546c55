package calmstep.practice;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * Remembers what a look at a file gave until the file changes. Devices are asked for the digests of
 * their files again and again, and a fleet that is switched on starts each machine from an image of
 * its own: weighing all the bytes each time is most of what that would cost.
 */
final class Remembered<T> {
    /** Of what was written this lately, a later change may carry the same time. */
    private static final long LATELY_MILLIS = 1000;

    private final Map<Path, Known<T>> known = new ConcurrentHashMap<>();
    private final Function<Path, T> look;

    private record Known<T>(long size, FileTime written, T seen) {}

    Remembered(Function<Path, T> look) {
        this.look = look;
    }

    /** What the look gives, or gave while the file was the same. */
    T of(Path file) {
        Path path = file.toAbsolutePath().normalize();
        try {
            BasicFileAttributes now = Files.readAttributes(path, BasicFileAttributes.class);
            Known<T> before = known.get(path);
            if (before != null
                    && before.size() == now.size()
                    && before.written().equals(now.lastModifiedTime())) {
                return before.seen();
            }
            T seen = look.apply(path);
            if (now.lastModifiedTime().toMillis() + LATELY_MILLIS < Instant.now().toEpochMilli()) {
                known.put(path, new Known<>(now.size(), now.lastModifiedTime(), seen));
            }
            return seen;
        } catch (IOException gone) {
            known.remove(path);
            return look.apply(path);
        }
    }

    /** A copy that was just made is known as the file itself is, while nobody writes to it. */
    void ofCopy(Path file, Path copy) throws IOException {
        Path path = copy.toAbsolutePath().normalize();
        known.put(path, new Known<>(Files.size(path), Files.getLastModifiedTime(path), of(file)));
    }
}
