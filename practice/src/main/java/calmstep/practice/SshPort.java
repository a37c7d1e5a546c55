package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import org.apache.sshd.common.io.nio2.Nio2ServiceFactoryFactory;
import org.apache.sshd.common.util.threads.NoCloseExecutor;
import org.apache.sshd.core.CoreModuleProperties;
import org.apache.sshd.server.Environment;
import org.apache.sshd.server.ExitCallback;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.channel.ChannelSession;
import org.apache.sshd.server.command.Command;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;

/** The SSH port of one stand-in: open while it runs. All ports of a process share their threads. */
final class SshPort implements Port {
    private static final ExecutorService THREADS =
            Executors.newCachedThreadPool(
                    task -> Thread.ofPlatform().daemon().name("practice-ssh").unstarted(task));
    private static final ScheduledExecutorService TIMER =
            Executors.newSingleThreadScheduledExecutor(
                    task ->
                            Thread.ofPlatform()
                                    .daemon()
                                    .name("practice-ssh-timer")
                                    .unstarted(task));

    private final StandIn standIn;
    private final int port;
    private Path hostKey;
    private Optional<SshServer> server = Optional.empty();

    SshPort(StandIn standIn, int port, Path hostKey) {
        this.standIn = standIn;
        this.port = port;
        this.hostKey = hostKey;
    }

    @Override
    public synchronized void open() {
        if (server.isPresent() || standIn.has(Fault.ANSWERS_NOBODY)) {
            return;
        }
        SshServer opened =
                server(standIn.description().address(), port, hostKey, standIn.greeting());
        letIn(opened);
        opened.setShellFactory(_ -> new ShellCommand());
        start(opened);
        server = Optional.of(opened);
    }

    private void start(SshServer opened) {
        try {
            opened.start();
        } catch (IOException refused) {
            throw new UncheckedIOException(
                    "The address %s:%s cannot be opened"
                            .formatted(standIn.description().address(), port),
                    refused);
        }
    }

    private void letIn(SshServer opened) {
        opened.setPasswordAuthenticator(
                (user, password, _) ->
                        !standIn.has(Fault.REFUSES_THE_PASSWORD)
                                && user.equals(standIn.description().user())
                                && password.equals(standIn.description().password()));
    }

    /** A server that is not started yet and lets nobody in. */
    static SshServer server(String address, int port, Path hostKey, String greeting) {
        SshServer server = SshServer.setUpDefaultServer();
        server.setHost(address);
        server.setPort(port);
        server.setIoServiceFactoryFactory(
                new Nio2ServiceFactoryFactory(() -> new NoCloseExecutor(THREADS)));
        server.setScheduledExecutorService(TIMER, false);
        SimpleGeneratorHostKeyProvider keys = new SimpleGeneratorHostKeyProvider(hostKey);
        keys.setAlgorithm("EC");
        keys.setKeySize(256);
        server.setKeyPairProvider(keys);
        CoreModuleProperties.SERVER_IDENTIFICATION.set(server, greeting);
        CoreModuleProperties.TCP_NODELAY.set(server, true);
        server.setPasswordAuthenticator((_, _, _) -> false);
        return server;
    }

    @Override
    public synchronized void close() {
        server.ifPresent(
                open -> {
                    try {
                        open.stop(true);
                    } catch (IOException alreadyGone) {
                        // It is gone already, which is what closing is for.
                    }
                });
        server = Optional.empty();
    }

    @Override
    public synchronized void useOtherKey(Path other) {
        hostKey = other;
        close();
        open();
    }

    /** One shell; its work is done on a virtual thread since {@code start} must return at once. */
    private final class ShellCommand implements Command {
        private InputStream in = InputStream.nullInputStream();
        private OutputStream out = OutputStream.nullOutputStream();
        private Optional<ExitCallback> exit = Optional.empty();

        @Override
        public void setInputStream(InputStream stream) {
            in = stream;
        }

        @Override
        public void setOutputStream(OutputStream stream) {
            out = stream;
        }

        @Override
        public void setErrorStream(OutputStream stream) {}

        @Override
        public void setExitCallback(ExitCallback callback) {
            exit = Optional.of(callback);
        }

        @Override
        public void start(ChannelSession channel, Environment environment) {
            Thread.ofVirtual()
                    .name("shell-" + standIn.description().name())
                    .start(() -> talkToEnd());
        }

        private void talkToEnd() {
            try {
                standIn.talk(in, out);
            } catch (IOException lineGone) {
                // The caller hung up or the machine went down in mid-sentence:
                // nothing is left to tell anybody.
            } catch (RuntimeException fault) {
                System.err.printf(
                        "The shell of %s has a fault: %s%n", standIn.description().name(), fault);
                fault.printStackTrace(System.err);
            } finally {
                exit.ifPresent(callback -> callback.onExit(0));
            }
        }

        @Override
        public void destroy(ChannelSession channel) {}
    }
}
