package calmstep.core.room;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.core.path.Hop;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Room along a whole path: each hop leaves its image behind and moves what is protected, so that a
 * later hop can be short where the first is not.
 *
 * @param removed old images that go on the way, in order
 * @param ahead hops whose images have room beside the first one's, before anything is changed;
 *     counted from 1
 * @param firstShort where the path gets stuck; empty where there is room for every hop
 */
public record RoomAhead(List<String> removed, Set<Integer> ahead, Optional<Tight> firstShort) {
    public RoomAhead {
        removed = List.copyOf(removed);
        ahead = Set.copyOf(ahead);
    }

    /** Names of files that a person may say to go. */
    public Set<String> inTheWay() {
        return firstShort.map(tight -> names(tight.inTheWay())).orElse(Set.of());
    }

    /**
     * A hop without room.
     *
     * @param missingBytes even without old images
     * @param inTheWay the fewest files that the catalogue does not know and that would make room if
     *     they went; empty where nothing would
     * @param unknown every such file
     */
    public record Tight(
            Hop hop, long missingBytes, List<StoredFile> inTheWay, List<StoredFile> unknown) {
        public Tight {
            inTheWay = List.copyOf(inTheWay);
            unknown = List.copyOf(unknown);
        }
    }

    /**
     * @param hops in order, each with its images
     * @param knownImages names of the family's published images
     */
    public static RoomAhead of(Reading reading, List<Hop> hops, Set<String> knownImages) {
        Set<Integer> ahead = ahead(reading, hops, knownImages);
        Course course = new Course(reading, hops, knownImages);
        for (int at = 0; at < hops.size() && !reading.imageVolumes().isEmpty(); at++) {
            List<Integer> brought = new ArrayList<>(at == 0 ? ahead : List.<Integer>of());
            if (!ahead.contains(at + 1)) {
                brought.addFirst(at + 1);
            }
            for (int ordinal : brought) {
                Optional<Tight> tight = course.bring(ordinal, at);
                if (tight.isPresent()) {
                    return new RoomAhead(course.removed, ahead, tight);
                }
            }
            course.start(hops.get(at));
        }
        return new RoomAhead(course.removed, ahead, Optional.empty());
    }

    /** As many as fit, in their order; what a hop wipes away is not brought before it. */
    private static Set<Integer> ahead(Reading reading, List<Hop> hops, Set<String> knownImages) {
        Set<Integer> ahead = new TreeSet<>();
        Set<String> names = images(hops);
        for (int at = 1; at < hops.size() && !reading.imageVolumes().isEmpty(); at++) {
            if (hops.get(at - 1).configuration() == Effect.Configuration.WIPED
                    || room(
                                    reading.imageVolumes(),
                                    reading.boot(),
                                    imagesOf(hops.subList(0, at + 1)),
                                    knownImages,
                                    names)
                            instanceof Room.TooSmall) {
                break;
            }
            ahead.add(at + 1);
        }
        return ahead;
    }

    /** A device on its way, as far as its storage goes. */
    private static final class Course {
        private final List<Hop> hops;
        private final Set<String> knownImages;
        private final List<String> removed = new ArrayList<>();
        private List<Volume> volumes;
        private BootChoice boot;

        Course(Reading reading, List<Hop> hops, Set<String> knownImages) {
            this.hops = hops;
            this.knownImages = knownImages;
            this.volumes = reading.imageVolumes();
            this.boot = reading.boot();
        }

        /**
         * Brings the image of a hop while it stands before another one.
         *
         * @return what it lacks, where there is no room
         */
        Optional<Tight> bring(int ordinal, int standsBefore) {
            Hop hop = hops.get(ordinal - 1);
            Set<String> kept = images(hops.subList(standsBefore, hops.size()));
            switch (room(volumes, boot, hop.images(), knownImages, kept)) {
                case Room.Enough _ -> {}
                case Room.AfterRemoving(List<StoredFile> files, long _) -> {
                    removed.addAll(names(files));
                    volumes = without(volumes, names(files));
                }
                case Room.TooSmall(long missing, var _) -> {
                    return Optional.of(shortOf(volumes, boot, hop, missing, knownImages, kept));
                }
            }
            volumes = volumes.stream().map(volume -> with(volume, hop.images())).toList();
            return Optional.empty();
        }

