package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.core.step.Evidence;
import calmstep.core.step.Neighbours;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.Turn;
import calmstep.core.window.Limits;
import calmstep.service.RunningService;
import calmstep.service.json.Json;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** When units of a run begin: their turns, their pilots, and the word at the gate. */
class RunTurnsTest extends StuckRuns {
    /**
     * Two routers of one site whose images are staged and whose gates are open, as if their devices
     * had answered up to here.
     */
    private void stagedWithTurns(Instant begins, Duration open) {
        RunningService.inTransaction(
                () -> {
                    RunningService.sql()
                            .update(
                                    "update run set limits = ? where name = ?",
                                    RunningService.bean(Json.class)
                                            .write(
                                                    new Limits(
                                                            50, 1, 5, Map.of(), 0, Duration.ZERO)),
                                    run);
                    for (String router : routers) {
                        String unit =
                                "from run_unit u where u.name = '%s' and u.run_id = (select id from run where name = '%s')"
                                        .formatted(router, run);
                        RunningService.sql()
                                .update(
                                        "update run_unit set gate_question = 'restarts', gate_asked_at = now(), gate_open = true, state = 'staged', turns = ?, beside = ? where id = (select u.id %s)"
                                                .formatted(unit),
                                        RunningService.bean(Json.class)
                                                .write(
                                                        List.of(
                                                                new Turn(
                                                                        1,
                                                                        1,
                                                                        begins,
                                                                        begins.plus(open),
                                                                        Duration.ofMinutes(20)))),
                                        RunningService.bean(Json.class)
                                                .write(
                                                        new Neighbours(
                                                                router,
                                                                "pier of " + run,
                                                                "family of " + run,
                                                                Set.of())));
                        RunningService.sql()
                                .update(
                                        "update run_step set state = 'done' where name in ('check', 'back-up', 'make-room', 'stage', 'confirm-image') and unit_id = (select u.id %s)"
                                                .formatted(unit));
                    }
                });
    }

    private RunView.UnitInRun unit(String router) {
        return runs.find(run).units().stream()
                .filter(u -> u.device().equals(router))
                .findFirst()
                .orElseThrow();
    }

    /**
     * Its pilot settled with something odd about it: a person judges that before others begin, and
     * in a rehearsal there is none.
     */
    @Test
    void aUnitWaitsForTheJudgementOnItsPilotButNotInARehearsal() throws Exception {
        startAndAwaitStuck();
        stagedWithTurns(Instant.now().plus(Duration.ofHours(3)), Duration.ofHours(1));
        String pilot = routers.getFirst();
        String follower = routers.get(1);
        String its = " where name = ? and run_id = (select id from run where name = ?)";
        RunningService.sql()
                .update(
                        "update run_unit set state = 'settled', begun = 1, doubt = 'a licence is"
                                + " gone'"
                                + its,
                        pilot,
                        run);
        RunningService.sql()
                .update(
                        "update run_unit set beside = ?" + its,
                        RunningService.bean(Json.class)
                                .write(
                                        new Neighbours(
                                                follower,
                                                "pier of " + run,
                                                "family of " + run,
                                                Set.of(),
                                                Set.of(pilot))),
                        follower,
                        run);
        long id = unit(follower).id();
        assertThat(RunningService.bean(UnitTurns.class).begin(id, 0, Instant.now())).isFalse();
        assertThat(Objects.requireNonNull(unit(follower).turn()).waitsFor())
                .contains(pilot, "judgement");
        RunningService.sql().update("update run set rehearsal = true where name = ?", run);
        assertThat(RunningService.bean(UnitTurns.class).begin(id, 0, Instant.now())).isTrue();
    }

    @Test
    void aUnitBeginsWhenItsTurnHasComeAndNobodyIsInWorkThatItMustNotBeBeside() throws Exception {
        startAndAwaitStuck();
        Instant later = Instant.now().plus(Duration.ofHours(3));
        stagedWithTurns(later, Duration.ofHours(1));
        String first = routers.getFirst();
        String second = routers.get(1);
        turns.turn(run, first, later.toString(), "", "mara");
        await(_ -> !Objects.requireNonNull(unit(first).turn()).waitsFor().isEmpty());
        RunView.UnitInRun waits = unit(first);
        assertThat(Objects.requireNonNull(waits.turn()).waitsFor())
                .contains("its turn is at " + Turn.words(later));
        assertThat(waits.steps())
                .filteredOn(s -> s.name().equals("choose-boot"))
                .extracting(RunView.StepView::state)
                .containsExactly("due");

        turns.turn(run, first, "now", "", "mara");
        await(_ -> unit(first).state().equals("stuck"));
        assertThat(Objects.requireNonNull(unit(first).turn()).inWork())
                .as("begun, and stuck in the middle")
                .isTrue();
        turns.turn(run, second, "now", "", "mara");
        await(
                _ ->
                        Objects.requireNonNull(unit(second).turn())
                                .waitsFor()
                                .contains(
                                        "1 unit is in work, and no more than 1 may be at once at"
                                                + " pier of "
                                                + run));
        assertThat(unit(second).steps())
                .filteredOn(s -> s.name().equals("choose-boot"))
                .extracting(RunView.StepView::state)
                .containsExactly("due");
        decisions.setAside(run, first, "somebody is sent", "mara");
        await(_ -> unit(second).state().equals("stuck"));
    }

