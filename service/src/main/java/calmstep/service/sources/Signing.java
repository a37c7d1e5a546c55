package calmstep.service.sources;

import calmstep.core.step.Digests;
import calmstep.service.Settings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.List;
import org.springframework.stereotype.Component;

/**
 * The key that signs this house's bundles (Ed25519, RFC 8032), made at the first start; and the
 * check of others' signatures.
 */
@Component
class Signing {
    private static final String ED25519 = "Ed25519";

    private final PrivateKey privateKey;
    private final String publicKey;

    Signing(Settings settings) throws IOException, GeneralSecurityException {
        Path file = settings.keyFile().resolveSibling("bundle-signing.key");
        if (!Files.exists(file)) {
            Files.createDirectories(file.toAbsolutePath().getParent());
            KeyPair made = KeyPairGenerator.getInstance(ED25519).generateKeyPair();
            Files.createFile(
                    file,
                    PosixFilePermissions.asFileAttribute(
                            PosixFilePermissions.fromString("rw-------")));
            Files.write(
                    file,
                    List.of(
                            base64(made.getPrivate().getEncoded()),
                            base64(made.getPublic().getEncoded())));
        }
        List<String> lines = Files.readAllLines(file);
        if (lines.size() != 2) {
            throw new IOException(
                    "The key file %s holds %s lines; expected the private and the public key. Put the right file back, or remove it to have a new one made."
                            .formatted(file, lines.size()));
        }
        privateKey =
                KeyFactory.getInstance(ED25519)
                        .generatePrivate(
                                new PKCS8EncodedKeySpec(
                                        Base64.getDecoder().decode(lines.getFirst())));
        publicKey = lines.getLast();
    }

    private static String base64(byte[] bytes) {
        return Base64.getEncoder().encodeToString(bytes);
    }

    /** Our public key, in Base64. */
    String publicKey() {
        return publicKey;
    }

    /** What people compare: the SHA-256 of a public key. */
    static String fingerprint(String publicKey) {
        return "SHA256:" + Digests.sha256(publicKey).substring(0, 32);
    }

    byte[] sign(byte[] contents) {
        try {
            Signature signature = Signature.getInstance(ED25519);
            signature.initSign(privateKey);
            signature.update(contents);
            return signature.sign();
        } catch (GeneralSecurityException unusable) {
            throw new IllegalStateException("The key that signs bundles cannot be used", unusable);
        }
    }

    /**
     * @throws IllegalArgumentException when the text is no public key
     */
    static PublicKey parse(String publicKey) {
        try {
            return KeyFactory.getInstance(ED25519)
                    .generatePublic(
                            new X509EncodedKeySpec(Base64.getDecoder().decode(publicKey.strip())));
        } catch (GeneralSecurityException | IllegalArgumentException wrong) {
            throw new IllegalArgumentException(
                    "Expected a public key as \"calmstep shelf key\" prints it, saw something"
                            + " else.",
                    wrong);
        }
    }

    static boolean isSigned(byte[] contents, byte[] signature, String publicKey) {
        try {
            Signature check = Signature.getInstance(ED25519);
            check.initVerify(parse(publicKey));
            check.update(contents);
            return check.verify(signature);
        } catch (GeneralSecurityException notEvenASignature) {
            return false;
        }
    }
}
