package calmstep.dialect;

import java.time.InstantSource;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.core.CoreModuleProperties;

/** The ways to devices: one SSH client for all of them. */
public final class Doors implements AutoCloseable {
    private final SshClient ssh;
    private final InstantSource clock;

    public Doors(InstantSource clock) {
        this.clock = clock;
        ssh = SshClient.setUpDefaultClient();
        CoreModuleProperties.HEARTBEAT_INTERVAL.set(ssh, java.time.Duration.ofSeconds(15));
        ssh.start();
    }

    /** The way to one device; nothing is opened yet. */
    public SshDoor to(Address address, Dialect dialect, Talk talk) {
        return new SshDoor(ssh, address, dialect, talk, clock);
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
     * @param hostKey     fingerprint that the device must show; empty on the first meeting
     */
    public record Address(String name, String host, int port, int consolePort, String user, SshSecret secret, String hostKey) {
        @Override
        public String toString() {
            return "%s (%s:%d)".formatted(name, host, port);
        }
    }
}
