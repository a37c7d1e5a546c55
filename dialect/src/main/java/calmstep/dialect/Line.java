package calmstep.dialect;

import java.time.Duration;

/** A line of characters to a device. */
interface Line extends AutoCloseable {
    void send(String text);

    /**
     * What has come since the last call; waits for the first character.
     *
     * @return empty when nothing came within {@code atMost}
     * @throws LineEnded when the other side has closed and everything was received
     */
    String receive(Duration atMost);

    @Override
    void close();

    /** The other side is gone. */
    final class LineEnded extends RuntimeException {
        LineEnded() {
            super("The line was closed by the other side");
        }
    }
}