        void start(Hop hop) {
            boot = hop.component().equals(Catalogue.SYSTEM) ? started(boot, hop) : boot;
        }
    }

    /** Room for images that are to lie on the device together, as it stands. */
    private static Room room(
            List<Volume> volumes,
            BootChoice boot,
            List<FirmwareImage> images,
            Set<String> mayGo,
            Set<String> kept) {
        return Room.together(
                volumes.stream()
                        .map(
                                volume ->
                                        Room.plan(
                                                volume,
                                                boot,
                                                neededBytes(volume, images),
                                                mayGo,
                                                kept))
                        .toList());
    }

    private static Tight shortOf(
            List<Volume> volumes,
            BootChoice boot,
            Hop hop,
            long missing,
            Set<String> knownImages,
            Set<String> kept) {
        Predicate<StoredFile> isUnknown =
                file ->
                        !knownImages.contains(file.name())
                                && !boot.isProtected(file.name())
                                && !kept.contains(file.name());
        List<StoredFile> unknown =
                volumes.stream()
                        .flatMap(volume -> volume.files().stream())
                        .filter(isUnknown)
                        .distinct()
                        .sorted(Comparator.comparing(StoredFile::name))
                        .toList();
        Set<String> all = new TreeSet<>(knownImages);
        all.addAll(names(unknown));
        List<StoredFile> inTheWay =
                room(volumes, boot, hop.images(), all, kept)
                                instanceof Room.AfterRemoving(List<StoredFile> files, long _)
                        ? files.stream().filter(isUnknown).toList()
                        : List.of();
        return new Tight(hop, missing, inTheWay, unknown);
    }

    /**
     * Bytes that have to be free for images that lie there only in part, or not at all. A partial
     * copy gives its room back before it is copied anew.
     */
    public static long neededBytes(Volume volume, List<FirmwareImage> images) {
        return images.stream()
                .mapToLong(
                        image ->
                                image.sizeBytes()
                                        - Math.min(
                                                image.sizeBytes(),
                                                volume.find(image.fileName())
                                                        .map(StoredFile::sizeBytes)
                                                        .orElse(0L)))
                .sum();
    }

    private static List<Volume> without(List<Volume> volumes, Set<String> names) {
        return volumes.stream()
                .map(
                        volume ->
                                new Volume(
                                        volume.name(),
                                        volume.sizeBytes(),
                                        volume.freeBytes()
                                                + volume.files().stream()
                                                        .filter(f -> names.contains(f.name()))
                                                        .mapToLong(StoredFile::sizeBytes)
                                                        .sum(),
                                        volume.files().stream()
                                                .filter(f -> !names.contains(f.name()))
                                                .toList(),
                                        volume.part()))
                .toList();
    }

    private static Volume with(Volume volume, List<FirmwareImage> images) {
        TreeMap<String, StoredFile> files = new TreeMap<>();
        volume.files().forEach(file -> files.put(file.name(), file));
        images.forEach(
                image ->
                        files.put(
                                image.fileName(),
                                new StoredFile(image.fileName(), image.sizeBytes())));
        return new Volume(
                volume.name(),
                volume.sizeBytes(),
                volume.freeBytes() - neededBytes(volume, images),
                List.copyOf(files.values()),
                volume.part());
    }

    /** What a hop of the system leaves: its image runs, what ran before is the fallback. */
    private static BootChoice started(BootChoice before, Hop hop) {
        String file =
                hop.images().stream()
                        .map(FirmwareImage::fileName)
                        .collect(Collectors.joining(BootChoice.PARTS));
        return new BootChoice(file, file, before.running(), true);
    }

    private static List<FirmwareImage> imagesOf(List<Hop> hops) {
        return hops.stream().flatMap(hop -> hop.images().stream()).toList();
    }

    private static Set<String> images(List<Hop> hops) {
        return imagesOf(hops).stream().map(FirmwareImage::fileName).collect(Collectors.toSet());
    }

    private static Set<String> names(List<StoredFile> files) {
        return files.stream().map(StoredFile::name).collect(Collectors.toCollection(TreeSet::new));
    }
}
