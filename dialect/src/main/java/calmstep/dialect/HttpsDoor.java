package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.time.Duration;
import java.time.InstantSource;
import java.util.Optional;

/** The way to a device over HTTPS. The first certificate that is shown is remembered by the caller; a device that shows another one later is told nothing. */
public final class HttpsDoor implements Door {
    private static final Duration KNOCKS_FOR = Duration.ofMillis(1500);

    private final Doors.Address address;
    private final Dialect dialect;
    private final Talk talk;
    private final InstantSource clock;
    private final PinnedCertificate certificate;
    private Optional<DeviceSession> open = Optional.empty();

    HttpsDoor(Doors.Address address, Dialect dialect, Talk talk, InstantSource clock) {
        this.address = address;
        this.dialect = dialect;
        this.talk = talk;
        this.clock = clock;
        certificate = new PinnedCertificate(address.hostKey());
    }

    @Override
    public Dialect dialect() {
        return dialect;
    }

    @Override
    public String seenHostKey() {
        return certificate.isAnother() ? "" : certificate.seen();
    }

    @Override
    public DeviceSession session() {
        if (open.isEmpty()) {
            RequestExchange exchange = new RequestExchange(dialect, "https://%s:%d".formatted(address.host(), address.port()), certificate, talk, address.toString());
            String word = address.secret() instanceof SshSecret secret ? secret.word() : "";
            dialect.signsIn().ifPresent(how -> exchange.signIn(how, address.user(), word));
            open = Optional.of(new DialectSession(dialect, exchange, clock));
        }
        return open.get();
    }

    @Override
    public Whereabouts whereabouts() {
        close();
        try (Socket socket = new Socket()) {
            socket.connect(new InetSocketAddress(address.host(), address.port()), (int) KNOCKS_FOR.toMillis());
            return new Whereabouts.AtCommandLine();
        } catch (IOException silent) {
            return new Whereabouts.Silent("no answer on %s:%d".formatted(address.host(), address.port()));
        }
    }

    @Override
    public void close() {
        open.ifPresent(DeviceSession::close);
        open = Optional.empty();
    }
}
