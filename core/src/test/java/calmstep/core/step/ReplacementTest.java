package calmstep.core.step;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/**
 * Which box may take another's place, and where; {@link StepsTest} plays such nights to their end.
 */
class ReplacementTest {
    /** Where a box cannot take another's place within its hop, and why. */
    @Test
    void aBoxThatIsNotTheOneOrCannotGoOnIsNotTakenForIt() {
        DeviceInMemory device = new DeviceInMemory("c".repeat(64));
        Reading before = device.read();
        HopPlan hop = NightInMemory.plan().hop(1);
        UnitPlan unit = NightInMemory.plan().replacedBy(Optional.of("S2"));
        assertThat(MeetReplacement.unfit(unit, hop, Optional.of(before), before))
                .hasValueSatisfying(
                        trouble ->
                                assertThat(trouble.sentence())
                                        .contains("serial number S2", "serial number S1"));
        device.replaceBy("S2", "v0.img");
        assertThat(MeetReplacement.unfit(unit, hop, Optional.of(before), device.read())).isEmpty();
        device.replaceBy("S2", "v1.img");
        assertThat(MeetReplacement.unfit(unit, hop, Optional.of(before), device.read()))
                .as("it is there already")
                .isEmpty();
        device.replaceBy("S2", "v2.img");
        assertThat(MeetReplacement.unfit(unit, hop, Optional.of(before), device.read()))
                .hasValueSatisfying(
                        trouble ->
                                assertThat(trouble.sentence())
                                        .contains(
                                                "it runs 0 or 1",
                                                "it runs 2",
                                                "plan its way from 2 anew"));
        device.replaceBy("S2", "v0.img");
        device.make = "R6-2";
        assertThat(MeetReplacement.unfit(unit, hop, Optional.of(before), device.read()))
                .hasValueSatisfying(
                        trouble ->
                                assertThat(trouble.sentence())
                                        .contains("model R6-4", "model R6-2"));
    }

    /**
     * Stuck anywhere in a hop behind its backup a box can be replaced, and nothing of another hop
     * is touched; before it, or on its way back, it cannot.
     */
    @Test
    void aBoxIsReplacedWhereverItIsStuckBehindItsBackup() {
        List<StepRecord> all = UnitMachine.start(NightInMemory.plan());
        for (int at = 0; at < all.size(); at++) {
            List<StepRecord> rows = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                rows.add(
                        i < at
                                ? all.get(i).with(StepState.DONE)
                                : i == at ? all.get(i).with(StepState.FAILED) : all.get(i));
            }
            StepRecord stuck = rows.get(at);
            Optional<List<StepRecord>> after =
                    Detour.replaced(rows, NightInMemory.plan().hop(stuck.hop()), true);
            boolean backedUp = stuck.hop() == 2 || stuck.name().compareTo(StepName.BACK_UP) > 0;
            assertThat(after.isPresent()).as("%s", stuck).isEqualTo(backedUp);
            if (backedUp) {
                assertThat(after.get())
                        .filteredOn(row -> row.detour() > 0)
                        .extracting(StepRecord::name)
                        .as("%s", stuck)
                        .startsWith(
                                StepName.REPLACE,
                                StepName.MAKE_ROOM,
                                StepName.STAGE,
                                StepName.CONFIRM_IMAGE)
                        .endsWith(StepName.PUT_BACK, StepName.PROVE, StepName.UN_QUIET);
                assertThat(after.get())
                        .filteredOn(row -> row.hop() != stuck.hop())
                        .as("%s", stuck)
                        .isEqualTo(rows.stream().filter(row -> row.hop() != stuck.hop()).toList());
                assertThat(
                                UnitMachine.next(
                                        NightInMemory.plan(),
                                        after.get(),
                                        new UnitMachine.Leave(false, List.of(), 0),
                                        Instant.parse("2026-11-23T02:00:00Z")))
                        .as("nobody is asked at a gate for a box that serves nobody yet")
                        .isInstanceOf(Next.Carry.class);
                assertThat(
                                Detour.replaced(
                                        after.get(), NightInMemory.plan().hop(stuck.hop()), false))
                        .as("it is not stuck any more")
                        .isEmpty();
            }
        }
    }
}
