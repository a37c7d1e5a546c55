package calmstep.dialect;

import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;

/**
 * Bytes that arrive on one thread and are taken as text on another. A character that is cut in two
 * waits for its rest.
 */
final class Inbox extends OutputStream {
    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    private boolean ended;

    @Override
    public synchronized void write(int b) {
        bytes.write(b);
        notifyAll();
    }

    @Override
    public synchronized void write(byte[] source, int offset, int length) {
        bytes.write(source, offset, length);
        notifyAll();
    }

    synchronized void end() {
        ended = true;
        notifyAll();
    }

    @Override
    public void close() {
        end();
    }

    /** Everything that is here; waits for the first byte. Empty when none came in time. */
    synchronized String take(Duration atMost) {
        long deadline = System.nanoTime() + atMost.toNanos();
        while (bytes.size() == 0) {
            if (ended) {
                throw new Line.LineEnded();
            }
            long left = (deadline - System.nanoTime()) / 1_000_000;
            if (left <= 0) {
                return "";
            }
            try {
                wait(left);
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                throw new Line.LineEnded();
            }
        }
        byte[] all = bytes.toByteArray();
        int whole = ended ? all.length : wholeCharacters(all);
        bytes.reset();
        bytes.write(all, whole, all.length - whole);
        return new String(all, 0, whole, StandardCharsets.UTF_8);
    }

    private static int wholeCharacters(byte[] bytes) {
        for (int back = 1; back <= Math.min(3, bytes.length); back++) {
            int b = bytes[bytes.length - back] & 0xff;
            if (b >= 0xc0) {
                int length = b >= 0xf0 ? 4 : b >= 0xe0 ? 3 : 2;
                return length > back ? bytes.length - back : bytes.length;
            }
            if (b < 0x80) {
                return bytes.length;
            }
        }
        return bytes.length;
    }
}
