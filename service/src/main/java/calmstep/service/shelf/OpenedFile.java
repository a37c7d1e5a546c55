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
    private final Copy copy;

    OpenedFile(Copies copies, String address, Path file) {
        try {
            in = Files.newInputStream(file);
            copy =
                    copies.begin(
                            file.getFileName().toString(), address, "push", 0, Files.size(file));
        } catch (IOException gone) {
            throw new UncheckedIOException(gone);
        }
    }

    @Override
    public int next(byte[] room) {
        try {
            int count = in.read(room, 0, copy.pieceOf(room.length));
            copy.sends(Math.max(0, count));
            return count;
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    @Override
    public void close() {
        copy.close();
        try {
            in.close();
        } catch (IOException alreadyGone) {
            // It is gone already, which is what closing is for.
        }
    }
}
