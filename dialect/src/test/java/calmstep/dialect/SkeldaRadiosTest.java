package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.practice.Fault;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Data radios of the demo: objects over SNMP v3, small files for the slow air where they build upon what runs. */
class SkeldaRadiosTest {
    @TempDir
    private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "skelda-l4", "practice-skelda-l4.yaml", name, target);
    }

    @Test
    void readsTablesAndTextsLineByLine() throws Exception {
        try (UnitNight night = night("rl-brae-top", "r48")) {
            Reading reading = night.read();
            assertThat(reading.identity().serial()).isEqualTo("SK-10366");
            assertThat(reading.boot()).isEqualTo(new Reading.BootChoice("l4-r47-north.rad", "l4-r47-north.rad", "l4-r44-north.rad", true));
            assertThat(reading.imageVolume().orElseThrow()).isEqualTo(new Reading.Volume("0", 3_000_000, 1_200_000, reading.imageVolume().orElseThrow().files()));
            assertThat(reading.imageVolume().orElseThrow().files()).hasSize(2);
            assertThat(reading.facts()).contains(new Reading.Fact("interface", "air", "up"), new Reading.Fact("neighbour", "rl-patient-heron", "up"), new Reading.Fact("licence", "band north", "2026-12-31"));
            try (Door door = night.door()) {
                assertThat(door.session().configuration(calmstep.core.device.ConfigurationKind.RUNNING)).startsWith("radio rl-brae-top\n").contains("band north\n").endsWith("; 11 lines\n");
            }
            assertThat(night.talk).noneMatch(text -> text.matches("(?s).*secret [0-9a-f]{10}.*"));
        }
    }

    @Test
    void takesTheSmallFileThatBuildsUponWhatRuns() throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            assertThat(night.plan.hops()).singleElement().satisfies(hop -> assertThat(hop.hop().image().fileName()).isEqualTo("l4-r48-from-r47-north.rad"));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.read().system()).isEqualTo("r48");
        }
    }

    @Test
    void saysWhatTheAirDidNotBring() throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            night.fleet.add("rl-patient-heron", Fault.REACHES_NOTHING);
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at stage");
            assertThat(night.trouble().orElseThrow().seen()).contains("no answer from");
            night.fleet.clearFaults("rl-patient-heron");
            night.retry();
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
        }
    }
}
