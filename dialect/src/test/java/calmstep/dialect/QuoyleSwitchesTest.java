package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.core.fleet.Reading;
import calmstep.practice.Fault;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Data-room switches of the demo, whose image is in two halves, moved along their plans. */
@Tag("night")
class QuoyleSwitchesTest {
    @TempDir private Path folder;

    private UnitNight night(String name) throws Exception {
        return new UnitNight(folder, "quoyle-q4", "practice-switches.yaml", name, "10.04");
    }

    @Test
    void movesBothHalvesTogetherAndKeepsBothOfTheOldOnes() throws Exception {
        try (UnitNight night = night("dc-kelling-1")) {
            assertThat(night.read().boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "q4-10.02-upper.img + q4-10.02-lower.img",
                                    "q4-10.02-upper.img + q4-10.02-lower.img",
                                    "q4-9.08-upper.img + q4-9.08-lower.img",
                                    true));
            assertThat(night.read().facts())
                    .contains(new Reading.Fact("partner", "dc-kelling-2", "in sync"));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            Reading after = night.read();
            assertThat(after.system()).isEqualTo("10.04");
            assertThat(after.boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "q4-10.04-upper.img + q4-10.04-lower.img",
                                    "q4-10.04-upper.img + q4-10.04-lower.img",
                                    "q4-10.02-upper.img + q4-10.02-lower.img",
                                    true));
            assertThat(after.imageVolumes().getFirst().files())
                    .extracting(Reading.StoredFile::name)
                    .as("the older pair is tidied away")
                    .containsExactlyInAnyOrder(
                            "q4-10.02-upper.img",
                            "q4-10.02-lower.img",
                            "q4-10.04-upper.img",
                            "q4-10.04-lower.img");
        }
    }

    @Test
    void fetchesTheDamagedHalfAloneAnew() throws Exception {
        try (UnitNight night = night("dc-ostrand-1")) {
            night.fleet.add("dc-ostrand-1", Fault.DAMAGES_NEXT_COPY);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(
                            night.talk.stream()
                                    .filter(said -> said.startsWith("typed carry"))
                                    .map(said -> said.substring(said.lastIndexOf(' ') + 1)))
                    .containsExactly(
                            "q4-10.04-lower.img", "q4-10.04-upper.img", "q4-10.04-lower.img");
        }
    }

    @Test
    void halvesOfTwoReleasesAreNotStarted() throws Exception {
        try (UnitNight night = night("dc-kelling-1")) {
            Path flash = night.fleet.storage("dc-kelling-1");
            Files.copy(
                    flash.resolve("q4-9.08-lower.img"),
                    flash.resolve("q4-10.02-lower.img"),
                    java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            night.fleet.powerCycle("dc-kelling-1", 1);
            Await.until(
                    Duration.ofSeconds(30),
                    "the boot loader is back at halves that match",
                    () -> night.fleet.machine("dc-kelling-1").release().equals("9.08"));
            assertThat(night.fleet.machine("dc-kelling-1").release())
                    .as("its boot loader goes back to halves that match")
                    .isEqualTo("9.08");
        }
    }

    @Test
    void aSwitchWhosePartnerIsOutOfSyncIsLeftAlone() throws Exception {
        try (UnitNight night = night("dc-ostrand-1")) {
            night.fleet.add("dc-ostrand-1", Fault.PARTNER_OUT_OF_SYNC);
            assertThat(night.play()).isEqualTo("stuck at check");
            assertThat(night.trouble().orElseThrow().sentence())
                    .contains("its partner in sync")
                    .contains("dc-ostrand-2: out of step");
            assertThat(night.fleet.machine("dc-ostrand-1").restarts()).isEmpty();
        }
    }
}
