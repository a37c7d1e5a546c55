package calmstep.dialect;

import calmstep.core.device.DeviceDoor;

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

    @Override
    void close();
}
