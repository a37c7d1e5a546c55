package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import java.io.IOException;
import java.time.Duration;
import java.time.InstantSource;
import java.util.List;
import java.util.Optional;
import org.snmp4j.smi.OID;

/**
 * The way to a device over SNMP. Each request proves by itself who asks, so there is nothing to
 * sign in to.
 */
public final class SnmpDoor implements Door {
    private static final Duration ANSWERS_WITHIN = Duration.ofSeconds(3);

    /** sysUpTime (RFC 3418): every agent has it. */
    private static final OID UP_TIME = new OID("1.3.6.1.2.1.1.3.0");

    private final Doors.Address address;
    private final SnmpLogin login;
    private final Dialect dialect;
    private final Talk talk;
    private final InstantSource clock;
    private Optional<DeviceSession> open = Optional.empty();

    SnmpDoor(
            Doors.Address address,
            SnmpLogin login,
            Dialect dialect,
            Talk talk,
            InstantSource clock) {
        this.address = address;
        this.login = login;
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
        return "";
    }

    private SnmpAsk.Device agent() {
        try {
            return SnmpAsk.as(login, ANSWERS_WITHIN).device(address.host(), address.port());
        } catch (IOException noSocket) {
            throw new DeviceTrouble(
                    Kind.LINK_LOST,
                    new Trouble(
                            "a socket to ask %s by SNMP".formatted(address),
                            String.valueOf(noSocket.getMessage()),
                            "Look at the network here."));
        }
    }

    @Override
    public DeviceSession session() {
        if (open.isEmpty()) {
            SnmpAsk.Device agent = agent();
            if (address.logins().size() > 1) {
                isKnown(agent);
            }
            open =
                    Optional.of(
                            new DialectSession(
                                    dialect,
                                    new ObjectExchange(dialect, agent, talk, address.toString()),
                                    clock));
        }
        return open.get();
    }

    private void isKnown(SnmpAsk.Device agent) {
        try {
            agent.get(List.of(UP_TIME));
        } catch (IOException silent) {
            agent.close();
            throw new DeviceTrouble(
                    Kind.NO_ANSWER,
                    new Trouble(
                            "%s answers by SNMP to one of its logins".formatted(address),
                            String.valueOf(silent.getMessage()),
                            "Look whether this network reaches it, and correct the login."));
        }
    }

    @Override
    public Whereabouts whereabouts() {
        close();
        try (SnmpAsk.Device agent = agent()) {
            agent.get(List.of(UP_TIME));
            return new Whereabouts.AtCommandLine();
        } catch (IOException silent) {
            return new Whereabouts.Silent(
                    "no answer by SNMP on %s:%s".formatted(address.host(), address.port()));
        }
    }

    @Override
    public void close() {
        open.ifPresent(DeviceSession::close);
        open = Optional.empty();
    }
}
