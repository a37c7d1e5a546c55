package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import java.nio.file.Path;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A release whose board firmware waits until a second restart: it is given once, also where we die
 * or the power goes meanwhile, and nothing is called settled before the board has it.
 */
@Tag("night")
class OsmerBoardsTest {
    private static final String ROUTER = "rt-aldwick-pier-1";

    @TempDir private Path folder;

    private UnitNight night() throws Exception {
        return new UnitNight(
                folder.resolve("night-" + System.nanoTime()),
                "osmer-r6",
                "practice-osmer-r6.yaml",
                ROUTER,
                "3.0.0");
    }

    private static void standsOnTheNewBoard(UnitNight night, int restarts) {
        Reading reading = night.read();
        assertThat(reading.system()).isEqualTo("3.0.0");
        assertThat(reading.components()).containsEntry("board", "1.6");
        assertThat(reading.waiting()).isEmpty();
        assertThat(night.fleet.machine(ROUTER).restarts()).hasSize(restarts);
    }

    @Test
    void theBoardFollowsAtASecondRestart() throws Exception {
        try (UnitNight night = night()) {
            assertThat(night.read().components()).containsEntry("board", "1.5");
            assertThat(night.plan.hops().getLast().steps())
                    .containsSubsequence(
                            StepName.RESTART,
                            StepName.COME_BACK,
                            StepName.SECOND_RESTART,
                            StepName.COME_BACK_AGAIN,
                            StepName.PROVE);
            assertThat(night.plan.hops().getFirst().steps())
                    .doesNotContain(StepName.SECOND_RESTART);
            assertThat(night.play()).isEqualTo("settled");
            assertThat(night.story())
                    .contains(
                            "second-restart: a second restart, in which it takes over board 1.6,"
                                    + " since board 1.5, 1.6 waits");
            standsOnTheNewBoard(night, night.plan.restarts());
        }
    }

    @Test
    void itIsGivenOnceAlsoWhereWeDieBehindIt() throws Exception {
        for (boolean behind : new boolean[] {false, true}) {
            try (UnitNight night = night()) {
                night.struckBy(
                        new UnitNight.Struck() {
                            private boolean died;

                            private void die(StepRecord step) {
                                if (step.name() == StepName.SECOND_RESTART && !died) {
                                    died = true;
                                    throw new UnitNight.Died();
                                }
                            }

                            @Override
                            public void acting(StepRecord step) {
                                if (!behind) {
                                    die(step);
                                }
                            }

                            @Override
                            public void proving(StepRecord step) {
                                if (behind) {
                                    die(step);
                                }
                            }
                        });
                assertThat(night.play()).isEqualTo("settled");
                assertThat(night.story()).contains("the service died");
                standsOnTheNewBoard(night, night.plan.restarts());
            }
        }
    }

    @Test
    void aPowerCutBeforeItSparesIt() throws Exception {
        try (UnitNight night = night()) {
            night.struckBy(
                    new UnitNight.Struck() {
                        private boolean cut;

                        @Override
                        public void looking(StepRecord step) {
                            if (step.name() == StepName.SECOND_RESTART && !cut) {
                                cut = true;
                                night.fleet.powerCycle(ROUTER, 1);
                            }
                        }
                    });
            assertThat(night.play()).isEqualTo("settled");
            assertThat(night.story())
                    .contains("second-restart not needed: nothing waits: board 1.6");
            standsOnTheNewBoard(night, night.plan.restarts() - 1);
        }
    }
}
