package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.service.RunningService;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** What people can do with a run whose devices do not answer. */
class RunsTest extends StuckRuns {
    /**
     * What is told of a run is of one moment, though a driver writes meanwhile: a unit that is
     * stuck without its trouble would be a riddle.
     */
    @Test
    void aViewIsOfOneMoment() throws Exception {
        RunView.UnitInRun unit = startAndAwaitStuck().units().getFirst();
        AtomicBoolean over = new AtomicBoolean();
        try (ExecutorService driver = Executors.newSingleThreadExecutor()) {
            Future<?> writes =
                    driver.submit(
                            () -> {
                                while (!over.get()) {
                                    stands(unit.id(), "preparing", "looking");
                                    stands(unit.id(), "stuck", "failed");
                                }
                            });
            try {
                for (int look = 0; look < 300; look++) {
                    assertThat(runs.find(run).units())
                            .filteredOn(one -> one.id() == unit.id())
                            .singleElement()
                            .satisfies(
                                    one ->
                                            assertThat(one.trouble() != null)
                                                    .as("trouble of one that is %s", one.state())
                                                    .isEqualTo(one.state().equals("stuck")));
                }
            } finally {
                over.set(true);
                writes.get();
            }
        }
    }

    private static void stands(long unit, String state, String check) {
        RunningService.sql()
                .update(
                        "with step as (update run_step set state = ? where unit_id = ? and name ="
                                + " 'check') update run_unit set state = ? where id = ?",
                        check,
                        unit,
                        state,
                        unit);
    }

    @Test
    void aSilentDeviceGetsStuckAtItsFirstStepWithWhatWasExpectedSeenAndWhatToDo() throws Exception {
        RunView view = startAndAwaitStuck();
        assertThat(view.state()).as("nobody was changed, and a person is asked").isEqualTo("armed");
        assertThat(view.units())
                .allSatisfy(
                        unit -> {
                            assertThat(unit.trouble()).isNotNull();
                            assertThat(unit.trouble().step()).isEqualTo("check");
                            assertThat(unit.trouble().seen()).contains("refused");
                            assertThat(unit.trouble().remedy()).isNotBlank();
                            assertThat(unit.steps())
                                    .filteredOn(s -> !s.name().equals("check"))
                                    .extracting(RunView.StepView::state)
                                    .containsOnly("due");
                        });
    }

    @Test
    void retryTriesAgainAndGetsStuckAgainWhileTheDeviceIsSilent() throws Exception {
        startAndAwaitStuck();
        String router = routers.getFirst();
        decisions.retry(run, router, "mara");
        await(
                view ->
                        view.units().stream()
                                .filter(u -> u.device().equals(router))
                                .allMatch(u -> u.state().equals("stuck")));
        assertThat(RunningService.bean(Events.class).ofRun(runs.idOf(run)))
                .extracting(e -> e.text())
                .contains("mara tries check of %s again.".formatted(router));
    }

    @Test
    void unitsAreSetAsideWithAReasonAndWhoeverEndsTheRunGetsARecord() throws Exception {
        startAndAwaitStuck();
        assertThatThrownBy(() -> decisions.setAside(run, routers.getFirst(), "  ", "mara"))
                .hasMessageContaining("Say why");
        assertThat(decisions.setAside(run, routers.getFirst(), "no power there", "mara").state())
                .isEqualTo("armed");
        assertThatThrownBy(() -> runs.end(run, "mara"))
                .hasMessageContaining("1 of its units is not over");
        assertThat(decisions.setAside(run, routers.get(1), "a slip of the finger", "mara").state())
                .as("whoever set the last one aside may take it back in")
                .isEqualTo("armed");
        decisions.takeIn(run, routers.get(1), "mara");
        decisions.setAside(run, routers.get(1), "no power there either", "mara");
        RunView over = runs.end(run, "mara");
        assertThat(over.state()).isEqualTo("finished");
        assertThat(over.units())
                .extracting(RunView.UnitInRun::setAsideWhy)
                .containsExactlyInAnyOrder("no power there", "no power there either");
        long id = runs.idOf(run);
        assertThat(
                        RunningService.sql()
                                .queryForObject(
                                        "select count(*) from record where run_id = ?",
                                        Integer.class,
                                        id))
                .isEqualTo(1);
        assertThat(RunningService.bean(Events.class).isChainWhole(id)).isTrue();
        assertThatThrownBy(() -> decisions.setAside(run, routers.getFirst(), "again", "mara"))
                .hasMessageContaining("nothing can be changed any more");
        assertThatThrownBy(() -> runs.hold(run, "mara")).hasMessageContaining("is finished");
    }

