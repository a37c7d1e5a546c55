package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.nio.file.Path;
import java.security.PublicKey;
import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import org.apache.sshd.agent.SshAgent;
import org.apache.sshd.agent.SshAgentFactory;
import org.apache.sshd.agent.SshAgentServer;
import org.apache.sshd.client.ClientBuilder;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.AttributeRepository;
import org.apache.sshd.common.FactoryManager;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.channel.ChannelFactory;
import org.apache.sshd.common.cipher.BuiltinCiphers;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.kex.BuiltinDHFactories;
import org.apache.sshd.common.mac.BuiltinMacs;
import org.apache.sshd.common.session.ConnectionService;
import org.apache.sshd.common.session.Session;
import org.apache.sshd.common.session.SessionListener;
import org.apache.sshd.common.signature.BuiltinSignatures;
import org.apache.sshd.core.CoreModuleProperties;
import org.jspecify.annotations.Nullable;

/** Signs in over SSH, to devices and to what stands on the way to them. One client for all. */
final class SshAccess implements AutoCloseable {
    static final Duration SIGNS_IN_WITHIN = Duration.ofSeconds(20);
    private static final Duration ANSWERS_WITHIN = Duration.ofSeconds(3);
    private static final int HANDSHAKES_A_CORE = 12;

    /**
     * Whom a connection goes to: it goes with the connection, since keys are exchanged as soon as
     * that is there.
     */
    private static final AttributeRepository.AttributeKey<Meeting> MEETING =
            new AttributeRepository.AttributeKey<>();

    private final SshClient ssh = SshClient.setUpDefaultClient();
    private final Semaphore handshakes =
            new Semaphore(HANDSHAKES_A_CORE * Runtime.getRuntime().availableProcessors());

    /**
     * Who is signed in to.
     *
     * @param words for messages
     * @param at where the connection goes: the host itself, or our end of a tunnel
     * @param hostKey fingerprint that it must show; empty at the first meeting
     * @param oldAlgorithms names of those that are allowed with it although they are no longer
     *     thought safe
     */
    record Host(
            String words,
            InetSocketAddress at,
            String user,
            SshSecret secret,
            String hostKey,
            Set<String> oldAlgorithms) {}

    /** A session with the fingerprint of the host key that was shown. */
    record Opened(ClientSession session, String seenHostKey) {}

    private record Meeting(Host host, AtomicReference<String> seen) {
        /** Empty as long as it has shown none. */
        String shown() {
            return Objects.requireNonNullElse(seen.get(), "");
        }

        boolean mayShow(PublicKey key) {
            seen.set(KeyUtils.getFingerPrint(key));
            return host.hostKey().isEmpty() || host.hostKey().equals(seen.get());
        }
    }

    SshAccess() {
        ssh.setServerKeyVerifier(SshAccess::mayShow);
        CoreModuleProperties.HEARTBEAT_INTERVAL.set(ssh, Duration.ofSeconds(15));
        // Commands are short and answered at once: waiting for more to send costs forty
        // milliseconds each.
        CoreModuleProperties.TCP_NODELAY.set(ssh, true);
        // The hybrid exchange costs ten times the arithmetic; it stays behind, for devices that
        // take nothing else.
        preferShortExchange();
        ssh.setSignatureFactories(withoutOld(ssh.getSignatureFactories()));
        ssh.setCipherFactories(withoutOld(ssh.getCipherFactories()));
        ssh.setMacFactories(withoutOld(ssh.getMacFactories()));
        ssh.setAgentFactory(new Agents());
        listenForMeetings();
        ssh.start();
    }

    private void listenForMeetings() {
        ssh.addSessionListener(
                new SessionListener() {
                    @Override
                    public void sessionCreated(Session session) {
                        meeting((ClientSession) session)
                                .ifPresent(
                                        meeting -> allow(session, meeting.host().oldAlgorithms()));
                    }
                });
    }

