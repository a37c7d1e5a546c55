package calmstep.core.device;

import java.util.List;

/**
 * What went wrong, in the words of the trade.
 *
 * @param expected what should have been so
 * @param seen what was seen instead
 * @param remedy what to do or try
 * @param lastLines the device's last lines, secrets masked; may be empty
 * @param membersOut names of the members that do not do their part, where that is the trouble: a
 *     person may go on without them
 */
public record Trouble(
        String expected,
        String seen,
        String remedy,
        List<String> lastLines,
        List<String> membersOut) {
    public Trouble {
        lastLines = List.copyOf(lastLines);
        membersOut = List.copyOf(membersOut);
    }

    public Trouble(String expected, String seen, String remedy, List<String> lastLines) {
        this(expected, seen, remedy, lastLines, List.of());
    }

    public Trouble(String expected, String seen, String remedy) {
        this(expected, seen, remedy, List.of());
    }

    /** The same, which is the trouble of some members. */
    public Trouble ofMembers(List<String> members) {
        return new Trouble(expected, seen, remedy, lastLines, members);
    }

    public String sentence() {
        return "Expected: %s. Seen: %s. %s".formatted(expected, seen, remedy);
    }
}
