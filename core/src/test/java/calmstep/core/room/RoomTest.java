package calmstep.core.room;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;

class RoomTest {
    private static final BootChoice BOOT = new BootChoice("f0", "f1", "f2", true);

    @Property
    void neverRemovesWhatIsProtectedUnknownOrNeededAndNeverMoreThanItMust(
            @ForAll @Size(min = 3, max = 9) List<@IntRange(min = 1, max = 50) Integer> sizes,
            @ForAll @IntRange(max = 40) int free,
            @ForAll @IntRange(min = 1, max = 200) int needed) {
        List<StoredFile> files =
                java.util.stream.IntStream.range(0, sizes.size())
                        .mapToObj(i -> new StoredFile("f" + i, sizes.get(i)))
                        .toList();
        Set<String> known =
                files.stream()
                        .map(StoredFile::name)
                        .filter(n -> !n.equals("f5"))
                        .collect(Collectors.toSet());
        long most =
                files.stream()
                        .filter(f -> !Set.of("f0", "f1", "f2", "f4", "f5").contains(f.name()))
                        .mapToLong(StoredFile::sizeBytes)
                        .sum();
        switch (Room.plan(
                new Volume("flash", 1000, free, files), BOOT, needed, known, Set.of("f4"))) {
            case Room.Enough(long left) -> assertThat(left).isGreaterThanOrEqualTo(needed);
            case Room.AfterRemoving(List<StoredFile> removed, long after) -> {
                assertThat(removed)
                        .extracting(StoredFile::name)
                        .doesNotContain("f0", "f1", "f2", "f4", "f5");
                assertThat(after)
                        .isGreaterThanOrEqualTo(needed)
                        .isEqualTo(free + removed.stream().mapToLong(StoredFile::sizeBytes).sum());
                removed.forEach(
                        one ->
                                assertThat(after - one.sizeBytes())
                                        .as("%s could have stayed", one)
                                        .isLessThan(needed));
            }
            case Room.TooSmall(long missing, var removable) -> {
                assertThat(missing).isEqualTo(needed - free - most).isPositive();
                assertThat(removable)
                        .extracting(StoredFile::name)
                        .doesNotContain("f0", "f1", "f2", "f4", "f5");
            }
        }
    }
}
