package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.RunningService;
import calmstep.service.fleet.Logins;
import calmstep.service.plans.Plans;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;

/**
 * What is said comes to the rows in its order, from many units at once, and one line that fits
 * nowhere keeps none of the others out.
 */
class TalkLinesTest {
    private final TalkLines lines = RunningService.bean(TalkLines.class);
    private final UnitRows units = RunningService.bean(UnitRows.class);
    private final StepRows steps = RunningService.bean(StepRows.class);

    private List<UnitRow> someUnits() {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
        List<String> routers = new ArrayList<>();
        for (int count = 0; count < 4; count++) {
            String router = RunningService.router();
            RunningService.keep(router, RunningService.reading("2.6.3"));
            routers.add(router);
        }
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.8.2.img', 'osmer-r6',"
                            + " '2.8.2', 1, '', now(), 'test' on conflict do nothing");
        String run = RunningService.name("talk");
        RunningService.bean(Plans.class).draft(run, routers, "2.8.2", "mara");
        RunningService.bean(Plans.class).approve(run, "jon");
        RunningService.bean(Runs.class).start(run, "mara");
        RunningService.bean(Runs.class).hold(run, "mara");
        return units.findByRunIdOrderByName(RunningService.bean(Runs.class).idOf(run));
    }

    private List<String> kept(UnitRow unit) {
        return RunningService.sql()
                .queryForList(
                        "select text from talk where unit_id = ? and text like 'said %' order by"
                                + " id",
                        String.class, unit.id());
    }

    @Test
    void manySpeakAtOnceAndEachIsWrittenInItsOrder() throws Exception {
        List<UnitRow> all = someUnits();
        try (ExecutorService speaking = Executors.newVirtualThreadPerTaskExecutor()) {
            List<Future<?>> ends = new ArrayList<>();
            for (UnitRow unit : all) {
                StepRow step = steps.findByUnitIdOrderByOrdinal(unit.id()).getFirst();
                ends.add(
                        speaking.submit(
                                () -> {
                                    for (int line = 0; line < 700; line++) {
                                        lines.keep(
                                                unit,
                                                step,
                                                Instant.now(),
                                                line % 2 == 0 ? "typed" : "answered",
                                                String.format(
                                                        Locale.ROOT,
                                                        "said %03d, with a \u0000 and a ü",
                                                        line));
                                        if (line % 100 == 99) {
                                            lines.write();
                                            assertThat(kept(unit))
                                                    .as("written when it returns")
                                                    .hasSize(line + 1);
                                        }
                                    }
                                }));
            }
            for (Future<?> end : ends) {
                end.get();
            }
        }
        for (UnitRow unit : all) {
            assertThat(kept(unit))
                    .hasSize(700)
                    .isSorted()
                    .allMatch(line -> line.endsWith("with a  and a ü"));
        }
    }

    @Test
    void aLineOfAStepThatIsGoneIsDroppedAlone() {
        UnitRow unit = someUnits().getFirst();
        StepRow step = steps.findByUnitIdOrderByOrdinal(unit.id()).getFirst();
        StepRow gone = new StepRow();
        gone.id = Long.MAX_VALUE;
        lines.keep(unit, step, Instant.now(), "typed", "said 1");
        lines.keep(unit, gone, Instant.now(), "typed", "said 2");
        Instant said = Instant.parse("2026-10-25T01:30:00.123456Z");
        lines.keep(unit, step, said, "answered", "said 3");
        lines.write();
        assertThat(kept(unit)).containsExactly("said 1", "said 3");
        assertThat(
                        RunningService.sql()
                                .queryForObject(
                                        "select at from talk where unit_id = ? and text = 'said 3'",
                                        java.time.OffsetDateTime.class,
                                        unit.id())
                                .toInstant())
                .isEqualTo(said);
    }
}
