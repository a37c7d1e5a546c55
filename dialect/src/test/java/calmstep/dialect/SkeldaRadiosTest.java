package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.practice.Fault;
import java.nio.file.Path;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Data radios of the demo: objects over SNMP v3, small files for the slow air where they build upon
 * what runs.
 */
@Tag("night")
class SkeldaRadiosTest {
    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "skelda-l4", "practice-skelda-l4.yaml", name, target);
    }

    private UnitNight slowerNight(String name, String target) throws Exception {
        return UnitNight.slower(folder, "skelda-l4", "practice-skelda-l4.yaml", name, target);
    }

    @Test
    void readsTablesAndTextsLineByLine() throws Exception {
        try (UnitNight night = night("rl-brae-top", "r48")) {
            Reading reading = night.read();
            assertThat(reading.identity().serial()).isEqualTo("SK-10366");
            assertThat(reading.boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "l4-r47-north.rad",
                                    "l4-r47-north.rad",
                                    "l4-r44-north.rad",
                                    true));
            assertThat(reading.imageVolume().orElseThrow())
                    .isEqualTo(
                            new Reading.Volume(
                                    "0",
                                    3_000_000,
                                    1_200_000,
                                    reading.imageVolume().orElseThrow().files()));
            assertThat(reading.imageVolume().orElseThrow().files()).hasSize(2);
            assertThat(reading.facts())
                    .contains(
                            new Reading.Fact("interface", "air", "up"),
                            new Reading.Fact("neighbour", "rl-patient-heron", "up"),
                            new Reading.Fact("licence", "band north", "2026-12-31"));
            try (Door door = night.door()) {
                assertThat(door.session().pullOff(calmstep.core.device.BackupKind.RUNNING))
                        .startsWith("radio rl-brae-top\n")
                        .contains("band north\n")
                        .endsWith("; 11 lines\n");
            }
            assertThat(night.talk).noneMatch(text -> text.matches("(?s).*secret [0-9a-f]{10}.*"));
        }
    }

    @Test
    void takesTheSmallFileThatBuildsUponWhatRuns() throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            assertThat(night.plan.hops())
                    .singleElement()
                    .satisfies(
                            hop ->
                                    assertThat(hop.hop().image().fileName())
                                            .isEqualTo("l4-r48-from-r47-north.rad"));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.read().system()).isEqualTo("r48");
        }
    }

    @Test
    void theBaseSendsOneCopyAndThenWhatWasMissed() throws Exception {
        try (UnitNight night = slowerNight("rl-patient-heron", "r48")) {
            night.fleet.add("rl-patient-heron", Fault.SLOW_LINK);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.story())
                    .contains(
                            "sent by rl-brae-top to all who hear it",
                            "rl-brae-top is sending: ",
                            "pieces of it are missing",
                            "90,000 bytes, sent by rl-brae-top");
        }
    }

    @Test
    void saysWhatTheAirDidNotBring() throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            night.fleet.add("rl-patient-heron", Fault.REACHES_NOTHING);
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at stage");
            assertThat(night.trouble().orElseThrow().seen())
                    .startsWith(
                            "nothing of it came, and 3 orders in a row brought nothing more;"
                                    + " rl-brae-top says: ");
            night.fleet.clearFaults("rl-patient-heron");
            night.retry();
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
        }
    }

    @Test
    void saysWhatTheBaseCannotReach() throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            night.fleet.add("rl-brae-top", Fault.REACHES_NOTHING);
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at stage");
            assertThat(night.trouble().orElseThrow().expected())
                    .startsWith("rl-brae-top reaches the shelf at ");
        }
    }

    /** What strikes in the air, where it ends, and what is read then. */
    @ParameterizedTest
    @CsvSource({
        "CUTS_NEXT_COPY, settled, pieces of it are missing",
        "RESTARTS_IN_A_COPY, settled, pieces of it are missing",
        "DAMAGES_NEXT_COPY, settled, 'all of it came, and its SHA-256 is another one'",
        "DAMAGES_COPIES, stuck at stage, sending it from scratch brought nothing more",
        "RUNS_OUT_OF_ROOM, stuck at stage, no room for the file",
        "SLOW_LINK, settled, 'sent by rl-brae-top'"
    })
    void everyFaultInTheAirEndsWell(Fault fault, String ends, String says) throws Exception {
        try (UnitNight night = night("rl-patient-heron", "r48")) {
            night.fleet.add("rl-patient-heron", fault);
            assertThat(night.play()).as(night.story()).isEqualTo(ends);
            assertThat(night.story()).contains(says);
        }
    }

    @Test
    void aBaseThatRestartsInTheMiddleSendsTheRest() throws Exception {
        try (UnitNight night = slowerNight("rl-patient-heron", "r48")) {
            night.fleet.add("rl-patient-heron", Fault.SLOW_LINK);
            night.when("rl-brae-top is sending: ", () -> night.fleet.powerCycle("rl-brae-top", 1));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.story())
                    .contains(
                            "rl-brae-top is sending: l4-r48-from-r47-north.rad to all, ",
                            "pieces of it are missing");
            assertThat(night.fleet.machine("rl-patient-heron").restarts()).hasSize(1);
        }
    }
}
