package calmstep.core.fleet;

import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How a device is reached where it is not simply there.
 *
 * @param via jump hosts on the way to it, the nearest to us first
 * @param console its line at a console server; empty where its console port is its own or none
 * @param oldAlgorithms names of the SSH algorithms, no longer thought safe, that are allowed with
 *     it
 * @param medium as the device calls it: what somebody plugged into it, with images on it; empty for
 *     nothing
 */
public record Way(
        List<Stop> via,
        Optional<Stop> console,
        Set<String> oldAlgorithms,
        Optional<String> medium) {
    public static final Way PLAIN = new Way(List.of(), Optional.empty(), Set.of());

    public Way(List<Stop> via, Optional<Stop> console, Set<String> oldAlgorithms) {
        this(via, console, oldAlgorithms, Optional.empty());
    }

    public Way {
        via = List.copyOf(via);
        oldAlgorithms = Collections.unmodifiableSet(new TreeSet<>(oldAlgorithms));
    }

    /**
     * A host that is signed in to by SSH on the way, written {@code LOGIN@HOST} or {@code
     * LOGIN@HOST:PORT}, an IPv6 address in brackets.
     */
    public record Stop(String login, String host, int port) {
        private static final Pattern WRITTEN =
                Pattern.compile(
                        "([a-z0-9][a-z0-9.-]*)@(?:\\[([0-9a-fA-F:]+)]|([A-Za-z0-9.-]+))(?::(\\d{1,5}))?");

        /**
         * @throws IllegalArgumentException where it is written otherwise
         */
        public static Stop parse(String text) {
            Matcher matcher = WRITTEN.matcher(text);
            int port =
                    matcher.matches() && matcher.group(4) != null
                            ? Integer.parseInt(matcher.group(4))
                            : InventoryText.USUAL_PORT;
            if (!matcher.matches() || port < 1 || port > 65535) {
                throw new IllegalArgumentException(
                        "Expected a host on the way as LOGIN@HOST:PORT, such as jump@192.0.2.9:22; saw \"%s\"."
                                .formatted(text));
            }
            return new Stop(
                    matcher.group(1),
                    matcher.group(2) == null ? matcher.group(3) : matcher.group(2),
                    port);
        }

        /** Where it is, without who signs in. */
        public String place() {
            return "%s:%s".formatted(host.contains(":") ? "[" + host + "]" : host, port);
        }

        @Override
        public String toString() {
            return "%s@%s".formatted(login, place());
        }
    }
}
