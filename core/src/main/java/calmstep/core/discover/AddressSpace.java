package calmstep.core.discover;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.SequencedSet;

/**
 * The addresses that a search may touch.
 *
 * @param within blocks that are searched
 * @param except blocks that are left alone, wherever they lie
 */
public record AddressSpace(List<Prefix> within, List<Prefix> except) {
    /** More are refused: such a search is a slip of the pen, or should be cut into several. */
    public static final int MOST = 65_536;

    public AddressSpace {
        within = List.copyOf(within);
        except = List.copyOf(except);
    }

    /**
     * @throws IllegalArgumentException with every text that is none, or when it is empty or too
     *     large
     */
    public static AddressSpace parse(List<String> within, List<String> except) {
        List<String> wrong = new ArrayList<>();
        AddressSpace space = new AddressSpace(parseAll(within, wrong), parseAll(except, wrong));
        if (!wrong.isEmpty()) {
            throw new IllegalArgumentException(String.join(" ", wrong));
        }
        BigInteger size =
                space.within.stream().map(Prefix::size).reduce(BigInteger.ZERO, BigInteger::add);
        if (size.signum() == 0 || size.compareTo(BigInteger.valueOf(MOST)) > 0) {
            throw new IllegalArgumentException(
                    String.format(
                            Locale.ROOT,
                            "Expected from 1 to %,d addresses to search, saw %,d. Name smaller"
                                    + " prefixes, or several ranges.",
                            MOST,
                            size));
        }
        return space;
    }

    private static List<Prefix> parseAll(List<String> texts, List<String> wrong) {
        List<Prefix> parsed = new ArrayList<>();
        for (String text : texts) {
            try {
                parsed.add(Prefix.parse(text));
            } catch (IllegalArgumentException refused) {
                wrong.add(refused.getMessage());
            }
        }
        return parsed;
    }

    /** Each address once, in the order of the blocks. */
    public SequencedSet<String> addresses() {
        LinkedHashSet<String> addresses = new LinkedHashSet<>();
        for (Prefix prefix : within) {
            for (BigInteger address = prefix.first();
                    address.compareTo(prefix.last()) <= 0;
                    address = address.add(BigInteger.ONE)) {
                BigInteger one = address;
                if (except.stream().noneMatch(left -> left.contains(prefix.bytes(), one))) {
                    addresses.add(Prefix.text(one, prefix.bytes()));
                }
            }
        }
        return addresses;
    }
}
