package calmstep.acceptance;

import java.nio.file.Files;
import java.nio.file.Path;

/**
 * OpenSSH's server on a port of its own; its folder has the host's key under {@code key-PORT}, and
 * who may sign in under {@code authorized_keys}.
 */
record OpenSsh(House house, Path folder, int port) {
    /**
     * @param more lines of its configuration beside the usual ones
     */
    void start(String more) throws Exception {
        Files.writeString(
                folder.resolve("config-" + port),
                """
                Port %2$s
                ListenAddress 127.0.0.1
                HostKey %1$s/key-%2$s
                AuthorizedKeysFile %1$s/authorized_keys
                PidFile %1$s/pid-%2$s
                StrictModes no
                PermitRootLogin yes
                PasswordAuthentication no
                KbdInteractiveAuthentication no
                UsePAM no
                PrintMotd no
                PrintLastLog no
                %3$s
                """
                        .formatted(folder, port, more));
        house.shell(
                "mkdir -p /run/sshd 2>/dev/null; cd %s && /usr/sbin/sshd -f %1$s/config-%s"
                        .formatted(folder, port));
    }

    /** Ends it with the sessions that it has. */
    void stop() throws Exception {
        house.shell(
                "pkill -P $(cat %s/pid-%s) || true; kill $(cat %1$s/pid-%2$s) || true"
                        .formatted(folder, port));
    }
}
