package calmstep.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;

/** A file that only its owner may read: for secrets. */
final class OwnersFile {
    private OwnersFile() {}

    /**
     * Makes it, empty.
     *
     * @throws java.nio.file.FileAlreadyExistsException when there is one
     */
    static void make(Path file) throws IOException {
        Files.createFile(
                file,
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    }
}
