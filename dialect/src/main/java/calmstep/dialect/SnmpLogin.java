package calmstep.dialect;

import java.util.Locale;

/** Who asks by SNMP. */
public sealed interface SnmpLogin extends Secret {
    /** Version 2c (RFC 1901): a word that goes over the network in the clear. */
    record Community(String word) implements SnmpLogin {
        @Override
        public String toString() {
            return "SNMP v2c";
        }
    }

    /**
     * Version 3 with the user-based security model (RFC 3414): signed, and enciphered where there
     * is a privacy password.
     */
    record User(
            String name,
            Authentication authentication,
            String password,
            Privacy privacy,
            String privacyPassword)
            implements SnmpLogin {
        private static final int SHORTEST = 8;

        /** Whether its passwords are as long as RFC 3414 asks (section 11.2). */
        public boolean isLongEnough() {
            return password.length() >= SHORTEST
                    && (privacy == Privacy.NONE || privacyPassword.length() >= SHORTEST);
        }

        @Override
        public String toString() {
            return "SNMP v3 as %s".formatted(name);
        }
    }

    /** RFC 3414 and RFC 7860. */
    enum Authentication {
        SHA1,
        SHA256,
        SHA512;

        public static Authentication parse(String text) {
            return valueOf(text.toUpperCase(Locale.ROOT));
        }
    }

    /** RFC 3826 and its longer keys. */
    enum Privacy {
        NONE,
        AES128,
        AES256;

        public static Privacy parse(String text) {
            return valueOf(text.toUpperCase(Locale.ROOT));
        }
    }
}
