package calmstep.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A file that was named on the command line. */
final class GivenFile {
    private GivenFile() {}

    /** Writes it whole; what is there is replaced. */
    static void write(Path file, String text) {
        try {
            Files.writeString(file, text);
        } catch (IOException unwritten) {
            throw new Problem(
                    Problem.STOPS,
                    "%s could not be written: %s.".formatted(file, unwritten.getMessage()));
        }
    }

    /** As it is: the service knows what it is written in. */
    static byte[] bytes(Path file) {
        try {
            return Files.readAllBytes(file);
        } catch (java.nio.file.NoSuchFileException missing) {
            throw new Problem(Problem.WRONG_CALL, "There is no file %s here.".formatted(file));
        } catch (IOException unreadable) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "%s cannot be read: %s.".formatted(file, unreadable.getMessage()));
        }
    }

    static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (java.nio.file.NoSuchFileException missing) {
            throw new Problem(Problem.WRONG_CALL, "There is no file %s here.".formatted(file));
        } catch (IOException unreadable) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "%s cannot be read as text: %s.".formatted(file, unreadable.getMessage()));
        }
    }
}
