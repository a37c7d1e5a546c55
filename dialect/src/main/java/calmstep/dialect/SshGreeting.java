package calmstep.dialect;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Optional;

/**
 * The line that an SSH server sends before anybody signs in (RFC 4253, section 4.2). Nothing is
 * sent to it.
 */
public final class SshGreeting {
    /** A server may send other lines first; so much is looked through. */
    private static final int MOST_BYTES = 4_096;

    private SshGreeting() {}

    /**
     * @return the line, as {@code SSH-2.0-…}; empty when nobody answers in time, or something that
     *     is not SSH
     */
    public static Optional<String> of(String host, int port, Duration within) {
        try (Socket socket = new Socket()) {
            socket.connect(new InetSocketAddress(host, port), (int) within.toMillis());
            socket.setSoTimeout((int) within.toMillis());
            return greeting(socket.getInputStream());
        } catch (IOException silent) {
            return Optional.empty();
        }
    }

    private static Optional<String> greeting(InputStream in) throws IOException {
        StringBuilder line = new StringBuilder();
        for (int i = 0; i < MOST_BYTES; i++) {
            int c = in.read();
            if (c < 0) {
                return Optional.empty();
            }
            if (c != '\n') {
                line.append((char) c);
                continue;
            }
            String text =
                    new String(
                                    line.toString().getBytes(StandardCharsets.ISO_8859_1),
                                    StandardCharsets.UTF_8)
                            .strip();
            if (text.startsWith("SSH-")) {
                return Optional.of(text);
            }
            line.setLength(0);
        }
        return Optional.empty();
    }
}
