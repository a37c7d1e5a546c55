package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * What one interrogation of a device gave. Kept as it was; a newer one stands beside it.
 *
 * @param takenAt our clock
 * @param identity who the device says it is
 * @param components release by component, as the device writes it
 * @param boot which image runs, which would boot next, which if that fails
 * @param bootMark changes with every start of the device and with nothing else: the device's own
 *     count or time of its last start. Compared for equality only, so the device's clock may be
 *     wrong
 * @param volumes storage
 * @param unsavedChanges whether the running configuration differs from the one that would be read
 *     at the next start
 * @param configurationSha256 digest of the running configuration without its volatile lines
 * @param facts what is compared before and after
 * @param parts its members, boards and dependents, where it has any
 * @param waiting by component other than the system: the file that its next restart takes over
 */
public record Reading(
        Instant takenAt,
        Identity identity,
        SortedMap<String, String> components,
        BootChoice boot,
        String bootMark,
        List<Volume> volumes,
        boolean unsavedChanges,
        String configurationSha256,
        List<Fact> facts,
        List<PartShown> parts,
        SortedMap<String, String> waiting) {
    public Reading {
        components = Collections.unmodifiableSortedMap(new TreeMap<>(components));
        volumes = List.copyOf(volumes);
        facts = List.copyOf(facts);
        parts = List.copyOf(parts);
        waiting = Collections.unmodifiableSortedMap(new TreeMap<>(waiting));
    }

    /** Of a device without parts. */
    public Reading(
            Instant takenAt,
            Identity identity,
            SortedMap<String, String> components,
            BootChoice boot,
            String bootMark,
            List<Volume> volumes,
            boolean unsavedChanges,
            String configurationSha256,
            List<Fact> facts) {
        this(
                takenAt,
                identity,
                components,
                boot,
                bootMark,
                volumes,
                unsavedChanges,
                configurationSha256,
                facts,
                List.of(),
                new TreeMap<>());
    }

    /**
     * Who a device says it is; empty where it does not tell.
     *
     * @param region sales region
     * @param brand operator that the unit was made for
     * @param features feature packages that are installed
     */
    public record Identity(
            String hostName,
            String model,
            String revision,
            String serial,
            String region,
            String brand,
            Set<String> features) {
        public Identity {
            // A reading that was kept before anybody asked for these.
            region = Objects.requireNonNullElse(region, "");
            brand = Objects.requireNonNullElse(brand, "");
            features =
                    Collections.unmodifiableSet(
                            new TreeSet<>(Objects.requireNonNullElse(features, Set.of())));
        }

        public Identity(String hostName, String model, String revision, String serial) {
            this(hostName, model, revision, serial, "", "", Set.of());
        }

        public Hardware hardware() {
            return new Hardware(model, revision, region, brand, features);
        }
    }

    /**
     * Where an image is in parts, their files are joined by {@value #PARTS}.
     *
     * @param running file that was started
     * @param next file that would be started next
     * @param fallback file that would be started if that fails, empty where there is none
     * @param saved whether the choice outlives a restart
     */
    public record BootChoice(String running, String next, String fallback, boolean saved) {
        public static final String PARTS = " + ";

        /** The files of a choice, one a part. */
        public static List<String> filesOf(String choice) {
            return choice.isEmpty() ? List.of() : List.of(choice.split(Pattern.quote(PARTS)));
        }

        /**
         * Whether two choices are of the same files; a device may write the parts in an order of
         * its own.
         */
        public static boolean isSame(String one, String other) {
            return Set.copyOf(filesOf(one)).equals(Set.copyOf(filesOf(other)));
        }

        public boolean isProtected(String file) {
            return Stream.of(running, next, fallback)
                    .anyMatch(choice -> filesOf(choice).contains(file));
        }
    }

    /**
     * A place where files are.
     *
     * @param part name of the part that has it; empty for the device's own
     */
    public record Volume(
            String name, long sizeBytes, long freeBytes, List<StoredFile> files, String part) {
        public Volume {
            files = List.copyOf(files);
        }

        public Volume(String name, long sizeBytes, long freeBytes, List<StoredFile> files) {
            this(name, sizeBytes, freeBytes, files, "");
        }

        public Optional<StoredFile> find(String file) {
            return files.stream().filter(f -> f.name().equals(file)).findFirst();
        }
    }

    public record StoredFile(String name, long sizeBytes) {
        /** With its size, for people. */
        public String words() {
            return String.format(Locale.ROOT, "%s (%,d bytes)", name, sizeBytes);
        }
    }

    /**
     * A part as the device shows it.
     *
     * @param role {@value #ACTIVE}, {@value #STANDBY} or what else it is in its unit; empty where
     *     it has none
     * @param state {@value #IN_SYNC} for one that does its part; anything else for one that does
     *     not, or not yet
     * @param mark changes with each of its starts and with nothing else, see {@link
     *     Reading#bootMark()}; empty where the family does not tell
     */
    public record PartShown(Part part, String role, String state, String mark) {
        public static final String ACTIVE = "active";
        public static final String STANDBY = "standby";
        public static final String IN_SYNC = "in sync";

        public String name() {
            return part.name();
        }

        public boolean isActive() {
            return role.equals(ACTIVE);
        }

        public boolean isInSync() {
            return state.equals(IN_SYNC);
        }

        public String runs(String component) {
            return part.runs().getOrDefault(component, "");
        }
    }

    /**
     * Something that is compared before and after.
     *
     * @param kind what it is a fact about: {@code interface}, {@code neighbour}, {@code licence},
     *     {@code power} …
     * @param name which one
     * @param value how it is
     */
    public record Fact(String kind, String name, String value) {}

    /** The same with further facts. */
    public Reading with(List<Fact> more) {
        return more.isEmpty()
                ? this
                : new Reading(
                        takenAt,
                        identity,
                        components,
                        boot,
                        bootMark,
                        volumes,
                        unsavedChanges,
                        configurationSha256,
                        Stream.concat(facts.stream(), more.stream()).toList(),
                        parts,
                        waiting);
    }

    public String system() {
        return components.getOrDefault("system", "");
    }

    /** The volume that holds images: the first one. */
    public Optional<Volume> imageVolume() {
        return volumes.stream().findFirst();
    }

    /** The volumes that hold images: the first one of the device and of each of its parts. */
    public List<Volume> imageVolumes() {
        Map<String, Volume> first = new LinkedHashMap<>();
        volumes.forEach(volume -> first.putIfAbsent(volume.part(), volume));
        return List.copyOf(first.values());
    }

    /** The boards that carry a component of their own. */
    public List<PartShown> boards(String component) {
        return parts.stream()
                .filter(
                        shown ->
                                shown.part().kind() == Part.Kind.LINE_BOARD
                                        && shown.part().runs().containsKey(component))
                .toList();
    }

    public List<PartShown> dependents() {
        return parts.stream().filter(shown -> shown.part().kind() == Part.Kind.DEPENDENT).toList();
    }

    /**
     * What restarts as one with others or before them: the members of a stack, the sides of a pair.
     */
    public List<PartShown> members() {
        return parts.stream()
                .filter(
                        shown ->
                                shown.part().kind() == Part.Kind.MEMBER
                                        || shown.part().kind() == Part.Kind.PARTNER)
                .toList();
    }
}
