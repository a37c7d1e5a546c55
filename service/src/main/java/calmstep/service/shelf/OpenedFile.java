package calmstep.service.shelf;

import calmstep.core.device.ImageSource;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A file of the shelf that is sent to a device. */
final class OpenedFile implements ImageSource.Opened {
    private final InputStream in;

    OpenedFile(Path file) {
        try {
            in = Files.newInputStream(file);
        } catch (IOException gone) {
            throw new UncheckedIOException(gone);
        }
    }

    @Override
    public int next(byte[] room) {
        try {
            return in.read(room);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    @Override
    public void close() {
        try {
            in.close();
        } catch (IOException alreadyGone) {
            Thread.yield();
        }
    }
}
