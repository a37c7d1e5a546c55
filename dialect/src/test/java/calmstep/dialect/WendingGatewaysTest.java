package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.core.step.StepName;
import calmstep.practice.Fault;
import java.nio.file.Path;
import java.util.Set;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Cellular gateways of the demo: HTTPS and JSON, files that are sent, one hop that wipes the
 * settings.
 */
@Tag("night")
class WendingGatewaysTest {
    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "wending-m2", "practice-wending-m2.yaml", name, target);
    }

    @Test
    void readsByPathsAndMasksWhatIsSecret() throws Exception {
        try (UnitNight night = night("gw-heron-1", "3.6.0")) {
            Reading reading = night.read();
            assertThat(reading.identity())
                    .isEqualTo(
                            new Reading.Identity(
                                    "gw-heron-1", "M2", "2", "WE-10429", "eu", "", Set.of()));
            assertThat(reading.boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "m2-3.4.1-r2-eu.bin",
                                    "m2-3.4.1-r2-eu.bin",
                                    "m2-3.2.0-r2-eu.bin",
                                    true));
            assertThat(reading.imageVolume().orElseThrow().files()).hasSize(2);
            assertThat(reading.facts())
                    .contains(
                            new Reading.Fact("interface", "cell", "up"),
                            new Reading.Fact("neighbour", "sw-heron-1", "up"));
            assertThat(reading.unsavedChanges()).isFalse();
            assertThat(night.talk)
                    .as("neither the word that signs in, nor the pass that it gives, nor a key")
                    .noneMatch(
                            text ->
                                    text.contains("practice-only-5521")
                                            || text.contains("ad069d0312")
                                            || text.matches("(?s).*\"pass\":\"[0-9a-f].*"));
        }
    }

    @Test
    void putsTheSettingsBackThatTheSteppingStoneWiped() throws Exception {
        try (UnitNight night = night("gw-sandpiper-1", "3.6.0")) {
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().to())
                    .containsExactly("3.4.1", "3.6.0");
            assertThat(night.plan.hops().getFirst().steps())
                    .containsSubsequence(StepName.COME_BACK, StepName.PUT_BACK, StepName.PROVE);
            assertThat(night.plan.hops().getLast().steps()).doesNotContain(StepName.PUT_BACK);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.told)
                    .anyMatch(
                            line ->
                                    line.startsWith(
                                            "1 put-back: the configuration of the backup, saved,"
                                                    + " since 7 of its lines are missing"));
            assertThat(night.told)
                    .filteredOn(line -> line.contains("prove done"))
                    .hasSize(2)
                    .allMatch(line -> line.contains("configuration unchanged"));
            assertThat(night.read().system()).isEqualTo("3.6.0");
        }
    }

    @Test
    void sendsADamagedFileAnewAndNeverChoosesIt() throws Exception {
        try (UnitNight night = night("gw-heron-1", "3.6.0")) {
            night.fleet.add("gw-heron-1", Fault.DAMAGES_NEXT_COPY);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.told.stream().filter(line -> line.startsWith("1 stage:"))).hasSize(2);
        }
    }

    @Test
    void asksNobodyElseThanTheDeviceThatItMetFirst() throws Exception {
        try (UnitNight night = night("gw-heron-1", "3.6.0")) {
            String first;
            try (Door door = night.door()) {
                door.session().read();
                first = door.seenHostKey();
            }
            night.fleet.changeHostKey("gw-heron-1");
            try (Door door = night.door(first)) {
                DeviceTrouble trouble =
                        catchThrowableOfType(DeviceTrouble.class, () -> door.session().read());
                assertThat(trouble.kind()).isEqualTo(DeviceTrouble.Kind.HOST_KEY_CHANGED);
                assertThat(trouble.trouble().expected()).contains(first);
                assertThat(trouble.trouble().seen())
                        .startsWith("the certificate SHA256:")
                        .doesNotContain(first);
            }
            night.fleet.add("gw-heron-1", Fault.REFUSES_THE_PASSWORD);
            try (Door door = night.door()) {
                DeviceTrouble trouble =
                        catchThrowableOfType(DeviceTrouble.class, () -> door.session().read());
                assertThat(trouble.kind()).isEqualTo(DeviceTrouble.Kind.SIGN_IN_REFUSED);
            }
        }
    }
}
