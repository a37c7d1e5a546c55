package calmstep.dialect;

import calmstep.core.device.DeviceDoor;
import java.time.Duration;
import java.util.Optional;

/** The way to one device, whatever it is spoken to over. */
public sealed interface Door extends DeviceDoor, AutoCloseable
        permits SshDoor, HttpsDoor, SnmpDoor, KeyRing {
    /** How it is spoken to. */
    Dialect dialect();

    /**
     * Fingerprint of the host key or certificate that the device showed; empty before the first
     * session, and where the way there has none.
     */
    String seenHostKey();

    /**
     * Listens to the device's console line until it is closed, however long this door is open; what
     * the device says there is {@link Talk#overheard}. When this returns, the line is open, or does
     * not answer yet.
     *
     * @param atMost how long
     * @return empty where it has no console line that we know, or somebody listens there already
     */
    default Optional<ConsoleWatch> watch(Talk talk, Duration atMost) {
        return Optional.empty();
    }

    @Override
    void close();
}
