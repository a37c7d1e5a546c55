package calmstep.dialect;

import calmstep.core.step.Digests;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.snmp4j.security.AuthHMAC192SHA256;
import org.snmp4j.security.AuthHMAC384SHA512;
import org.snmp4j.security.SecurityProtocols;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;

/**
 * Makes the key of a password for one engine once. By RFC 3414, A.2, each costs the hash of a
 * megabyte: more than all that is asked of a small device in a session.
 */
final class RememberedKeys extends SecurityProtocols {
    private static final long serialVersionUID = 1L;
    private static final int KEPT = 10_000;

    /** A key opens one engine only; the password, which may open many, is not kept. */
    private static final Map<Made, byte[]> KEYS =
            new LinkedHashMap<>(16, 0.75f, true) {
                private static final long serialVersionUID = 1L;

                @Override
                protected boolean removeEldestEntry(Map.Entry<Made, byte[]> eldest) {
                    return size() > KEPT;
                }
            };

    private record Made(
            OID authentication, Optional<OID> privacy, String password, OctetString engine) {}

    RememberedKeys() {
        super(SecurityProtocolSet.maxCompatibility);
        addAuthenticationProtocol(new AuthHMAC192SHA256());
        addAuthenticationProtocol(new AuthHMAC384SHA512());
    }

    @Override
    public byte[] passwordToKey(OID authentication, OctetString password, byte[] engine) {
        return remembered(
                new Made(authentication, Optional.empty(), digest(password), of(engine)),
                () -> super.passwordToKey(authentication, password, engine));
    }

    @Override
    public byte[] passwordToKey(
            OID privacy, OID authentication, OctetString password, byte[] engine) {
        return remembered(
                new Made(authentication, Optional.of(privacy), digest(password), of(engine)),
                () -> super.passwordToKey(privacy, authentication, password, engine));
    }

    private static byte[] remembered(Made made, Supplier<byte[]> make) {
        byte[] key;
        synchronized (KEYS) {
            key = KEYS.get(made);
        }
        if (key == null) {
            key = make.get();
            synchronized (KEYS) {
                KEYS.put(made, key);
            }
        }
        return key.clone();
    }

    private static String digest(OctetString password) {
        return Digests.sha256(Arrays.toString(password.getValue()));
    }

    private static OctetString of(byte[] engine) {
        return new OctetString(engine);
    }
}
