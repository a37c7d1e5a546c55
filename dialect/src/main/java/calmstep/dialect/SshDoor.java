package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketAddress;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.security.PublicKey;
import java.time.Duration;
import java.time.InstantSource;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.common.AttributeRepository;
import org.apache.sshd.client.keyverifier.ServerKeyVerifier;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.config.keys.KeyUtils;

/**
 * The way to a device over SSH, with its console line beside it. The first host key that is shown is remembered by the caller
 * ({@link #seenHostKey()}); a device that shows another one later is not signed in to.
 */
public final class SshDoor implements Door {
    /** Which keys a session may be shown: it goes with the connection, since keys are exchanged as soon as that is there. */
    private static final AttributeRepository.AttributeKey<ServerKeyVerifier> VERIFIER = new AttributeRepository.AttributeKey<>();
    private static final Duration KNOCKS_FOR = Duration.ofMillis(1500);
    private static final Duration SIGNS_IN_WITHIN = Duration.ofSeconds(20);

    private final SshClient ssh;
    private final Semaphore handshakes;
    private final Doors.Address address;
    private final SshSecret secret;
    private final Dialect dialect;
    private final Talk talk;
    private final InstantSource clock;
    private Optional<DeviceSession> open = Optional.empty();
    private String seenHostKey = "";

    SshDoor(SshClient ssh, Semaphore handshakes, Doors.Address address, SshSecret secret, Dialect dialect, Talk talk, InstantSource clock) {
        this.ssh = ssh;
        this.handshakes = handshakes;
        this.address = address;
        this.secret = secret;
        this.dialect = dialect;
        this.talk = talk;
        this.clock = clock;
    }

    @Override
    public Dialect dialect() {
        return dialect;
    }

    @Override
    public String seenHostKey() {
        return seenHostKey;
    }

    @Override
    public DeviceSession session() {
        if (open.isEmpty()) {
            open = Optional.of(signIn());
        }
        return open.get();
    }

    private DeviceSession signIn() {
        ClientSession session = authenticated();
        try {
            Line line = new SshLine(session, SIGNS_IN_WITHIN);
            LineExchange exchange = new LineExchange(dialect, line, talk, address.name());
            exchange.greet();
            dialect.entering().forEach(entry -> exchange.command(entry.send(), entry.answers().stream().map(answer -> answer.saying(secret.word())).toList(), entry.within(), false));
            return new DialectSession(dialect, exchange, clock);
        } catch (IOException refused) {
            session.close(true);
            throw whyRefused(refused);
        } catch (DeviceTrouble trouble) {
            session.close(true);
            throw trouble;
        }
    }

    /** Only so many shake hands at a time: it is all arithmetic, and hundreds at once would each be too late. */
    private ClientSession authenticated() {
        try {
            handshakes.acquire();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw new DeviceTrouble(Kind.LINK_LOST, new Trouble("%s lets us sign in".formatted(address), "we were told to stop", "Try again."));
        }
        try {
            return authenticated(connect());
        } finally {
            handshakes.release();
        }
    }

    private ClientSession authenticated(ClientSession session) {
        try {
            switch (secret) {
                case SshSecret.Password(String word) -> session.addPasswordIdentity(word);
                case SshSecret.Key key -> key.pairs().forEach(session::addPublicKeyIdentity);
            }
            session.auth().verify(SIGNS_IN_WITHIN);
            return session;
        } catch (IOException refused) {
            session.close(true);
            throw whyRefused(refused);
        }
    }

    private ClientSession connect() {
        try {
            AttributeRepository pinned = AttributeRepository.ofKeyValuePair(VERIFIER, keyVerifier());
            return ssh.connect(address.user(), new InetSocketAddress(address.host(), address.port()), pinned, null).verify(KNOCKS_FOR.multipliedBy(2)).getSession();
        } catch (IOException silent) {
            throw new DeviceTrouble(Kind.NO_ANSWER, new Trouble("%s answers on SSH".formatted(address), "no answer: " + reasonOf(silent),
                    "Look whether it has power and whether this network reaches it."));
        }
    }

    /** What the client itself does when a server shows its key: as the door says that asked for the connection. A connection that no door asked for is refused. */
    static boolean mayShow(ClientSession session, SocketAddress remote, PublicKey key) {
        return Optional.ofNullable(session.getConnectionContext()).map(context -> context.getAttribute(VERIFIER)).filter(verifier -> verifier.verifyServerKey(session, remote, key)).isPresent();
    }