    private void preferShortExchange() {
        ssh.setKeyExchangeFactories(
                ssh.getKeyExchangeFactories().stream()
                        .sorted(
                                Comparator.comparing(
                                        kex -> !kex.getName().startsWith("curve25519")))
                        .toList());
    }

    /** Asks an agent for those alone whose login says so. */
    private static final class Agents implements SshAgentFactory {
        @Override
        public @Nullable SshAgent createClient(Session session, FactoryManager manager)
                throws IOException {
            Optional<SshSecret> secret =
                    meeting((ClientSession) session).map(meeting -> meeting.host().secret());
            return secret.isPresent() && secret.get() instanceof SshSecret.Agent(String socket)
                    ? AgentClient.at(Path.of(socket))
                    : null;
        }

        @Override
        public List<ChannelFactory> getChannelForwardingFactories(FactoryManager manager) {
            return List.of();
        }

        @Override
        public SshAgentServer createServer(ConnectionService service) {
            throw new UnsupportedOperationException("An agent is asked here, and never passed on.");
        }
    }

    /**
     * What rests on SHA-1, MD5 or on the order of blocks that can be guessed: nobody gets it who is
     * not allowed it by name.
     */
    private static boolean isOld(NamedResource algorithm) {
        String name = algorithm.getName();
        return name.equals("ssh-rsa")
                || name.equals("ssh-dss")
                || name.endsWith("-sha1")
                || name.contains("-sha1-")
                || name.contains("md5")
                || name.contains("-cbc")
                || name.startsWith("arcfour");
    }

    private static <F extends NamedResource> List<F> withoutOld(List<F> factories) {
        return factories.stream().filter(factory -> !isOld(factory)).toList();
    }

    private static void allow(Session session, Set<String> names) {
        for (String name : names) {
            allowExchange(name, session);
            Optional.ofNullable(BuiltinSignatures.fromFactoryName(name))
                    .ifPresent(
                            one ->
                                    session.setSignatureFactories(
                                            plus(session.getSignatureFactories(), one)));
            Optional.ofNullable(BuiltinCiphers.fromFactoryName(name))
                    .ifPresent(
                            one ->
                                    session.setCipherFactories(
                                            plus(session.getCipherFactories(), one)));
            Optional.ofNullable(BuiltinMacs.fromFactoryName(name))
                    .ifPresent(
                            one -> session.setMacFactories(plus(session.getMacFactories(), one)));
        }
    }

    private static void allowExchange(String name, Session session) {
        Optional.ofNullable(BuiltinDHFactories.fromFactoryName(name))
                .ifPresent(
                        one ->
                                session.setKeyExchangeFactories(
                                        plus(
                                                session.getKeyExchangeFactories(),
                                                ClientBuilder.DH2KEX.apply(one))));
    }

    private static <F> List<F> plus(List<F> known, F one) {
        return Stream.concat(known.stream(), Stream.of(one)).toList();
    }

    /**
     * What the client itself does when a server shows its key: as the meeting says. A connection
     * that belongs to none is refused.
     */
    static boolean mayShow(ClientSession session, SocketAddress remote, PublicKey key) {
        return meeting(session).filter(meeting -> meeting.mayShow(key)).isPresent();
    }

    private static Optional<Meeting> meeting(ClientSession session) {
        return Optional.ofNullable(session.getConnectionContext())
                .map(context -> context.getAttribute(MEETING));
    }

    /**
     * Only so many shake hands at a time: it is all arithmetic, and hundreds at once would each be
     * too late.
     *
     * @throws DeviceTrouble when nobody answers, another host key is shown, or we are not let in
     */
    Opened open(Host host) {
        Meeting meeting = new Meeting(host, new AtomicReference<>(""));
        if (host.secret() instanceof SshSecret.Agent(String socket)) {
            answers(socket, host);
        }
        try {
            handshakes.acquire();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw stopped(host);
        }
        try {
            return new Opened(authenticated(meeting, connect(meeting)), meeting.shown());
        } finally {
            handshakes.release();
        }
    }

