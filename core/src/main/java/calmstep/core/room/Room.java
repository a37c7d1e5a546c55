package calmstep.core.room;

import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** What has to go so that a file fits. */
public sealed interface Room {
    /** More than this many removable files are weighed greedily; below, every set is weighed. */
    int EXACT_UP_TO = 16;

    /** Nothing has to go. */
    record Enough(long freeBytes) implements Room {}

    /** These have to go; {@code freeBytesAfter} is what is free then, before the image comes. */
    record AfterRemoving(List<StoredFile> files, long freeBytesAfter) implements Room {}

    /** Even without everything that may go, so many bytes are missing. */
    record TooSmall(long missingBytes, List<StoredFile> removable) implements Room {}

    /**
     * The smallest removal (fewest files, then fewest bytes) that makes room. The running, next and
     * fallback images are never in it, nor is a file that is not known to be an image of the
     * family: unknown files are somebody's.
     *
     * @param neededBytes bytes that must be free
     * @param knownImages names of the family's published images
     * @param alsoKept files that this plan still needs
     */
    static Room plan(
            Volume volume,
            BootChoice boot,
            long neededBytes,
            Set<String> knownImages,
            Set<String> alsoKept) {
        if (volume.freeBytes() >= neededBytes) {
            return new Enough(volume.freeBytes());
        }
        List<StoredFile> removable =
                volume.files().stream()
                        .filter(
                                f ->
                                        knownImages.contains(f.name())
                                                && !boot.isProtected(f.name())
                                                && !alsoKept.contains(f.name()))
                        .sorted(
                                Comparator.comparingLong(StoredFile::sizeBytes)
                                        .reversed()
                                        .thenComparing(StoredFile::name))
                        .toList();
        long missing = neededBytes - volume.freeBytes();
        long most = sum(removable);
        if (most < missing) {
            return new TooSmall(missing - most, removable);
        }
        List<StoredFile> chosen =
                removable.size() <= EXACT_UP_TO
                        ? smallestSet(removable, missing)
                        : largestFirst(removable, missing);
        return new AfterRemoving(chosen, volume.freeBytes() + sum(chosen));
    }

    /**
     * One room for a file that has to lie on several volumes, whose files are removed from all of
     * them at once.
     */
    static Room together(List<Room> rooms) {
        List<TooSmall> tooSmall =
                rooms.stream()
                        .filter(TooSmall.class::isInstance)
                        .map(TooSmall.class::cast)
                        .sorted(Comparator.comparingLong(TooSmall::missingBytes).reversed())
                        .toList();
        if (!tooSmall.isEmpty()) {
            return tooSmall.getFirst();
        }
        TreeMap<String, StoredFile> files = new TreeMap<>();
        long free = Long.MAX_VALUE;
        free = leastFree(rooms, free, files);
        return files.isEmpty()
                ? new Enough(free)
                : new AfterRemoving(List.copyOf(files.values()), free);
    }

    private static long leastFree(List<Room> rooms, long free, Map<String, StoredFile> files) {
        for (Room room : rooms) {
            free =
                    Math.min(
                            free,
                            switch (room) {
                                case Enough(long bytes) -> bytes;
                                case AfterRemoving(var removed, long bytes) -> {
                                    removed.forEach(file -> files.put(file.name(), file));
                                    yield bytes;
                                }
                                case TooSmall _ -> 0;
                            });
        }
        return free;
    }

    private static List<StoredFile> smallestSet(List<StoredFile> files, long missing) {
        List<StoredFile> best = files;
        for (int mask = 1; mask < 1 << files.size(); mask++) {
            List<StoredFile> set = new ArrayList<>();
            for (int i = 0; i < files.size(); i++) {
                if ((mask & 1 << i) != 0) {
                    set.add(files.get(i));
                }
            }
            boolean fewer =
                    set.size() < best.size() || (set.size() == best.size() && sum(set) < sum(best));
            if (sum(set) >= missing && fewer) {
                best = set;
            }
        }
        return best;
    }

    private static List<StoredFile> largestFirst(List<StoredFile> files, long missing) {
        List<StoredFile> chosen = new ArrayList<>();
        for (StoredFile file : files) {
            if (sum(chosen) >= missing) {
                break;
            }
            chosen.add(file);
        }
        return chosen;
    }

    private static long sum(List<StoredFile> files) {
        return files.stream().mapToLong(StoredFile::sizeBytes).sum();
    }
}
