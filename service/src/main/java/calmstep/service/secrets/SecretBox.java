package calmstep.service.secrets;

import calmstep.service.Settings;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.springframework.stereotype.Component;

/**
 * Seals and opens texts. What a sealed text belongs to is bound into it: moved to another row, it
 * does not open.
 */
@Component
public class SecretBox {
    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;

    private final SecretKeySpec key;
    private final SecureRandom random = new SecureRandom();

    SecretBox(Settings settings) throws IOException {
        key = new SecretKeySpec(readOrMakeKey(settings.keyFile()), "AES");
    }

    private byte[] readOrMakeKey(Path file) throws IOException {
        makeKeyIfMissing(file);
        byte[] read = Base64.getDecoder().decode(Files.readString(file).strip());
        if (read.length != 32) {
            throw new IOException(
                    "The key file %s holds %s bytes; expected 32 in Base64. Put the right key back: without it no device secret opens."
                            .formatted(file, read.length));
        }
        return read;
    }

    private void makeKeyIfMissing(Path file) throws IOException {
        if (!Files.exists(file)) {
            byte[] made = new byte[32];
            random.nextBytes(made);
            Files.createDirectories(file.toAbsolutePath().getParent());
            Files.createFile(
                    file,
                    PosixFilePermissions.asFileAttribute(
                            PosixFilePermissions.fromString("rw-------")));
            Files.writeString(file, Base64.getEncoder().encodeToString(made));
        }
    }

    /**
     * @param owner what the secret belongs to, for example {@code login/steward}
     */
    public byte[] seal(String owner, String clear) {
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        byte[] sealed =
                run(Cipher.ENCRYPT_MODE, nonce, owner, clear.getBytes(StandardCharsets.UTF_8));
        byte[] whole = Arrays.copyOf(nonce, NONCE_BYTES + sealed.length);
        System.arraycopy(sealed, 0, whole, NONCE_BYTES, sealed.length);
        return whole;
    }

    public String open(String owner, byte[] whole) {
        byte[] sealed = Arrays.copyOfRange(whole, NONCE_BYTES, whole.length);
        return new String(
                run(Cipher.DECRYPT_MODE, Arrays.copyOf(whole, NONCE_BYTES), owner, sealed),
                StandardCharsets.UTF_8);
    }

    private byte[] run(int mode, byte[] nonce, String owner, byte[] input) {
        try {
            Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
            cipher.init(mode, key, new GCMParameterSpec(TAG_BITS, nonce));
            cipher.updateAAD(owner.getBytes(StandardCharsets.UTF_8));
            return cipher.doFinal(input);
        } catch (GeneralSecurityException wrongKey) {
            throw new IllegalStateException(
                    "The secret of %s does not open with the key file that the service was started with; expected the key that sealed it."
                            .formatted(owner),
                    wrongKey);
        }
    }
}
