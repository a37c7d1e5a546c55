package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import calmstep.core.step.Turn;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.client.session.forward.ExplicitPortForwardingTracker;
import org.apache.sshd.common.util.net.SshdSocketAddress;

/**
 * Ways through jump hosts. Each host is signed in to once, however many devices lie behind it, and
 * again when that session is lost.
 */
final class Jumps {
    private static final Duration HELD_BACK = SignIns.LockOut.USUAL.within();

    private final SshAccess access;
    private final StopKeys keys;
    private final InstantSource clock;
    private final Map<List<Doors.Stop>, ClientSession> sessions = new HashMap<>();

    /**
     * Who refused a login of ours, not long ago: hundreds of devices behind it would else lock us
     * out there. A login that was set anew is another one.
     */
    private final Map<Doors.Stop, Refused> refused = new ConcurrentHashMap<>();

    private record Refused(Instant at, DeviceTrouble trouble) {}

    Jumps(SshAccess access, StopKeys keys, InstantSource clock) {
        this.access = access;
        this.keys = keys;
        this.clock = clock;
    }

    /** Our end of a way to one port. */
    record Tunnel(InetSocketAddress end, AutoCloseable way) implements AutoCloseable {
        @Override
        public void close() {
            try {
                way.close();
            } catch (Exception gone) {
                // The way is lost already; there is nothing left to close.
            }
        }
    }

    /**
     * @throws DeviceTrouble when a host on the way does not answer, does not let us in or lets
     *     nothing through
     */
    Tunnel to(List<Doors.Stop> via, String host, int port) {
        if (via.isEmpty()) {
            return new Tunnel(new InetSocketAddress(host, port), () -> {});
        }
        try {
            ExplicitPortForwardingTracker way =
                    session(via)
                            .createLocalPortForwardingTracker(
                                    new SshdSocketAddress("127.0.0.1", 0),
                                    new SshdSocketAddress(host, port));
            return new Tunnel(way.getBoundAddress().toInetSocketAddress(), way);
        } catch (IOException lost) {
            throw noWay("a way to %s:%s through %s".formatted(host, port, via.getLast()), lost);
        }
    }

    private static DeviceTrouble noWay(String expected, IOException lost) {
        return new DeviceTrouble(
                Kind.NO_ANSWER,
                new Trouble(
                        expected,
                        SshAccess.reasonOf(lost),
                        "Look whether the jump host may pass connections on."));
    }

    private synchronized ClientSession session(List<Doors.Stop> via) {
        ClientSession known = sessions.get(via);
        if (known != null && known.isOpen()) {
            return known;
        }
        ClientSession opened = open(via);
        sessions.put(via, opened);
        return opened;
    }

    private ClientSession open(List<Doors.Stop> via) {
        Doors.Stop last = via.getLast();
        Tunnel before = to(via.subList(0, via.size() - 1), last.host(), last.port());
        ClientSession session = open(last, before.end());
        session.addCloseFutureListener(_ -> before.close());
        return session;
    }

    /** Signs in to one host that is not a device. */
    ClientSession open(Doors.Stop stop, InetSocketAddress at) {
        if (!(stop.login().secret() instanceof SshSecret secret)) {
            throw new DeviceTrouble(
                    Kind.REFUSED_BY_DEVICE,
                    new Trouble(
                            "a user with a password or a key for %s".formatted(stop),
                            "its login is of another kind: %s".formatted(stop.login().secret()),
                            "Name another login in the inventory."));
        }
        Refused before = refused.get(stop);
        if (before != null && before.at().isAfter(clock.instant().minus(HELD_BACK))) {
            throw before.trouble();
        }
        try {
            SshAccess.Opened opened =
                    access.open(
                            new SshAccess.Host(
                                    stop.toString(),
                                    at,
                                    stop.login().user(),
                                    secret,
                                    keys.known(stop.place()),
                                    Set.of()));
            keys.seen(stop.place(), opened.seenHostKey());
            return opened.session();
        } catch (DeviceTrouble trouble) {
            if (trouble.kind() != Kind.SIGN_IN_REFUSED) {
                throw trouble;
            }
            // Not the device refuses us: its own logins are as good as before.
            Trouble said = trouble.trouble();
            Instant now = clock.instant();
            DeviceTrouble onTheWay =
                    new DeviceTrouble(
                            Kind.REFUSED_BY_DEVICE,
                            new Trouble(
                                    said.expected(),
                                    said.seen(),
                                    "%s As it is, it is not tried before %s."
                                            .formatted(
                                                    said.remedy(),
                                                    Turn.words(now.plus(HELD_BACK)))));
            refused.put(stop, new Refused(now, onTheWay));
            throw onTheWay;
        }
    }
}
