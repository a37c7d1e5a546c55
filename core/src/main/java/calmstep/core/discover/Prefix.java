package calmstep.core.discover;

import java.math.BigInteger;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.regex.Pattern;

/**
 * A block of addresses from first to last, both in it. Written as a prefix ({@code 192.0.2.0/24}),
 * as a stretch ({@code 192.0.2.10-192.0.2.40}) or as one address. The network's and the broadcast
 * address of an IPv4 prefix of up to /30 are not in it: no device has them.
 *
 * @param bytes 4 for IPv4, 16 for IPv6
 */
public record Prefix(String text, int bytes, BigInteger first, BigInteger last) {
    /** Only what an address is made of: a host name must never be looked up here. */
    private static final Pattern LITERAL =
            Pattern.compile("(?:\\d{1,3}\\.){3}\\d{1,3}|[0-9a-fA-F:.]*:[0-9a-fA-F:.]*");

    /**
     * @throws IllegalArgumentException with what was expected and seen
     */
    public static Prefix parse(String text) {
        String given = text.strip();
        int slash = given.indexOf('/');
        int dash = given.indexOf('-');
        if (slash >= 0) {
            return block(
                    given, octets(given.substring(0, slash), given), given.substring(slash + 1));
        }
        byte[] from = octets(dash < 0 ? given : given.substring(0, dash).strip(), given);
        byte[] to = dash < 0 ? from : octets(given.substring(dash + 1).strip(), given);
        BigInteger first = new BigInteger(1, from);
        BigInteger last = new BigInteger(1, to);
        checkOrder(from, to, first, last, given);
        return new Prefix(given, from.length, first, last);
    }

    private static void checkOrder(
            byte[] from, byte[] to, BigInteger first, BigInteger last, String given) {
        if (from.length != to.length || first.compareTo(last) > 0) {
            throw new IllegalArgumentException(
                    "Expected a stretch from a lower to a higher address, saw \"%s\"."
                            .formatted(given));
        }
    }

    private static Prefix block(String given, byte[] network, String lengthText) {
        int bits = network.length * 8;
        int length = lengthOf(lengthText, bits, given);
        BigInteger size = BigInteger.ONE.shiftLeft(bits - length);
        BigInteger address = new BigInteger(1, network);
        BigInteger first = address.subtract(address.mod(size));
        mustBeTheFirst(first, address, length, network, given);
        BigInteger last = first.add(size).subtract(BigInteger.ONE);
        boolean hasEnds = network.length == 4 && bits - length >= 2;
        return new Prefix(
                given,
                network.length,
                hasEnds ? first.add(BigInteger.ONE) : first,
                hasEnds ? last.subtract(BigInteger.ONE) : last);
    }

    private static void mustBeTheFirst(
            BigInteger first, BigInteger address, int length, byte[] network, String given) {
        if (!first.equals(address)) {
            throw new IllegalArgumentException(
                    "Expected the first address of a /%s, which is %s/%s; saw \"%s\"."
                            .formatted(length, text(first, network.length), length, given));
        }
    }

    private static int lengthOf(String lengthText, int bits, String given) {
        int length = lengthText.matches("\\d{1,3}") ? Integer.parseInt(lengthText) : -1;
        if (length < 0 || length > bits) {
            throw new IllegalArgumentException(
                    "Expected a prefix length from 0 to %s in \"%s\", saw \"%s\"."
                            .formatted(bits, given, lengthText));
        }
        return length;
    }

    private static byte[] octets(String address, String given) {
        try {
            if (LITERAL.matcher(address).matches()) {
                return InetAddress.getByName(address).getAddress();
            }
        } catch (UnknownHostException notAnAddress) {
            throw new IllegalArgumentException(
                    "Expected addresses such as 192.0.2.0/24 or 192.0.2.10-192.0.2.40, saw \"%s\"."
                            .formatted(given),
                    notAnAddress);
        }
        throw new IllegalArgumentException(
                "Expected addresses such as 192.0.2.0/24 or 192.0.2.10-192.0.2.40, saw \"%s\"."
                        .formatted(given));
    }

    static String text(BigInteger address, int bytes) {
        byte[] digits = address.toByteArray();
        byte[] octets = new byte[bytes];
        int used = Math.min(digits.length, bytes);
        System.arraycopy(digits, digits.length - used, octets, bytes - used, used);
        try {
            return InetAddress.getByAddress(octets).getHostAddress();
        } catch (UnknownHostException impossible) {
            throw new IllegalStateException(
                    "%s has no length of an address".formatted(Arrays.toString(octets)),
                    impossible);
        }
    }

    /** How many addresses are in it. */
    public BigInteger size() {
        return last.subtract(first).add(BigInteger.ONE);
    }

    boolean contains(int length, BigInteger address) {
        return length == bytes && first.compareTo(address) <= 0 && address.compareTo(last) <= 0;
    }

    @Override
    public String toString() {
        return text;
    }
}
