package calmstep.practice;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;

/** The console line of one machine, always there as long as it has power: shows what the boot loader wrote and its prompt. */
final class ConsoleLine implements AutoCloseable {
    private final StandIn standIn;
    private final ServerSocket server;

    ConsoleLine(StandIn standIn, int port) {
        this.standIn = standIn;
        try {
            server = new ServerSocket(port, 8, InetAddress.getByName(standIn.description().address()));
        } catch (IOException refused) {
            throw new UncheckedIOException(refused);
        }
        Thread.ofVirtual().name("console-" + standIn.description().name()).start(this::accept);
    }

    private void accept() {
        while (!server.isClosed()) {
            try {
                Socket socket = server.accept();
                Thread.ofVirtual().start(() -> talk(socket));
            } catch (IOException closed) {
                return;
            }
        }
    }

    private void talk(Socket socket) {
        try (socket) {
            int c;
            while ((c = socket.getInputStream().read()) >= 0) {
                if (c == '\n' || c == '\r') {
                    socket.getOutputStream().write(standIn.console().replace("\n", "\r\n").getBytes(StandardCharsets.UTF_8));
                    socket.getOutputStream().flush();
                }
            }
        } catch (IOException gone) {
            Thread.yield();
        }
    }

    @Override
    public void close() {
        try {
            server.close();
        } catch (IOException alreadyGone) {
            Thread.yield();
        }
    }
}