    private static DeviceTrouble stopped(Host host) {
        return new DeviceTrouble(
                Kind.LINK_LOST,
                new Trouble(
                        "%s lets us sign in".formatted(host.words()),
                        "we were told to stop",
                        "Try again."));
    }

    private static void answers(String socket, Host host) {
        try (AgentClient agent = AgentClient.at(Path.of(socket))) {
            agent.getIdentities();
        } catch (IOException nobody) {
            throw new DeviceTrouble(
                    Kind.LINK_LOST,
                    new Trouble(
                            "an SSH agent at %s, whose keys open %s"
                                    .formatted(socket, host.words()),
                            reasonOf(nobody),
                            "Start the agent and give it the keys; the service finds it by"
                                    + " SSH_AUTH_SOCK."));
        }
    }

    private ClientSession connect(Meeting meeting) {
        try {
            return ssh.connect(
                            meeting.host().user(),
                            meeting.host().at(),
                            AttributeRepository.ofKeyValuePair(MEETING, meeting),
                            null)
                    .verify(ANSWERS_WITHIN)
                    .getSession();
        } catch (IOException silent) {
            throw new DeviceTrouble(
                    Kind.NO_ANSWER,
                    new Trouble(
                            "%s answers on SSH".formatted(meeting.host().words()),
                            "no answer: " + reasonOf(silent),
                            "Look whether it has power and whether this network reaches it."));
        }
    }

    private static ClientSession authenticated(Meeting meeting, ClientSession session) {
        try {
            switch (meeting.host().secret()) {
                case SshSecret.Password(String word) -> session.addPasswordIdentity(word);
                case SshSecret.Key key -> key.pairs().forEach(session::addPublicKeyIdentity);
                case SshSecret.Agent _ -> {}
            }
            session.auth().verify(SIGNS_IN_WITHIN);
            return session;
        } catch (IOException refused) {
            session.close(true);
            throw whyRefused(meeting, refused);
        }
    }

    private static DeviceTrouble whyRefused(Meeting meeting, IOException refused) {
        Host host = meeting.host();
        String seen = meeting.shown();
        if (!host.hostKey().isEmpty() && !seen.isEmpty() && !host.hostKey().equals(seen)) {
            return new DeviceTrouble(
                    Kind.HOST_KEY_CHANGED,
                    new Trouble(
                            "%s shows the host key %s, as last time"
                                    .formatted(host.words(), host.hostKey()),
                            "the host key %s".formatted(seen),
                            "Somebody may stand in between, or it was replaced. Nothing was sent."
                                    + " If it was replaced, forget its old key."));
        }
        String reason = reasonOf(refused);
        if (String.valueOf(refused.getMessage()).contains("No more authentication methods")) {
            return new DeviceTrouble(
                    Kind.SIGN_IN_REFUSED,
                    new Trouble(
                            "%s lets \"%s\" in".formatted(host.words(), host.user()),
                            "it refuses the user or the %s".formatted(host.secret()),
                            "Correct the login's user and %s.".formatted(host.secret())));
        }
        if (reason.contains("Unable to negotiate")) {
            return new DeviceTrouble(
                    Kind.REFUSED_BY_DEVICE,
                    new Trouble(
                            "%s offers an SSH algorithm that is thought safe"
                                    .formatted(host.words()),
                            reason,
                            "Bring it to a release that does; until then its line in the inventory"
                                    + " may name under old-algorithms what it is allowed."));
        }
        return new DeviceTrouble(
                Kind.LINK_LOST,
                new Trouble(
                        "%s lets us sign in".formatted(host.words()),
                        reason,
                        "If the device restarts, wait for it; else look at the link."));
    }

    static String reasonOf(Throwable problem) {
        Throwable deepest = problem;
        while (deepest.getCause() != null && deepest.getCause() != deepest) {
            deepest = deepest.getCause();
        }
        return deepest.getMessage() == null
                ? deepest.getClass().getSimpleName()
                : deepest.getMessage();
    }

    @Override
    public void close() {
        ssh.stop();
    }
}
