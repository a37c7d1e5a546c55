package calmstep.core.room;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.core.path.Hop;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;

/**
 * Room along a path against a device that is played file by file: where room is promised each copy
 * fits, and where it is not, none does that removes only old images.
 */
class RoomAheadTest {
    /** A device's storage, played by the rules that a device has, not by ours. */
    private static final class Played {
        final Map<String, Long> files = new TreeMap<>();
        final long size;

        Played(long size, Map<String, Long> files) {
            this.size = size;
            this.files.putAll(files);
        }

        boolean takes(String name, long bytes) {
            long used = files.values().stream().mapToLong(Long::longValue).sum();
            if (used + bytes > size) {
                return false;
            }
            files.put(name, bytes);
            return true;
        }
    }

    private static Hop hop(int ordinal, int size) {
        return new Hop(
                "system",
                "r" + (ordinal - 1),
                "r" + ordinal,
                List.of(
                        new FirmwareImage(
                                "r" + ordinal, size, "a".repeat(64), Purpose.UPGRADE, Variant.ANY)),
                List.of(),
                List.of(),
                1,
                Duration.ofMinutes(4),
                Effect.Configuration.KEPT,
                false,
                List.of(),
                List.of());
    }

    private static Reading reading(long size, Map<String, Long> files) {
        long used = files.values().stream().mapToLong(Long::longValue).sum();
        return new Reading(
                Instant.EPOCH,
                new Identity("rt", "m", "", "s"),
                new TreeMap<>(Map.of("system", "r0")),
                new BootChoice("r0", "r0", "old", true),
                "1",
                List.of(
                        new Volume(
                                "flash",
                                size,
                                size - used,
                                files.entrySet().stream()
                                        .map(f -> new StoredFile(f.getKey(), f.getValue()))
                                        .toList())),
                false,
                "",
                List.of());
    }

    @Property(tries = 2_000)
    void whereRoomIsPromisedEachCopyFits(
            @ForAll @Size(min = 1, max = 4) List<@IntRange(min = 1, max = 30) Integer> sizes,
            @ForAll @IntRange(max = 25) int spare,
            @ForAll @IntRange(max = 60) int free) {
        Map<String, Long> files = new TreeMap<>(Map.of("r0", 20L, "old", 15L, "notes", 10L));
        files.put("older", (long) spare);
        Set<String> known = Set.of("r0", "old", "older", "r1", "r2", "r3", "r4");
        long size = files.values().stream().mapToLong(Long::longValue).sum() + free;
        List<Hop> hops = new ArrayList<>();
        sizes.forEach(bytes -> hops.add(hop(hops.size() + 1, bytes)));
        RoomAhead room = RoomAhead.of(reading(size, files), hops, known);
        Played device = new Played(size, files);
        List<String> removed = new ArrayList<>(room.removed());
        for (int at = 0; at < hops.size(); at++) {
            List<Integer> brought = new ArrayList<>();
            if (!room.ahead().contains(at + 1)) {
                brought.add(at + 1);
            }
            if (at == 0) {
                brought.addAll(room.ahead().stream().sorted().toList());
            }
            for (int ordinal : brought) {
                boolean fits = fits(device, "r" + ordinal, sizes.get(ordinal - 1), removed, at);
                boolean promised =
                        room.firstShort()
                                .filter(tight -> tight.hop().to().equals("r" + ordinal))
                                .isEmpty();
                assertThat(fits).as("%s at hop %s of %s", room, at + 1, sizes).isEqualTo(promised);
                if (!promised) {
                    assertThat(room.firstShort().get().unknown())
                            .extracting(StoredFile::name)
                            .containsExactly("notes");
                    return;
                }
            }
        }
        assertThat(room.firstShort()).isEmpty();
        assertThat(device.files).as("nobody's file is touched").containsKey("notes");
    }

    /** Removes what was said to go, one by one, until it fits; never what runs or would start. */
    private static boolean fits(
            Played device, String name, long bytes, List<String> removed, int runs) {
        Set<String> inUse =
                Set.of("r" + runs, runs == 0 ? "old" : "r" + (runs - 1)).stream()
                        .collect(Collectors.toSet());
        while (!device.takes(name, bytes)) {
            if (removed.isEmpty()) {
                return false;
            }
            String goes = removed.removeFirst();
            assertThat(inUse).doesNotContain(goes);
            assertThat(device.files.remove(goes)).as(goes).isNotNull();
        }
        return true;
    }
}
