package calmstep.service.fleet;

import calmstep.service.problems.Refusal;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;

/** A text that somebody sends as the bytes of a file. */
final class GivenText {
    private static final int BYTE = 0xFF;

    private GivenText() {}

    /**
     * UTF-8; where it is none, Latin-1, which what tables are kept in still writes.
     *
     * @throws Refusal for UTF-16, which other programs call Unicode
     */
    static String read(byte[] bytes) {
        if (bytes.length > 1 && isUtf16(bytes[0] & BYTE, bytes[1] & BYTE)) {
            throw Refusal.wrong(
                    "Expected a text in UTF-8 or Latin-1, saw UTF-16. Save it as UTF-8 and send it"
                            + " again; nothing was taken over.");
        }
        try {
            return StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
        } catch (CharacterCodingException notUtf8) {
            return new String(bytes, StandardCharsets.ISO_8859_1);
        }
    }

    private static boolean isUtf16(int first, int second) {
        return (first == 0xFE && second == 0xFF) || (first == 0xFF && second == 0xFE);
    }
}