    /** What is over stays to be read, whatever becomes of its devices; and nothing is offered. */
    @Test
    void aRunThatIsOverIsShownWhenADeviceOfItHasGone() throws Exception {
        startAndAwaitStuck();
        runs.abandon(run, "enough", "mara");
        RunningService.sql()
                .update("update device set retired_at = now() where name = ?", routers.getFirst());
        assertThat(runs.find(run).units())
                .hasSize(2)
                .allSatisfy(
                        unit ->
                                assertThat(unit.trouble())
                                        .isNotNull()
                                        .satisfies(
                                                trouble ->
                                                        assertThat(trouble.ways())
                                                                .as("each would be refused")
                                                                .isEmpty()));
    }

    /** The node that ended the run died before it made the record. */
    @Test
    void aRecordThatNobodyMadeIsMadeLater() throws Exception {
        startAndAwaitStuck();
        long id = runs.idOf(run);
        RunningService.sql()
                .update(
                        "update run_unit set state = 'set-aside', set_aside_why = 'as if' where"
                                + " run_id = ?",
                        id);
        RunningService.sql()
                .update(
                        "update run set state = 'finished', finished_at = now() - interval '1"
                                + " minute' where id = ?",
                        id);
        Await.until(
                Duration.ofSeconds(30),
                "the record is made",
                () ->
                        RunningService.sql()
                                        .queryForObject(
                                                "select count(*) from record where run_id = ?",
                                                Integer.class,
                                                id)
                                != 0);
        assertThat(
                        RunningService.sql()
                                .queryForObject(
                                        "select body from record where run_id = ?",
                                        String.class,
                                        id))
                .contains("\"setAsideWhy\":\"as if\"");
    }

    /**
     * Whoever dies right behind a start leaves executions behind; and should one ever be lost, its
     * unit does not wait for ever.
     */
    @Test
    void everyUnitIsDrivenWhateverBecameOfItsExecution() throws Exception {
        startAndAwaitStuck();
        RunView.UnitInRun unit = runs.find(run).units().getFirst();
        String id = String.valueOf(unit.id());
        String executions =
                "select count(*) from scheduled_tasks where task_name = 'unit' and task_instance ="
                        + " ?";
        Await.until(
                Duration.ofSeconds(30),
                "its execution is gone",
                () ->
                        RunningService.sql()
                                        .update(
                                                "delete from scheduled_tasks where task_name ="
                                                        + " 'unit' and task_instance = ? and not"
                                                        + " picked",
                                                id)
                                != 0);
        assertThat(RunningService.sql().queryForObject(executions, Integer.class, id)).isZero();
        RunningService.bean(Wake.class).all();
        assertThat(RunningService.sql().queryForObject(executions, Integer.class, id)).isOne();
        decisions.setAside(run, unit.device(), "no power there", "mara");
        Await.until(
                Duration.ofSeconds(30),
                "no execution is left",
                () -> RunningService.sql().queryForObject(executions, Integer.class, id) == 0);
        RunningService.bean(Wake.class).all();
        assertThat(RunningService.sql().queryForObject(executions, Integer.class, id))
                .as("nobody drives one that is over")
                .isZero();
    }

    /**
     * A word is in force when it is written: whoever dies before he has told anybody leaves an
     * execution behind that comes at once, not within the hour.
     */
    @Test
    void aWordHastensItsUnitInTheSameTransaction() throws Exception {
        startAndAwaitStuck();
        long unit = runs.find(run).units().getFirst().id();
        Wake wake = RunningService.bean(Wake.class);
        Instant rests = carriedOut(unit, Instant.EPOCH);
        try {
            RunningService.inTransaction(
                    () -> {
                        wake.within(unit);
                        throw new IllegalStateException("died in the middle");
                    });
        } catch (IllegalStateException died) {
            Await.pass(Duration.ofMillis(500), "a word that was taken back does nothing");
            assertThat(lastCarriedOut(unit)).as("a word that was never said").isEqualTo(rests);
        }
        RunningService.inTransaction(() -> wake.within(unit));
        Instant hastened = carriedOut(unit, rests);
        RunningService.inTransaction(() -> wake.run(runs.idOf(run)));
        assertThat(carriedOut(unit, hastened)).isAfter(hastened);
    }

