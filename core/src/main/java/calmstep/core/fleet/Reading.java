package calmstep.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * What one interrogation of a device gave. Kept as it was; a newer one stands beside it.
 *
 * @param takenAt             our clock
 * @param identity            who the device says it is
 * @param components          release by component, as the device writes it
 * @param boot                which image runs, which would boot next, which if that fails
 * @param bootMark            changes with every start of the device and with nothing else: the device's own count or time of its last
 *                            start. Compared for equality only, so the device's clock may be wrong
 * @param volumes             storage
 * @param unsavedChanges      whether the running configuration differs from the one that would be read at the next start
 * @param configurationSha256 digest of the running configuration without its volatile lines
 * @param facts               what is compared before and after
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
        List<Fact> facts) {
    public Reading {
        components = java.util.Collections.unmodifiableSortedMap(new TreeMap<>(components));
        volumes = List.copyOf(volumes);
        facts = List.copyOf(facts);
    }

    /** Who a device says it is. */
    public record Identity(String hostName, String model, String revision, String serial) {}

    /**
     * @param running  file that was started
     * @param next     file that would be started next
     * @param fallback file that would be started if that fails, empty where there is none
     * @param saved    whether the choice outlives a restart
     */
    public record BootChoice(String running, String next, String fallback, boolean saved) {
        public boolean isProtected(String file) {
            return file.equals(running) || file.equals(next) || file.equals(fallback);
        }
    }

    /** A place where files are. */
    public record Volume(String name, long sizeBytes, long freeBytes, List<StoredFile> files) {
        public Volume {
            files = List.copyOf(files);
        }

        public Optional<StoredFile> find(String file) {
            return files.stream().filter(f -> f.name().equals(file)).findFirst();
        }
    }

    public record StoredFile(String name, long sizeBytes) {}

    /**
     * Something that is compared before and after.
     *
     * @param kind  what it is a fact about: {@code interface}, {@code neighbour}, {@code licence}, {@code power} …
     * @param name  which one
     * @param value how it is
     */
    public record Fact(String kind, String name, String value) {}


    public String system() {
        return components.getOrDefault("system", "");
    }

    /** The volume that holds images: the first one. */
    public Optional<Volume> imageVolume() {
        return volumes.stream().findFirst();
    }
}
