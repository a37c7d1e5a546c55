package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.core.room.Room;
import calmstep.core.room.RoomAhead;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Removes the smallest set of old images so that the hop's image fits. */
final class MakeRoom implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.door().session().read();
        if (volumes(reading).stream().allMatch(volume -> needed(scene, volume) == 0)) {
            return new Looked.NotNeeded("%s is on the device already".formatted(scene.file()));
        }
        return switch (roomFor(scene, reading)) {
            case Room.Enough(long free) ->
                    new Looked.NotNeeded(
                            String.format(
                                    Locale.ROOT,
                                    "%,d bytes free, %,d needed",
                                    free,
                                    scene.hop().bytes()));
            case Room.AfterRemoving(List<StoredFile> files, long free) ->
                    new Looked.ToDo(
                            String.format(Locale.ROOT, "%,d bytes free", scene.hop().bytes()),
                            String.format(
                                    Locale.ROOT,
                                    "removing %s gives %,d bytes",
                                    names(files),
                                    free));
            case Room.TooSmall(long missing, List<StoredFile> removable) ->
                    tooSmall(scene, reading, missing, removable);
        };
    }

    private static Looked.Impossible tooSmall(
            Scene scene, Reading reading, long missing, List<StoredFile> removable) {
        return new Looked.Impossible(
                new Trouble(
                        String.format(
                                Locale.ROOT,
                                "room for %s, %,d bytes",
                                scene.file(),
                                scene.hop().bytes()),
                        String.format(
                                Locale.ROOT,
                                "%,d bytes short even after removing %s",
                                missing,
                                removable.isEmpty()
                                        ? "nothing, since no old image may go"
                                        : names(removable)),
                        "Move files that are not images off the device by hand%s; the running, next and fallback image are never removed."
                                .formatted(unknown(scene, reading))));
    }

    private static long needed(Scene scene, Volume volume) {
        return RoomAhead.neededBytes(volume, scene.hop().images());
    }

    private static String unknown(Scene scene, Reading reading) {
        String files =
                volumes(reading).stream()
                        .flatMap(volume -> volume.files().stream())
                        .filter(
                                file ->
                                        !scene.unit().knownImages().contains(file.name())
                                                && !reading.boot().isProtected(file.name()))
                        .distinct()
                        .map(StoredFile::words)
                        .collect(Collectors.joining(", "));
        return files.isEmpty() ? "" : ": " + files;
    }

    private static Room roomFor(Scene scene, Reading reading) {
        Set<String> stillNeeded = new HashSet<>();
        scene.unit().hops().stream()
                .filter(h -> scene.hopPlan().ahead() || h.ordinal() >= scene.hopPlan().ordinal())
                .forEach(h -> h.hop().images().forEach(image -> stillNeeded.add(image.fileName())));
        return Room.together(
                volumes(reading).stream()
                        .map(
                                volume ->
                                        Room.plan(
                                                volume,
                                                reading.boot(),
                                                needed(scene, volume),
                                                scene.unit().knownImages(),
                                                stillNeeded))
                        .toList());
    }

    private static List<Volume> volumes(Reading reading) {
        return reading.imageVolumes().isEmpty()
                ? List.of(new Volume("none", 0, 0, List.of()))
                : reading.imageVolumes();
    }

    private static String names(List<StoredFile> files) {
        return files.stream().map(StoredFile::name).collect(Collectors.joining(", "));
    }

    @Override
    public void act(Scene scene) {
        if (roomFor(scene, scene.door().session().read())
                instanceof Room.AfterRemoving(List<StoredFile> files, long _)) {
            files.forEach(file -> scene.door().session().delete(file.name()));
        }
    }

    @Override
    public Proof prove(Scene scene) {
        Reading reading = scene.door().session().read();
        Optional<Volume> tight =
                volumes(reading).stream()
                        .filter(volume -> volume.freeBytes() < needed(scene, volume))
                        .findFirst();
        Optional<Trouble> trouble = tight.map(volume -> stillTight(volume, scene));
        return trouble.<Proof>map(Proof.Unproven::new).orElseGet(() -> isFree(reading));
    }

    private static Trouble stillTight(Volume volume, Scene scene) {
        return new Trouble(
                String.format(
                        Locale.ROOT, "%,d bytes free on %s", needed(scene, volume), volume.name()),
                String.format(Locale.ROOT, "%,d bytes free after removing", volume.freeBytes()),
                "Look at the device's storage by hand.");
    }

    private static Proof.Proven isFree(Reading reading) {
        return new Proof.Proven(
                "",
                String.format(
                        Locale.ROOT,
                        "%,d bytes free",
                        volumes(reading).stream().mapToLong(Volume::freeBytes).min().orElse(0)),
                Evidence.NONE);
    }
}