    /**
     * When its execution ended last, once that is later than a moment and the next one is an hour
     * away.
     */
    private static Instant carriedOut(long unit, Instant after) throws InterruptedException {
        String waits =
                "select count(*) from scheduled_tasks where task_name = 'unit' and task_instance ="
                        + " ? and not picked and execution_time > now() + interval '30 minutes'";
        Await.until(
                Duration.ofSeconds(30),
                "its execution has come",
                () ->
                        Integer.valueOf(1)
                                        .equals(
                                                RunningService.sql()
                                                        .queryForObject(
                                                                waits,
                                                                Integer.class,
                                                                String.valueOf(unit)))
                                && lastCarriedOut(unit).isAfter(after));
        return lastCarriedOut(unit);
    }

    private static Instant lastCarriedOut(long unit) {
        return Objects.requireNonNull(
                        RunningService.sql()
                                .queryForObject(
                                        "select coalesce(last_success, 'epoch') from"
                                                + " scheduled_tasks where task_name = 'unit' and"
                                                + " task_instance = ?",
                                        java.sql.Timestamp.class,
                                        String.valueOf(unit)))
                .toInstant();
    }

    @Test
    void aDeviceIsInOneUnfinishedRunAtATime() throws Exception {
        startAndAwaitStuck();
        String second = RunningService.name("run");
        approve(second);
        assertThatThrownBy(() -> runs.start(second, "mara"))
                .hasMessageContaining(run)
                .hasMessageContaining("not finished");
        assertThat(plans.find(second).state())
                .as("the refused plan can still be used")
                .isEqualTo("approved");
        routers.forEach(router -> decisions.setAside(run, router, "for the other run", "mara"));
        assertThat(runs.start(second, "mara").units()).hasSize(2);
    }

    @Test
    void ofTwoRunsThatStartAtOnceWithTheSameDeviceOneIsRefused() throws Exception {
        String second = RunningService.name("run");
        approve(second);
        CountDownLatch together = new CountDownLatch(1);
        try (ExecutorService people = Executors.newVirtualThreadPerTaskExecutor()) {
            List<Future<Boolean>> starts =
                    Stream.of(run, second)
                            .map(
                                    name ->
                                            people.submit(
                                                    () -> {
                                                        together.await();
                                                        try {
                                                            runs.start(name, "mara");
                                                            return true;
                                                        } catch (Refusal refused) {
                                                            assertThat(refused)
                                                                    .hasMessageContaining(
                                                                            "which is not"
                                                                                    + " finished");
                                                            return false;
                                                        }
                                                    }))
                            .toList();
            together.countDown();
            assertThat(List.of(starts.getFirst().get(), starts.getLast().get()))
                    .containsExactlyInAnyOrder(true, false);
        }
    }

    @Test
    void wordsThatDoNotFitTheStateAreRefusedWithTheState() throws Exception {
        assertThatThrownBy(() -> runs.find(run)).hasMessageContaining(run);
        startAndAwaitStuck();
        assertThatThrownBy(() -> runs.go(run, routers.getFirst(), "mara"))
                .hasMessageContaining("not at a gate; it is stuck");
        assertThatThrownBy(() -> runs.go(run, "rt-nowhere", "mara"))
                .hasMessageContaining("rt-nowhere");
        assertThatThrownBy(() -> runs.resume(run, "mara"))
                .hasMessageContaining("is armed; expected held");
        assertThatThrownBy(() -> runs.start(run, "mara"))
                .hasMessageContaining("is used; expected approved");
    }

    @Test
    void aHeldRunBeginsNothingUntilItIsLetGo() throws Exception {
        startAndAwaitStuck();
        assertThat(runs.hold(run, "mara").state()).isEqualTo("held");
        String router = routers.getFirst();
        decisions.retry(run, router, "mara");
        Await.pass(Duration.ofMillis(700), "a held run does nothing");
        assertThat(await(v -> true).units())
                .filteredOn(u -> u.device().equals(router))
                .extracting(u -> u.steps().getFirst().state())
                .as("nothing began while held")
                .containsExactly("due");
        runs.resume(run, "mara");
        await(
                view ->
                        view.units().stream()
                                .filter(u -> u.device().equals(router))
                                .allMatch(u -> u.state().equals("stuck")));
    }

