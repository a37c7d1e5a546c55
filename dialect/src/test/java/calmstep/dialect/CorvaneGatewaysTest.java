package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.step.StepName;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Voice gateways of the demo: line boards that restart on their own, a clock board that waits for
 * the next start, and the system behind them.
 */
@Tag("night")
class CorvaneGatewaysTest {
    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "corvane-v8", "practice-corvane-v8.yaml", name, target);
    }

    @Test
    void movesBoardsAndClockBeforeTheSystem() throws Exception {
        try (UnitNight night = night("vg-millhaven", "2026.06")) {
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().step())
                    .hasSize(4)
                    .containsSubsequence("board-a 4.2", "2026.06")
                    .containsSubsequence("board-b 3.1", "2026.06")
                    .containsSubsequence("clock 1.3", "2026.06");
            assertThat(night.plan.hops())
                    .filteredOn(hop -> hop.hop().component().startsWith("board"))
                    .allSatisfy(
                            hop ->
                                    assertThat(hop.steps())
                                            .doesNotContain(StepName.RESTART)
                                            .contains(StepName.COME_BACK));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            Reading after = night.read();
            assertThat(after.components())
                    .isEqualTo(
                            Map.of(
                                    "system", "2026.06", "board-a", "4.2", "board-b", "3.1",
                                    "clock", "1.3"));
            assertThat(after.boards("board-a"))
                    .hasSize(3)
                    .allSatisfy(board -> assertThat(board.isInSync()).isTrue());
            assertThat(night.fleet.machine("vg-millhaven").restarts())
                    .as("the boards cost no restart of the shelf")
                    .hasSize(2);
            assertThat(night.told)
                    .as("one line of the dial plan is written another way, and named")
                    .anyMatch(
                            line ->
                                    line.contains("prove done")
                                            && line.contains("1 lines dropped, 1 added"));
        }
    }

    @Test
    void startsWhereTheOldestBoardStands() throws Exception {
        try (UnitNight night = night("vg-dunmere", "2026.06")) {
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().step())
                    .containsExactly("board-b 3.1", "2026.06");
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
        }
    }
}
