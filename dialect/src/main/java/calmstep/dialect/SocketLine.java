package calmstep.dialect;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;

/** A line of plain characters over TCP, as a console server gives one a port. */
final class SocketLine implements Line {
    private final Socket socket;
    private final AutoCloseable way;
    private final InputStream in;
    private final byte[] buffer = new byte[8192];

    /**
     * @param way what goes with the line
     */
    SocketLine(Socket socket, AutoCloseable way) throws IOException {
        this.socket = socket;
        this.way = way;
        in = socket.getInputStream();
    }

    /** A connection that is up within a time, and waits no longer for what it is to receive. */
    static Socket knock(InetSocketAddress at, Duration within) throws IOException {
        Socket socket = new Socket();
        try {
            socket.connect(at, (int) within.toMillis());
            socket.setSoTimeout((int) within.toMillis());
            return socket;
        } catch (IOException silent) {
            socket.close();
            throw silent;
        }
    }

    @Override
    public void send(String text) {
        try {
            socket.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
        } catch (IOException gone) {
            throw new LineEnded();
        }
    }

    @Override
    public String receive(Duration atMost) {
        try {
            socket.setSoTimeout((int) Math.max(1, atMost.toMillis()));
            int count = in.read(buffer);
            if (count < 0) {
                throw new LineEnded();
            }
            return new String(buffer, 0, count, StandardCharsets.UTF_8);
        } catch (SocketTimeoutException nothing) {
            return "";
        } catch (IOException gone) {
            throw new LineEnded();
        }
    }

    @Override
    public void close() {
        try (way) {
            socket.close();
        } catch (Exception gone) {
            // The line is lost already; there is nothing left to close.
        }
    }
}
