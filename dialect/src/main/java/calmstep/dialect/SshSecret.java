package calmstep.dialect;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.util.ArrayList;
import java.util.List;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.FilePasswordProvider;
import org.apache.sshd.common.util.security.SecurityUtils;

/** What proves over SSH or HTTPS that we are a device's user. */
public sealed interface SshSecret extends Secret {
    record Password(String word) implements SshSecret {
        @Override
        public String toString() {
            return "password";
        }
    }

    /**
     * A private key.
     *
     * @param text as its file has it, in OpenSSH's or PEM's form
     * @param passphrase that opens the text; empty for one that is open
     */
    record Key(String text, String passphrase) implements SshSecret {
        /**
         * @throws IllegalArgumentException with the reason, when the text is no private key or the
         *     passphrase does not open it
         */
        public List<KeyPair> pairs() {
            try {
                Iterable<KeyPair> found = found();
                List<KeyPair> pairs = listOf(found);
                if (pairs.isEmpty()) {
                    throw new IllegalArgumentException(
                            "Expected a private key as its file has it, saw none.");
                }
                return pairs;
            } catch (IOException | GeneralSecurityException | IllegalStateException unreadable) {
                throw new IllegalArgumentException(
                        "The private key cannot be read: %s. Give its passphrase, or make it anew."
                                .formatted(unreadable.getMessage()),
                        unreadable);
            }
        }

        private static List<KeyPair> listOf(Iterable<KeyPair> found) {
            List<KeyPair> pairs = new ArrayList<>();
            if (found != null) {
                found.forEach(pairs::add);
            }
            return pairs;
        }

        private Iterable<KeyPair> found() throws GeneralSecurityException, IOException {
            Iterable<KeyPair> found =
                    SecurityUtils.loadKeyPairIdentities(
                            null,
                            NamedResource.ofName("the login's key"),
                            new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)),
                            passphrase.isEmpty() ? null : FilePasswordProvider.of(passphrase));
            return found;
        }

        @Override
        public String toString() {
            return "key";
        }
    }

    /**
     * Keys that an SSH agent of this machine holds: it signs, and gives nothing away.
     *
     * @param socket path of the agent's socket
     */
    record Agent(String socket) implements SshSecret {
        @Override
        public String toString() {
            return "agent's keys";
        }
    }

    /** What stands for {@code {password}} in a dialect's answers; empty for a key or an agent. */
    default String word() {
        return "";
    }
}