    @Test
    void aStepThatNothingBuildsUponIsLeftOutAndTheLastOneEndsTheRun() throws Exception {
        startAndAwaitStuck();
        String router = routers.getFirst();
        assertThatThrownBy(() -> decisions.skip(run, router, "no time", "mara"))
                .hasMessageContaining("check of %s cannot be left out".formatted(router));
        decisions.setAside(run, routers.get(1), "no power there", "mara");
        RunningService.sql()
                .update(
                        "update run_step set state = case when name = 'tidy' then 'failed' else"
                            + " 'done' end where unit_id = (select id from run_unit where name = ?"
                            + " and run_id = ?)",
                        router,
                        runs.idOf(run));
        assertThat(runs.find(run).units())
                .filteredOn(unit -> unit.device().equals(router))
                .singleElement()
                .satisfies(
                        unit ->
                                assertThat(unit.trouble())
                                        .isNotNull()
                                        .satisfies(
                                                trouble ->
                                                        assertThat(trouble.ways())
                                                                .as(
                                                                        "nobody saw what it ran"
                                                                            + " before: it would be"
                                                                            + " refused to go back")
                                                                .containsExactly(
                                                                        "retry",
                                                                        "replace",
                                                                        "skip",
                                                                        "set-aside")));
        assertThatThrownBy(() -> decisions.skip(run, router, "", "mara"))
                .hasMessageContaining("Say why");
        RunView over = decisions.skip(run, router, "its old image may stay", "mara");
        assertThat(over.state()).isEqualTo("finished");
        assertThat(over.units())
                .extracting(RunView.UnitInRun::state)
                .containsExactlyInAnyOrder("settled", "set-aside");
        assertThat(RunningService.bean(Events.class).ofRun(runs.idOf(run)))
                .extracting(e -> e.text())
                .contains("mara leaves tidy of %s out: its old image may stay".formatted(router));
    }

    @Test
    void aUnitIsTakenBackInAndGoesOnWhereItStood() throws Exception {
        startAndAwaitStuck();
        String router = routers.getFirst();
        assertThatThrownBy(() -> decisions.takeIn(run, router, "mara"))
                .hasMessageContaining("only a unit that was set aside");
        decisions.setAside(run, router, "no power there", "mara");
        RunView back = decisions.takeIn(run, router, "mara");
        assertThat(back.units())
                .filteredOn(unit -> unit.device().equals(router))
                .singleElement()
                .satisfies(
                        unit -> {
                            assertThat(unit.state()).isEqualTo("stuck");
                            assertThat(unit.setAsideWhy()).isNull();
                        });
        routers.forEach(one -> decisions.setAside(run, one, "enough", "mara"));
        runs.end(run, "mara");
        assertThatThrownBy(() -> decisions.takeIn(run, router, "mara"))
                .hasMessageContaining("the run is finished");
    }

    @Test
    void nothingBeginsOnAUnitThatIsHeldWhileItsRunGoesOn() throws Exception {
        startAndAwaitStuck();
        String held = routers.getFirst();
        String other = routers.get(1);
        runs.holdUnit(run, held, true, "mara");
        assertThatThrownBy(() -> runs.holdUnit(run, held, true, "mara"))
                .hasMessageContaining("held already");
        decisions.retry(run, held, "mara");
        decisions.retry(run, other, "mara");
        RunView view =
                await(
                        now ->
                                now.units().stream()
                                        .filter(unit -> unit.device().equals(other))
                                        .allMatch(unit -> unit.state().equals("stuck")));
        assertThat(view.units())
                .filteredOn(unit -> unit.device().equals(held))
                .singleElement()
                .satisfies(
                        unit -> {
                            assertThat(unit.held()).isTrue();
                            assertThat(unit.steps().getFirst().state()).isEqualTo("due");
                        });
        runs.holdUnit(run, held, false, "mara");
        await(
                now ->
                        now.units().stream()
                                .filter(unit -> unit.device().equals(held))
                                .allMatch(unit -> unit.state().equals("stuck")));
    }

    @Test
    void anAbandonedRunIsOverWithARecordAndSetsItsDevicesFree() throws Exception {
        startAndAwaitStuck();
        assertThatThrownBy(() -> runs.abandon(run, " ", "mara")).hasMessageContaining("Say why");
        RunView over = runs.abandon(run, "the ferries sail early", "mara");
        assertThat(over.state()).isEqualTo("abandoned");
        assertThat(over.units())
                .as("each stays as it stands")
                .extracting(RunView.UnitInRun::state)
                .containsOnly("stuck");
        assertThat(
                        RunningService.sql()
                                .queryForObject(
                                        "select count(*) from record where run_id = ?",
                                        Integer.class,
                                        runs.idOf(run)))
                .isEqualTo(1);
        assertThatThrownBy(() -> decisions.retry(run, routers.getFirst(), "mara"))
                .hasMessageContaining("the run is abandoned");
        assertThatThrownBy(() -> runs.abandon(run, "again", "mara"))
                .hasMessageContaining("is abandoned already");
        String second = RunningService.name("run");
        approve(second);
        assertThat(runs.start(second, "mara").units()).hasSize(2);
    }
}
