package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * The storage of one machine: a folder. Beside it lie what is plugged into it and what is in its
 * working memory alone.
 */
public final class Flash {
    private static final Remembered<Optional<String>> DIGESTS = new Remembered<>(Flash::weigh);
    private final Path folder;
    private final long bytes;

    Flash(Path folder, long bytes) {
        this.folder = folder;
        this.bytes = bytes;
    }

    /** As it is when the machine is first switched on. */
    void prepare(MachineDescription description, Path images) throws IOException {
        Files.createDirectories(folder);
        for (String file : description.files()) {
            copy(images.resolve(file), file(file));
        }
        Files.createDirectories(stick());
        for (String file : description.outfit().plugged()) {
            copy(images.resolve(file), stick().resolve(file));
        }
        addHollowFiles(description);
    }

    /** With the time of the file itself, so that what is known of it holds for the copy too. */
    private static void copy(Path from, Path to) throws IOException {
        Files.copy(
                from, to, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.COPY_ATTRIBUTES);
        DIGESTS.ofCopy(from, to);
        if (from.getFileName().equals(to.getFileName())) {
            PracticeImage.CHECKED.ofCopy(from, to);
        }
    }

    private void addHollowFiles(MachineDescription description) throws IOException {
        for (Map.Entry<String, Long> other : description.otherFiles().entrySet()) {
            try (RandomAccessFile hollow =
                    new RandomAccessFile(file(other.getKey()).toFile(), "rw")) {
                hollow.setLength(other.getValue());
            }
        }
    }

    /** What lies on it, name to size. */
    public Map<String, Long> files() {
        Map<String, Long> files = new TreeMap<>();
        try (Stream<Path> paths = Files.list(folder)) {
            for (Path path : paths.toList()) {
                files.put(path.getFileName().toString(), Files.size(path));
            }
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
        return files;
    }

    long freeBytes() {
        return bytes - files().values().stream().mapToLong(Long::longValue).sum();
    }

    Path folder() {
        return folder;
    }

    /** Where a file of it lies, or would. */
    public Path file(String name) {
        return folder.resolve(name);
    }

    void delete(String name) {
        try {
            Files.deleteIfExists(file(name));
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** Where the files of a stick in the machine's socket lie. */
    public Path stick() {
        return folder.resolveSibling("stick");
    }

    /** Where a file lies that is in the machine's working memory alone. */
    Path memory() {
        return folder.resolveSibling("memory");
    }

    /** SHA-256 of the stored bytes; empty when there is no such file. */
    Optional<String> sha256(String name) {
        return sha256(file(name));
    }

    static Optional<String> sha256(Path file) {
        return DIGESTS.of(file);
    }

    private static Optional<String> weigh(Path file) {
        MessageDigest digest = PracticeImage.newSha256();
        try (InputStream in = new DigestInputStream(Files.newInputStream(file), digest)) {
            in.transferTo(OutputStream.nullOutputStream());
        } catch (IOException gone) {
            return Optional.empty();
        }
        return Optional.of(HexFormat.of().formatHex(digest.digest()));
    }
}
