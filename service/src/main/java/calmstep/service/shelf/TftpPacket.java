package calmstep.service.shelf;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Packets of the Trivial File Transfer Protocol: RFC 1350, with the options of RFC 2347. */
sealed interface TftpPacket {
    /**
     * Largest number of a block; the next one is 0, as common clients do for files over 65,535
     * blocks.
     */
    int BLOCK_NUMBERS = 0x10000;

    record Read(String fileName, String mode, Map<String, String> options) implements TftpPacket {}

    record Data(int block, byte[] bytes) implements TftpPacket {
        @Override
        public boolean equals(Object other) {
            return other instanceof Data data
                    && data.block == block
                    && Arrays.equals(data.bytes, bytes);
        }

        @Override
        public int hashCode() {
            return 31 * block + Arrays.hashCode(bytes);
        }
    }

    record Acknowledged(int block) implements TftpPacket {}

    record Failed(int code, String sentence) implements TftpPacket {}

    record Options(Map<String, String> options) implements TftpPacket {}

    /**
     * A packet that this side never answers but with an error: a write request, or something
     * malformed.
     */
    record Unusable(String why) implements TftpPacket {}

    static TftpPacket decode(byte[] packet, int length) {
        if (length < 4) {
            return new Unusable("a packet of %s bytes".formatted(length));
        }
        ByteBuffer in = ByteBuffer.wrap(packet, 0, length);
        return switch (in.getShort()) {
            case 1 -> readRequest(texts(in));
            case 2 -> new Unusable("a write request");
            case 3 -> new Data(in.getShort() & 0xffff, remaining(in));
            case 4 -> new Acknowledged(in.getShort() & 0xffff);
            case 5 -> new Failed(in.getShort() & 0xffff, texts(in).stream().findFirst().orElse(""));
            case 6 -> new Options(pairs(texts(in), 0));
            default -> new Unusable("an unknown kind of packet");
        };
    }

    private static TftpPacket readRequest(List<String> texts) {
        return texts.size() < 2
                ? new Unusable("a read request without name and mode")
                : new Read(texts.get(0), texts.get(1).toLowerCase(Locale.ROOT), pairs(texts, 2));
    }

    private static Map<String, String> pairs(List<String> texts, int from) {
        Map<String, String> pairs = new LinkedHashMap<>();
        for (int i = from; i + 1 < texts.size(); i += 2) {
            pairs.put(texts.get(i).toLowerCase(Locale.ROOT), texts.get(i + 1));
        }
        return pairs;
    }

    private static byte[] remaining(ByteBuffer in) {
        byte[] bytes = new byte[in.remaining()];
        in.get(bytes);
        return bytes;
    }

    private static List<String> texts(ByteBuffer in) {
        List<String> texts = new ArrayList<>();
        byte[] bytes = remaining(in);
        int start = 0;
        for (int i = 0; i < bytes.length; i++) {
            if (bytes[i] == 0) {
                texts.add(new String(bytes, start, i - start, StandardCharsets.US_ASCII));
                start = i + 1;
            }
        }
        return texts;
    }

    default byte[] encode() {
        return switch (this) {
            case Read(String name, String mode, var options) ->
                    assemble(1, -1, join(name, mode, options));
            case Data(int block, byte[] bytes) -> assemble(3, block, bytes);
            case Acknowledged(int block) -> assemble(4, block, new byte[0]);
            case Failed(int code, String sentence) ->
                    assemble(5, code, (sentence + "\0").getBytes(StandardCharsets.US_ASCII));
            case Options(var options) -> assemble(6, -1, join("", "", options));
            case Unusable _ -> throw new IllegalStateException("Nobody sends an unusable packet");
        };
    }

    private static byte[] join(String name, String mode, Map<String, String> options) {
        StringBuilder text = new StringBuilder(name.isEmpty() ? "" : name + "\0" + mode + "\0");
        options.forEach((key, value) -> text.append(key).append('\0').append(value).append('\0'));
        return text.toString().getBytes(StandardCharsets.US_ASCII);
    }

    private static byte[] assemble(int kind, int number, byte[] rest) {
        ByteBuffer out = ByteBuffer.allocate((number < 0 ? 2 : 4) + rest.length);
        out.putShort((short) kind);
        if (number >= 0) {
            out.putShort((short) number);
        }
        return out.put(rest).array();
    }
}
