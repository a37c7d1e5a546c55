package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import java.time.InstantSource;
import java.util.Comparator;
import java.util.concurrent.Semaphore;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.core.CoreModuleProperties;

/** The ways to devices, each over what its dialect says: one SSH client for all of them. */
public final class Doors implements AutoCloseable {
    private static final int HANDSHAKES_A_CORE = 12;

    private final SshClient ssh;
    private final Semaphore handshakes = new Semaphore(HANDSHAKES_A_CORE * Runtime.getRuntime().availableProcessors());
    private final InstantSource clock;

    public Doors(InstantSource clock) {
        this.clock = clock;
        ssh = SshClient.setUpDefaultClient();
        ssh.setServerKeyVerifier(SshDoor::mayShow);
        CoreModuleProperties.HEARTBEAT_INTERVAL.set(ssh, java.time.Duration.ofSeconds(15));
        // Commands are short and answered at once: waiting for more to send costs forty milliseconds each.
        CoreModuleProperties.TCP_NODELAY.set(ssh, true);
        // The hybrid exchange costs ten times the arithmetic; it stays behind, for devices that take nothing else.
        ssh.setKeyExchangeFactories(ssh.getKeyExchangeFactories().stream().sorted(Comparator.comparing(kex -> !kex.getName().startsWith("curve25519"))).toList());
        ssh.start();
    }

    /** The way to one device; nothing is opened yet. */
    public Door to(Address address, Dialect dialect, Talk talk) {
        return switch (dialect.over()) {
            case SSH -> new SshDoor(ssh, handshakes, address, secret(address, SshSecret.class, "a user with a password or a key"), dialect, talk, clock);
            case HTTPS -> {
                secret(address, SshSecret.Password.class, "a user with a password");
                yield new HttpsDoor(address, dialect, talk, clock);
            }
            case SNMP -> new SnmpDoor(address, secret(address, SnmpLogin.class, "an SNMP login"), dialect, talk, clock);
        };
    }

    /** The address's secret, where it is of the kind that the family's way needs. */
    private static <S extends Secret> S secret(Address address, Class<S> kind, String expected) {
        if (!kind.isInstance(address.secret())) {
            throw new DeviceTrouble(DeviceTrouble.Kind.SIGN_IN_REFUSED, new Trouble("%s for %s".formatted(expected, address), "its login is of another kind: %s".formatted(address.secret()), "Name another login in the inventory, or give this one what the family needs."));
        }
        return kind.cast(address.secret());
    }

    @Override
    public void close() {
        ssh.stop();
    }

    /**
     * Where a device is and how it is opened.
     *
     * @param name        of the device, for messages
     * @param consolePort 0 where there is none
     * @param hostKey     fingerprint of the host key or certificate that the device must show; empty on the first meeting
     */
    public record Address(String name, String host, int port, int consolePort, String user, Secret secret, String hostKey) {
        @Override
        public String toString() {
            return "%s (%s:%d)".formatted(name, host, port);
        }
    }
}
