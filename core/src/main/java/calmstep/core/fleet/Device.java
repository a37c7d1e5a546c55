package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * One managed box, as the inventory describes it.
 *
 * @param address IPv4 or IPv6 address
 * @param port of its command line
 * @param consolePort of its console line, 0 where it has none that we reach
 * @param logins names of the credentials that open it, to be tried in this order
 * @param tags words of one's own, to select by
 * @param entitled whether support entitlement covers it
 * @param runs releases by component as somebody wrote them down, for work without a reading; may be
 *     empty
 * @param parts its parts as somebody wrote them down: members, boards, dependents
 * @param wiring what it is joined with
 * @param way how it is reached where it is not simply there
 * @param serves what stands behind it, in users' words; empty where nobody wrote it down
 */
public record Device(
        String name,
        String family,
        Hardware hardware,
        String serial,
        String site,
        String role,
        Set<String> tags,
        String address,
        int port,
        int consolePort,
        List<String> logins,
        boolean entitled,
        Map<String, String> runs,
        List<Part> parts,
        String serves,
        Wiring wiring,
        Way way) {
    public Device {
        tags = Collections.unmodifiableSet(new TreeSet<>(tags));
        logins = List.copyOf(logins);
        runs = Map.copyOf(runs);
        parts = List.copyOf(parts);
    }

    /**
     * What a device is joined with.
     *
     * @param links names of devices; either end of a link may name the other
     * @param root whether our service or the users' services sit at it
     * @param redundancy names of the groups in which it stands in for others: members of one are
     *     never in work together
     * @param fedBy the base that sends it its files over a channel that it shares with others;
     *     empty where it fetches them itself
     */
    public record Wiring(
            Set<String> links, boolean root, Set<String> redundancy, Optional<String> fedBy) {
        public static final Wiring NONE = new Wiring(Set.of(), false, Set.of());

        public Wiring(Set<String> links, boolean root, Set<String> redundancy) {
            this(links, root, redundancy, Optional.empty());
        }

        public Wiring {
            links = Collections.unmodifiableSet(new TreeSet<>(links));
            redundancy = Collections.unmodifiableSet(new TreeSet<>(redundancy));
        }
    }

    /** A device without tags, parts and links. */
    public Device(
            String name,
            String family,
            Hardware hardware,
            String serial,
            String site,
            String role,
            String address,
            int port,
            int consolePort,
            String login,
            boolean entitled,
            Map<String, String> runs,
            String serves) {
        this(
                name,
                family,
                hardware,
                serial,
                site,
                role,
                Set.of(),
                address,
                port,
                consolePort,
                List.of(login),
                entitled,
                runs,
                List.of(),
                serves,
                Wiring.NONE,
                Way.PLAIN);
    }

    /**
     * Release by component, as a reading tells it; what no reading tells, such as the release of
     * its management software, as somebody wrote it down.
     */
    public SortedMap<String, String> runs(Optional<Reading> reading) {
        SortedMap<String, String> all = new TreeMap<>(runs);
        reading.ifPresent(read -> all.putAll(read.components()));
        return all;
    }

    /**
     * With the parts that a reading shows, the active one first, in place of what somebody wrote
     * down of their kinds.
     */
    public Device withParts(Reading reading) {
        Set<Part.Kind> shown =
                reading.parts().stream()
                        .map(part -> part.part().kind())
                        .collect(Collectors.toSet());
        return withParts(
                Stream.concat(
                                reading.parts().stream()
                                        .sorted(Comparator.comparing(part -> !part.isActive()))
                                        .map(Reading.PartShown::part),
                                parts.stream().filter(part -> !shown.contains(part.kind())))
                        .toList());
    }

    public Device withParts(List<Part> known) {
        return with(hardware, serial, known);
    }

    /**
     * As it shows itself: its own word goes before what somebody wrote down, wherever it says
     * something.
     */
    public Device asShown(Reading reading) {
        return with(
                reading.identity().hardware().or(hardware),
                shownSerial(reading),
                withParts(reading).parts);
    }

    private String shownSerial(Reading reading) {
        String shown = reading.identity().serial();
        return shown.isEmpty() ? serial : shown;
    }

    private Device with(Hardware shown, String itsSerial, List<Part> known) {
        return new Device(
                name,
                family,
                shown,
                itsSerial,
                site,
                role,
                tags,
                address,
                port,
                consolePort,
                logins,
                entitled,
                runs,
                known,
                serves,
                wiring,
                way);
    }
}
