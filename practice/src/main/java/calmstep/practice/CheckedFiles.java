package calmstep.practice;

import calmstep.practice.PracticeImage.Checked;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Remembers what the check of a file gave until the file changes. A fleet that is switched on
 * starts each machine from an image of its own: weighing all of them each time is most of what a
 * start would cost.
 */
final class CheckedFiles {
    /** Of what was written this lately, a later change may carry the same time. */
    private static final long LATELY_MILLIS = 1000;

    private static final Map<Path, Known> KNOWN = new ConcurrentHashMap<>();

    private record Known(long size, FileTime written, Checked checked) {}

    private CheckedFiles() {}

    /** As {@link PracticeImage#weigh}. */
    static Checked check(Path file) {
        Path path = file.toAbsolutePath().normalize();
        try {
            BasicFileAttributes now = Files.readAttributes(path, BasicFileAttributes.class);
            Known known = KNOWN.get(path);
            if (known != null
                    && known.size() == now.size()
                    && known.written().equals(now.lastModifiedTime())) {
                return known.checked();
            }
            Checked checked = PracticeImage.weigh(path);
            if (now.lastModifiedTime().toMillis() + LATELY_MILLIS < Instant.now().toEpochMilli()) {
                KNOWN.put(path, new Known(now.size(), now.lastModifiedTime(), checked));
            }
            return checked;
        } catch (IOException gone) {
            KNOWN.remove(path);
            return PracticeImage.weigh(path);
        }
    }

    /** A copy that is known as the file itself is, while nobody writes to it. */
    static void copy(Path from, Path to) throws IOException {
        Checked checked = check(from);
        Path path = to.toAbsolutePath().normalize();
        Files.copy(
                from,
                path,
                StandardCopyOption.REPLACE_EXISTING,
                StandardCopyOption.COPY_ATTRIBUTES);
        if (from.getFileName().equals(to.getFileName())) {
            KNOWN.put(path, new Known(Files.size(path), Files.getLastModifiedTime(path), checked));
        }
    }
}