    private ServerKeyVerifier keyVerifier() {
        return (_, _, key) -> {
            seenHostKey = fingerprint(key);
            return address.hostKey().isEmpty() || address.hostKey().equals(seenHostKey);
        };
    }

    private static String fingerprint(PublicKey key) {
        return KeyUtils.getFingerPrint(key);
    }

    private DeviceTrouble whyRefused(IOException refused) {
        if (!address.hostKey().isEmpty() && !seenHostKey.isEmpty() && !address.hostKey().equals(seenHostKey)) {
            return new DeviceTrouble(Kind.HOST_KEY_CHANGED, new Trouble("%s shows the host key %s, as last time".formatted(address, address.hostKey()),
                    "the host key %s".formatted(seenHostKey),
                    "Somebody may stand in between, or the device was replaced. Nothing was sent. If it was replaced, forget its old key."));
        }
        boolean authentication = String.valueOf(refused.getMessage()).contains("No more authentication methods");
        return authentication
                ? new DeviceTrouble(Kind.SIGN_IN_REFUSED, new Trouble("%s lets \"%s\" in".formatted(address, address.user()),
                        "it refuses the user or the %s".formatted(secret), "Correct the login's user and %s.".formatted(secret)))
                : new DeviceTrouble(Kind.LINK_LOST, new Trouble("%s lets us sign in".formatted(address), reasonOf(refused),
                        "If the device restarts, wait for it; else look at the link."));
    }

    private static String reasonOf(Throwable problem) {
        Throwable deepest = problem;
        while (deepest.getCause() != null && deepest.getCause() != deepest) {
            deepest = deepest.getCause();
        }
        return deepest.getMessage() == null ? deepest.getClass().getSimpleName() : deepest.getMessage();
    }

    @Override
    public Whereabouts whereabouts() {
        if (open.isPresent()) {
            close();
        }
        String seen;
        try (Socket socket = knock(address.port()); InputStream in = socket.getInputStream()) {
            byte[] greeting = in.readNBytes(4);
            if (new String(greeting, StandardCharsets.US_ASCII).equals("SSH-")) {
                return new Whereabouts.AtCommandLine();
            }
            seen = "the line is closed at once";
        } catch (IOException silent) {
            seen = "no answer on %s:%d".formatted(address.host(), address.port());
        }
        return atConsole().orElse(new Whereabouts.Silent(seen));
    }

    private Socket knock(int port) throws IOException {
        Socket socket = new Socket();
        try {
            socket.connect(new InetSocketAddress(address.host(), port), (int) KNOCKS_FOR.toMillis());
            socket.setSoTimeout((int) KNOCKS_FOR.toMillis());
            return socket;
        } catch (IOException silent) {
            socket.close();
            throw silent;
        }
    }

    /** Presses return on the console line and looks for the boot loader's prompt. */
    private Optional<Whereabouts> atConsole() {
        if (address.consolePort() == 0 || dialect.loaderPrompt().isEmpty()) {
            return Optional.empty();
        }
        StringBuilder seen = new StringBuilder();
        try (Socket socket = knock(address.consolePort()); InputStream in = socket.getInputStream()) {
            socket.getOutputStream().write("\n".getBytes(StandardCharsets.US_ASCII));
            byte[] buffer = new byte[4096];
            while (!dialect.loaderPrompt().get().matcher(seen).find()) {
                int count = in.read(buffer);
                if (count < 0) {
                    return Optional.empty();
                }
                seen.append(new String(buffer, 0, count, StandardCharsets.UTF_8).replace("\r", ""));
            }
        } catch (SocketTimeoutException nothingMore) {
            return Optional.empty();
        } catch (IOException silent) {
            return Optional.empty();
        }
        List<String> lines = Arrays.stream(seen.toString().split("\n")).filter(l -> !l.isBlank()).toList();
        return Optional.of(new Whereabouts.InBootLoader(lines.subList(Math.max(0, lines.size() - 12), lines.size())));
    }

    @Override
    public void close() {
        open.ifPresent(DeviceSession::close);
        open = Optional.empty();
    }
}