    /** The second one's part begins a night later: each wave, and each site, is held on its own. */
    @Test
    void aWaveIsHeldAndLetGoOnByItsNightAndBySite() throws Exception {
        startAndAwaitStuck();
        Instant evening = Instant.parse("2027-03-02T22:30:00Z");
        stagedWithTurns(evening, Duration.ofHours(6));
        String second = routers.get(1);
        RunningService.sql()
                .update(
                        "update run_unit set turns = ? where name = ? and run_id = (select id from"
                                + " run where name = ?)",
                        RunningService.bean(Json.class)
                                .write(
                                        List.of(
                                                new Turn(
                                                        1,
                                                        1,
                                                        evening.plus(Duration.ofHours(27)),
                                                        evening.plus(Duration.ofHours(30)),
                                                        Duration.ofMinutes(20)))),
                        second,
                        run);
        ManyUnits many = RunningService.bean(ManyUnits.class);
        ManyUnits.Those thatNight = ManyUnits.Those.of(null, LocalDate.of(2027, 3, 3));
        assertThat(many.hold(run, thatNight, true, "mara").units())
                .filteredOn(RunView.UnitInRun::held)
                .as("it begins at half past one, which is still the night before")
                .extracting(RunView.UnitInRun::device)
                .containsExactly(second);
        assertThatThrownBy(() -> many.hold(run, thatNight, true, "mara"))
                .hasMessage("No unit in the night of 2027-03-03 is left to be held.");
        assertThat(
                        many.hold(run, ManyUnits.Those.of(unit(second).site(), null), true, "mara")
                                .units())
                .as("the rest of the site")
                .allMatch(RunView.UnitInRun::held);
        assertThat(many.hold(run, thatNight, false, "mara").units())
                .filteredOn(RunView.UnitInRun::held)
                .extracting(RunView.UnitInRun::device)
                .containsExactly(routers.getFirst());
        assertThatThrownBy(() -> many.hold(run, ManyUnits.Those.of("nowhere", null), false, "mara"))
                .hasMessageContaining("nowhere");
        assertThatThrownBy(() -> many.go(run, thatNight, "mara"))
                .hasMessage("No unit in the night of 2027-03-03 is at a gate.");
    }

    @Test
    void aUnitWhoseWindowClosedIsHeldUntilSomebodySaysWhen() throws Exception {
        startAndAwaitStuck();
        stagedWithTurns(
                Instant.now().minus(Duration.ofHours(1)),
                Duration.ofHours(1).plus(Duration.ofMinutes(10)));
        String first = routers.getFirst();
        assertThatThrownBy(() -> turns.turn(run, first, "soon", "", "mara"))
                .hasMessageContaining("\"soon\"");
        assertThatThrownBy(() -> turns.turn(run, first, "next-window", "", "mara"))
                .as("nobody said when sites may be disturbed")
                .hasMessageContaining("no window of that length");
        runs.hold(run, "mara");
        runs.resume(run, "mara");
        await(view -> view.units().stream().allMatch(u -> u.state().equals("held")));
        decisions.setAside(run, routers.get(1), "another night", "mara");
        assertThat(Objects.requireNonNull(unit(first).turn()).waitsFor())
                .contains("it needs 20 min");
        assertThatThrownBy(() -> runs.go(run, first, "mara"))
                .as("go was said already")
                .hasMessageContaining("not at a gate");
        turns.turn(run, first, "now", "", "mara");
        await(_ -> unit(first).state().equals("stuck"));
    }

    /** Two parts in two nights: who said go for the first one has said nothing about the second. */
    @Test
    void aWordAtTheGateIsForOneWindow() throws Exception {
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.6.3.img', 'osmer-r6',"
                            + " '2.6.3', 1, '', now(), 'test' on conflict do nothing");
        String far = RunningService.router();
        RunningService.keep(far, RunningService.reading("2.4.0"));
        String two = RunningService.name("run");
        plans.draft(two, List.of(far), "2.8.2", "mara");
        plans.approve(two, "jon");
        runs.start(two, "mara");
        Await.until(
                Duration.ofSeconds(30),
                "the unit is stuck",
                () -> runs.find(two).units().getFirst().state().equals("stuck"));
        RunView.UnitInRun unit = runs.find(two).units().getFirst();
        Instant now = Instant.now();
        List<Turn> nights =
                List.of(
                        new Turn(1, 1, now, now.plusSeconds(7200), Duration.ofMinutes(20)),
                        new Turn(
                                2,
                                2,
                                now.plusSeconds(86_400),
                                now.plusSeconds(93_600),
                                Duration.ofMinutes(20)));
        RunningService.sql()
                .update(
                        "update run_unit set gate_question = 'restarts', gate_asked_at = now(),"
                            + " gate_open = true, in_work = true, begun = 1, turns = ?, beside = ?"
                            + " where id = ?",
                        RunningService.bean(Json.class).write(nights),
                        RunningService.bean(Json.class)
                                .write(
                                        new Neighbours(
                                                far,
                                                "pier of " + two,
                                                "family of " + two,
                                                Set.of())),
                        unit.id());
        UnitLedger ledger = RunningService.bean(UnitLedger.class);
        Standing standing = ledger.standing(unit.id());
        StepRow prove =
                standing.steps().stream()
                        .filter(step -> step.hop == 1 && step.name.equals("prove"))
                        .findFirst()
                        .orElseThrow();
        ledger.finish(
                standing,
                prove,
                new StepOutcome.Done("runs 2.6.3", "runs 2.6.3", Evidence.NONE),
                () -> {},
                java.time.Clock.systemUTC());
        RunView.UnitInRun rests = runs.find(two).units().getFirst();
        assertThat(Objects.requireNonNull(rests.turn()).inWork()).as("others may begin").isFalse();
        assertThat(rests.turn().part()).isEqualTo(2);
        assertThat(rests.gate()).as("asked anew before the second night").isNull();
    }
}
