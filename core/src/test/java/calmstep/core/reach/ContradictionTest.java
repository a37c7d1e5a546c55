package calmstep.core.reach;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Way;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class ContradictionTest {
    private static Device device(String name, String... links) {
        return new Device(
                name,
                "f",
                new Hardware("m", "", "", "", Set.of()),
                "",
                "quay",
                "",
                Set.of(),
                "192.0.2.1",
                22,
                0,
                List.of("steward"),
                true,
                Map.of(),
                List.of(),
                "",
                new Device.Wiring(Set.of(links), name.equals("root"), Set.of()),
                Way.PLAIN);
    }

    private static final List<Device> FLEET =
            List.of(device("root"), device("rt", "root", "sw"), device("sw"), device("ap", "sw"));

    @Test
    void areNamedBothWaysAndOnlyAmongDevicesOfTheFleet() {
        List<Contradiction> found =
                Contradiction.of(FLEET, Map.of("rt", Set.of("root", "ap", "harbour-camera")));
        assertThat(found).containsExactly(new Contradiction("rt", List.of("ap"), List.of("sw")));
        assertThat(found.getFirst().sentence())
                .isEqualTo(
                        "rt sees ap beside it, which the inventory does not join it with; it does"
                                + " not see sw, which the inventory joins it with");
    }

    @Test
    void areNoneWhereTheOtherEndSeesItOrNobodyLooked() {
        assertThat(Contradiction.of(FLEET, Map.of("rt", Set.of("root"), "sw", Set.of("rt", "ap"))))
                .isEmpty();
        assertThat(Contradiction.of(FLEET, Map.of())).isEmpty();
    }

    @Test
    void aLinkThatWasOnlySeenIsAWayTooAndWhatStandsInIsFound() {
        assertThat(Network.of(FLEET).cutOffBy("sw")).containsExactly("ap");
        Network seen = Network.of(FLEET, Map.of("ap", Set.of("rt", "harbour-camera")));
        assertThat(seen.cutOffBy("sw")).isEmpty();
        List<Device> ring =
                List.of(
                        device("root"),
                        device("a", "root"),
                        device("b", "root"),
                        device("leaf", "a", "b"),
                        device("lone", "a"));
        assertThat(Network.of(ring).standIns())
                .as("both lead to the leaf; one alone leads to the lone one")
                .containsExactly(new java.util.LinkedHashSet<>(List.of("a", "b")));
    }
}
