package calmstep.core.reach;

import static calmstep.core.known.Known.known;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * What a device sees beside it and what the inventory joins it with, where they differ. Only
 * devices of the fleet count: what stands outside is nobody's business here, and a device that
 * shows no neighbours at all says nothing.
 *
 * @param notWritten seen, and not in the inventory
 * @param notSeen in the inventory, and not seen
 */
public record Contradiction(String device, List<String> notWritten, List<String> notSeen) {
    private static final String NEIGHBOUR = "neighbour";
    private static final String UP = "up";

    public Contradiction {
        notWritten = List.copyOf(notWritten);
        notSeen = List.copyOf(notSeen);
    }

    /**
     * The neighbours that a reading shows as up, by name; empty when it shows none at all, whatever
     * their state.
     */
    public static Optional<Set<String>> neighbours(Reading reading) {
        List<Reading.Fact> shown =
                reading.facts().stream().filter(fact -> fact.kind().equals(NEIGHBOUR)).toList();
        return shown.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        shown.stream()
                                .filter(fact -> fact.value().equals(UP))
                                .map(Reading.Fact::name)
                                .collect(Collectors.toCollection(TreeSet::new)));
    }

    /**
     * @param seen by device, as its newest reading has it; no entry for one that was never read, or
     *     showed nothing
     */
    public static List<Contradiction> of(
            Collection<Device> devices, Map<String, Set<String>> seen) {
        Map<String, Set<String>> written = new TreeMap<>();
        devices.forEach(device -> written.put(device.name(), new TreeSet<>()));
        devices.forEach(
                device ->
                        device.wiring().links().stream()
                                .filter(written::containsKey)
                                .forEach(
                                        other -> {
                                            known(written, device.name()).add(other);
                                            known(written, other).add(device.name());
                                        }));
        List<Contradiction> found = new ArrayList<>();
        written.forEach(
                (device, links) -> {
                    if (seen.containsKey(device)) {
                        List<String> notWritten =
                                seen.get(device).stream()
                                        .filter(
                                                name ->
                                                        written.containsKey(name)
                                                                && !links.contains(name)
                                                                && !name.equals(device))
                                        .sorted()
                                        .toList();
                        // What the other end sees is seen.
                        List<String> notSeen =
                                links.stream()
                                        .filter(
                                                name ->
                                                        !seen.get(device).contains(name)
                                                                && !seen.getOrDefault(
                                                                                name, Set.of())
                                                                        .contains(device))
                                        .toList();
                        if (!notWritten.isEmpty() || !notSeen.isEmpty()) {
                            found.add(new Contradiction(device, notWritten, notSeen));
                        }
                    }
                });
        return found;
    }

    public String sentence() {
        String more =
                notWritten.isEmpty()
                        ? ""
                        : "%s sees %s beside it, which the inventory does not join it with"
                                .formatted(device, String.join(", ", notWritten));
        String less =
                notSeen.isEmpty()
                        ? ""
                        : "%s does not see %s, which the inventory joins it with"
                                .formatted(
                                        more.isEmpty() ? device : "it", String.join(", ", notSeen));
        return more.isEmpty() || less.isEmpty() ? more + less : more + "; " + less;
    }
}
