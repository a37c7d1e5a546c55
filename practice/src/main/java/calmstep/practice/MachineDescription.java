package calmstep.practice;

import java.time.Duration;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * A stand-in as the fleet file describes it: how it is when it is first switched on.
 *
 * @param files images that lie on its storage
 * @param otherFiles further files, name to size
 * @param startsInDevice time from restart to answering, on its own clock
 * @param startsWith the same with a certain image, where that one takes another time
 * @param bytesPerSecond rate of a copy, on its own clock
 * @param settings startup configuration
 * @param unsaved lines that its running configuration has in addition
 * @param links name to state
 * @param neighbours name to state
 * @param snmp {@code v2c}, {@code v3} or {@code none}
 * @param partners what backs it, name to state
 * @param members of a stack: how many there are and what they start with; {@link Members#ALONE} for
 *     a machine that stands alone
 * @param outfit what else it came with
 */
public record MachineDescription(
        String name,
        String family,
        String address,
        String model,
        String revision,
        String serial,
        String user,
        String password,
        long flashBytes,
        List<String> files,
        Map<String, Long> otherFiles,
        String running,
        String fallback,
        Duration startsInDevice,
        long bytesPerSecond,
        String settings,
        List<String> unsaved,
        Map<String, String> links,
        Map<String, String> neighbours,
        Set<Fault> faults,
        String snmp,
        Map<String, Duration> startsWith,
        Map<String, String> partners,
        Members members,
        Outfit outfit) {
    /**
     * What a machine came with.
     *
     * @param variant what its images must be made for beside its revision: a region, a feature set;
     *     empty where any will do
     * @param brand operator that it was made for; empty for none
     * @param licences name to how long each is valid
     * @param attached boards and access points
     * @param fedBy the base that sends it its files; empty for none
     * @param plugged images on a stick that is plugged in
     * @param boardFirmware release of its board's firmware; empty where the family has none of its
     *     own
     */
    public record Outfit(
            String variant,
            String brand,
            Map<String, String> licences,
            List<Attached> attached,
            String fedBy,
            List<String> plugged,
            String boardFirmware) {
        public static final Outfit NONE =
                new Outfit("", "", Map.of(), List.of(), "", List.of(), "");

        public Outfit {
            licences = Collections.unmodifiableMap(new TreeMap<>(licences));
            attached = List.copyOf(attached);
        }

        /**
         * Its boards and access points in this form, for whoever makes a machine of what was read.
         */
        public Outfit with(
                String name,
                String kind,
                String model,
                String serial,
                String runs,
                Duration startsIn,
                Duration fetchesIn) {
            return new Outfit(
                    variant,
                    brand,
                    licences,
                    Stream.concat(
                                    attached.stream(),
                                    Stream.of(
                                            new Attached(
                                                    name, kind, model, serial, runs, startsIn,
                                                    fetchesIn)))
                            .toList(),
                    fedBy,
                    plugged,
                    boardFirmware);
        }
    }

    /**
     * The members of a stack.
     *
     * @param serials of the first one, the second one …; one entry for a machine that stands alone
     * @param loader release of each one's loader; empty where the family has none of its own
     * @param settles time from a member's start until it is whole again, on its own clock
     */
    public record Members(List<String> serials, String loader, Duration settles) {
        public static final Members ALONE = new Members(List.of(), "", Duration.ZERO);

        public Members {
            serials = List.copyOf(serials);
        }
    }

    /**
     * Another box of the same make, as it comes from the bench: it knows its address and who may
     * sign in.
     *
     * @param image that it runs
     */
    MachineDescription replacedBy(String otherSerial, String image) {
        return new MachineDescription(
                name,
                family,
                address,
                model,
                revision,
                otherSerial,
                user,
                password,
                flashBytes,
                List.of(image),
                Map.of(),
                image,
                "",
                startsInDevice,
                bytesPerSecond,
                settings.lines().findFirst().orElse(""),
                List.of(),
                links,
                neighbours,
                Set.of(),
                snmp,
                startsWith,
                partners,
                members,
                outfit);
    }

    /** The same as one of its members. */
    MachineDescription member(int number) {
        return new MachineDescription(
                "%s member %s".formatted(name, number),
                family,
                address,
                model,
                revision,
                members.serials().get(number - 1),
                user,
                password,
                flashBytes,
                files,
                otherFiles,
                running,
                fallback,
                startsInDevice,
                bytesPerSecond,
                settings,
                unsaved,
                links,
                neighbours,
                Set.of(),
                "none",
                startsWith,
                partners,
                members,
                outfit);
    }

    MachineDescription(
            String name,
            String family,
            String address,
            String model,
            String revision,
            String serial,
            String user,
            String password,
            long flashBytes,
            List<String> files,
            Map<String, Long> otherFiles,
            String running,
            String fallback,
            Duration startsInDevice,
            long bytesPerSecond,
            String settings,
            List<String> unsaved,
            Map<String, String> links,
            Map<String, String> neighbours,
            Set<Fault> faults,
            String snmp) {
        this(
                name,
                family,
                address,
                model,
                revision,
                serial,
                user,
                password,
                flashBytes,
                files,
                otherFiles,
                running,
                fallback,
                startsInDevice,
                bytesPerSecond,
                settings,
                unsaved,
                links,
                neighbours,
                faults,
                snmp,
                Map.of(),
                Map.of(),
                Members.ALONE,
                Outfit.NONE);
    }

    /** How long it takes to start a choice; halves may be named in either order. */
    Duration startsIn(String choice) {
        return startsWith().entrySet().stream()
                .filter(
                        entry ->
                                Set.of(entry.getKey().split(" \\+ "))
                                        .equals(Set.of(choice.split(" \\+ "))))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(startsInDevice());
    }
}
