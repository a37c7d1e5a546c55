package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.step.StepName;
import calmstep.practice.Fault;
import java.nio.file.Path;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Wireless controllers of the demo with their access points. */
@Tag("night")
class IvrelControllersTest {
    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "ivrel-c5", "practice-ivrel-c5.yaml", name, target);
    }

    @Test
    void takesTheImageOfItsFeaturesAndBringsItToEveryPointAhead() throws Exception {
        try (UnitNight night = night("wc-dunmere", "8.7.1")) {
            assertThat(night.plan.hops())
                    .singleElement()
                    .satisfies(
                            hop -> {
                                assertThat(hop.hop().image().fileName())
                                        .as("the one without mesh")
                                        .isEqualTo("c5-8.7.1.fw");
                                assertThat(hop.steps())
                                        .containsSubsequence(
                                                StepName.CONFIRM_IMAGE,
                                                StepName.PRE_LOAD,
                                                StepName.CHOOSE_BOOT);
                            });
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            Reading after = night.read();
            assertThat(after.dependents())
                    .hasSize(6)
                    .allSatisfy(
                            point -> {
                                assertThat(point.runs("system")).isEqualTo("8.7.1");
                                assertThat(point.isInSync()).isTrue();
                            });
            assertThat(night.told)
                    .anyMatch(
                            line ->
                                    line.equals(
                                            "1 pre-load done: all dependents hold c5-8.7.1.fw"));
            assertThat(night.told)
                    .as("nothing to look at")
                    .noneMatch(line -> line.contains("look at"));
        }
    }

    @Test
    void namesThePointThatDoesNotComeBack() throws Exception {
        try (UnitNight night = night("wc-dunmere", "8.5.3")) {
            night.fleet.add("wc-dunmere", Fault.LOSES_A_DEPENDENT);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.told)
                    .anyMatch(
                            line ->
                                    line.startsWith("1 prove done:")
                                            && line.contains("dependent ap-dunmere-06")
                                            && line.contains("access points serve was 6, is 5"));
            assertThat(night.read().dependents().stream().filter(PartShown::isInSync)).hasSize(5);
        }
    }
}
