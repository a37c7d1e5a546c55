package calmstep.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DiscrepancyTest {
    /** A pair lists itself, an inventory the other one; a shelf also lists what nobody hangs on. */
    @ParameterizedTest
    @CsvSource({
        "PARTNER,     1, 1, true",
        "PARTNER,     1, 2, true",
        "PARTNER,     1, 3, false",
        "PARTNER,     2, 1, false",
        "LINE_BOARD,  2, 5, true",
        "LINE_BOARD,  5, 2, false",
        "MEMBER,      3, 3, true",
        "MEMBER,      3, 2, false",
        "MEMBER,      3, 4, false",
        "MEMBER,      0, 4, true",
        "MEMBER,      3, 0, true",
        "DEPENDENT,   3, 2, true"
    })
    void partsAreCountedAsEachSideListsThem(
            Part.Kind kind, int written, int shown, boolean sameBox) {
        assertThat(Discrepancy.of(device(kind, written), reading(kind, shown)).isEmpty())
                .isEqualTo(sameBox);
    }

    private static List<Part> parts(Part.Kind kind, int count) {
        return IntStream.range(0, count)
                .mapToObj(i -> new Part("p" + i, kind, "", "", Map.of(), List.of()))
                .toList();
    }

    private static Device device(Part.Kind kind, int written) {
        return new Device(
                "d",
                "osmer-r6",
                new Hardware("m", "", "", "", Set.of()),
                "s",
                "quay",
                "",
                Set.of(),
                "192.0.2.1",
                22,
                0,
                List.of("steward"),
                false,
                Map.of(),
                parts(kind, written),
                "",
                Device.Wiring.NONE,
                Way.PLAIN);
    }

    private static Reading reading(Part.Kind kind, int shown) {
        return new Reading(
                Instant.EPOCH,
                new Identity("d", "m", "", "s"),
                Collections.emptySortedMap(),
                new BootChoice("r", "r", "", true),
                "1",
                List.of(),
                false,
                "",
                List.of(),
                parts(kind, shown).stream()
                        .map(part -> new PartShown(part, "", PartShown.IN_SYNC, ""))
                        .toList(),
                new TreeMap<>());
    }
}
