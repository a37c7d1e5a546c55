package calmstep.core.device;

import java.util.List;

/**
 * What went wrong, in the words of the trade.
 *
 * @param expected what should have been so
 * @param seen what was seen instead
 * @param remedy what to do or try
 * @param lastLines the device's last lines, secrets masked; may be empty
 */
public record Trouble(String expected, String seen, String remedy, List<String> lastLines) {
    public Trouble {
        lastLines = List.copyOf(lastLines);
    }

    public Trouble(String expected, String seen, String remedy) {
        this(expected, seen, remedy, List.of());
    }

    public String sentence() {
        return "Expected: %s. Seen: %s. %s".formatted(expected, seen, remedy);
    }
}
