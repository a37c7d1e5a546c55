package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.time.Duration;
import java.time.InstantSource;
import java.util.Optional;

/**
 * The way to a device over HTTPS. The first certificate that is shown is remembered by the caller;
 * a device that shows another one later is told nothing.
 */
public final class HttpsDoor implements Door {
    private static final Duration KNOCKS_FOR = Duration.ofMillis(1500);

    private final Jumps jumps;
    private final Doors.Address address;
    private final String user;
    private final String word;
    private final Dialect dialect;
    private final Talk talk;
    private final InstantSource clock;
    private final PinnedCertificate certificate;
    private Optional<Jumps.Tunnel> tunnel = Optional.empty();
    private Optional<DeviceSession> open = Optional.empty();

    HttpsDoor(
            Jumps jumps,
            Doors.Address address,
            String user,
            String word,
            Dialect dialect,
            Talk talk,
            InstantSource clock) {
        this.jumps = jumps;
        this.address = address;
        this.user = user;
        this.word = word;
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

    private InetSocketAddress way() {
        if (tunnel.isEmpty()) {
            tunnel = Optional.of(jumps.to(address.route().via(), address.host(), address.port()));
        }
        return tunnel.get().end();
    }

    @Override
    public DeviceSession session() {
        if (open.isEmpty()) {
            RequestExchange exchange =
                    new RequestExchange(
                            dialect,
                            "https://%s:%s".formatted(way().getHostString(), way().getPort()),
                            certificate,
                            talk,
                            address.toString());
            dialect.signsIn().ifPresent(how -> exchange.signIn(how, user, word));
            open = Optional.of(new DialectSession(dialect, exchange, clock));
        }
        return open.get();
    }

    @Override
    public Whereabouts whereabouts() {
        close();
        try (Socket socket = new Socket()) {
            socket.connect(way(), (int) KNOCKS_FOR.toMillis());
            return new Whereabouts.AtCommandLine();
        } catch (DeviceTrouble onTheWay) {
            return new Whereabouts.Silent(onTheWay.trouble().seen());
        } catch (IOException silent) {
            return new Whereabouts.Silent(
                    "no answer on %s:%s".formatted(address.host(), address.port()));
        }
    }

    @Override
    public void close() {
        open.ifPresent(DeviceSession::close);
        open = Optional.empty();
        tunnel.ifPresent(Jumps.Tunnel::close);
        tunnel = Optional.empty();
    }
}
