package calmstep.practice;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * The console line of one machine, always there as long as it has power: shows what the machine
 * says while it starts, what the boot loader wrote and its prompt, and passes on what is said to
 * it.
 */
final class ConsoleLine implements AutoCloseable {
    private final StandIn standIn;
    private final ServerSocket server;
    private final Thread accepting;

    ConsoleLine(StandIn standIn, int port) {
        this.standIn = standIn;
        try {
            server =
                    new ServerSocket(
                            port, 8, InetAddress.getByName(standIn.description().address()));
        } catch (IOException refused) {
            throw new UncheckedIOException(refused);
        }
        accepting =
                Thread.ofVirtual()
                        .name("console-" + standIn.description().name())
                        .start(this::accept);
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
            Terminal terminal =
                    new Terminal(
                            socket.getInputStream(),
                            socket.getOutputStream(),
                            Integer.MAX_VALUE,
                            new Terminal.More((_, _) -> "", 'q'));
            Consumer<String> overheard = words -> write(terminal, words, socket);
            standIn.voices().forEach(voice -> voice.heardBy(overheard));
            try {
                obey(terminal);
            } finally {
                standIn.voices().forEach(voice -> voice.leave(overheard));
            }
        } catch (IOException gone) {
            // One end hung up: there is nobody left to answer.
        }
    }

    /** Whoever does not read any more hangs up. */
    private static void write(Terminal terminal, String words, Socket socket) {
        try {
            terminal.write(words);
        } catch (IOException gone) {
            try {
                socket.close();
            } catch (IOException closed) {
                // It is gone already, which is what closing is for.
            }
        }
    }

    private void obey(Terminal terminal) throws IOException {
        for (Optional<String> line = terminal.readLine();
                line.isPresent();
                line = terminal.readLine()) {
            String said = line.get().strip();
            if (said.isEmpty()) {
                terminal.write(standIn.console());
            } else {
                if (!standIn.obeyAtLoader(said, terminal::write)) {
                    terminal.write("?\n");
                }
                terminal.write(standIn.loaderPrompt());
            }
        }
    }

    /** The port is free behind it: the system keeps it for as long as somebody waits on it. */
    @Override
    public void close() {
        try {
            server.close();
            accepting.join();
        } catch (IOException alreadyGone) {
            // It is gone already, which is what closing is for.
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }
}
