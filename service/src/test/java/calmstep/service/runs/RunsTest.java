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
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.plans.Plans;
import calmstep.service.problems.Refusal;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What people can do with a run whose devices do not answer. */
class RunsTest {
    private final Runs runs = RunningService.bean(Runs.class);
    private final Plans plans = RunningService.bean(Plans.class);
    private final String run = RunningService.name("run");
    private final List<String> routers = new ArrayList<>();

    @BeforeEach
    void anApprovedPlan() {
        RunningService.bean(Fleet.class).setLogin("steward", "steward", "practice-only", "test");
        for (int i = 0; i < 2; i++) {
            String router = RunningService.router();
            RunningService.keep(router, RunningService.reading("2.6.3"));
            routers.add(router);
        }
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.8.2.img', 'osmer-r6',"
                            + " '2.8.2', 1, '', now(), 'test' on conflict do nothing");
        approve(run);
    }

    private void approve(String plan) {
        plans.draft(plan, routers, "2.8.2", "mara");
        plans.approve(plan, "jon");
    }

    private RunView await(Predicate<RunView> reached) throws InterruptedException {
        return Await.until(
                Duration.ofSeconds(30), "the run has come that far", () -> runs.find(run), reached);
    }

    private RunView startAndAwaitStuck() throws InterruptedException {
        runs.start(run, "mara");
        return await(view -> view.units().stream().allMatch(u -> u.state().equals("stuck")));
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
        runs.retry(run, router, "mara");
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
    void unitsAreSetAsideWithAReasonAndTheLastOneEndsTheRunWithARecord() throws Exception {
        startAndAwaitStuck();
        assertThatThrownBy(() -> runs.setAside(run, routers.getFirst(), "  ", "mara"))
                .hasMessageContaining("Say why");
        assertThat(runs.setAside(run, routers.getFirst(), "no power there", "mara").state())
                .isEqualTo("armed");
        RunView over = runs.setAside(run, routers.get(1), "no power there either", "mara");
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
        assertThatThrownBy(() -> runs.setAside(run, routers.getFirst(), "again", "mara"))
                .hasMessageContaining("nothing can be changed any more");
        assertThatThrownBy(() -> runs.hold(run, "mara")).hasMessageContaining("is finished");
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
        runs.setAside(run, unit.device(), "no power there", "mara");
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
        routers.forEach(router -> runs.setAside(run, router, "for the other run", "mara"));
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
        runs.retry(run, router, "mara");
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
        assertThatThrownBy(() -> runs.skip(run, router, "no time", "mara"))
                .hasMessageContaining("check of %s cannot be left out".formatted(router));
        runs.setAside(run, routers.get(1), "no power there", "mara");
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
                                                                .containsExactly(
                                                                        "retry",
                                                                        "return",
                                                                        "replace",
                                                                        "skip",
                                                                        "set-aside")));
        assertThatThrownBy(() -> runs.skip(run, router, "", "mara"))
                .hasMessageContaining("Say why");
        RunView over = runs.skip(run, router, "its old image may stay", "mara");
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
        assertThatThrownBy(() -> runs.takeIn(run, router, "mara"))
                .hasMessageContaining("only a unit that was set aside");
        runs.setAside(run, router, "no power there", "mara");
        RunView back = runs.takeIn(run, router, "mara");
        assertThat(back.units())
                .filteredOn(unit -> unit.device().equals(router))
                .singleElement()
                .satisfies(
                        unit -> {
                            assertThat(unit.state()).isEqualTo("stuck");
                            assertThat(unit.setAsideWhy()).isNull();
                        });
        routers.forEach(one -> runs.setAside(run, one, "enough", "mara"));
        assertThatThrownBy(() -> runs.takeIn(run, router, "mara"))
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
        runs.retry(run, held, "mara");
        runs.retry(run, other, "mara");
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
        assertThatThrownBy(() -> runs.retry(run, routers.getFirst(), "mara"))
                .hasMessageContaining("the run is abandoned");
        assertThatThrownBy(() -> runs.abandon(run, "again", "mara"))
                .hasMessageContaining("is abandoned already");
        String second = RunningService.name("run");
        approve(second);
        assertThat(runs.start(second, "mara").units()).hasSize(2);
    }

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
        assertThat(RunningService.bean(UnitLedger.class).begin(id, 0, Instant.now())).isFalse();
        assertThat(Objects.requireNonNull(unit(follower).turn()).waitsFor())
                .contains(pilot, "judgement");
        RunningService.sql().update("update run set rehearsal = true where name = ?", run);
        assertThat(RunningService.bean(UnitLedger.class).begin(id, 0, Instant.now())).isTrue();
    }

    @Test
    void aUnitBeginsWhenItsTurnHasComeAndNobodyIsInWorkThatItMustNotBeBeside() throws Exception {
        startAndAwaitStuck();
        Instant later = Instant.now().plus(Duration.ofHours(3));
        stagedWithTurns(later, Duration.ofHours(1));
        String first = routers.getFirst();
        String second = routers.get(1);
        runs.turn(run, first, later.toString(), "mara");
        await(_ -> !Objects.requireNonNull(unit(first).turn()).waitsFor().isEmpty());
        RunView.UnitInRun waits = unit(first);
        assertThat(Objects.requireNonNull(waits.turn()).waitsFor())
                .contains("its turn is at " + Turn.words(later));
        assertThat(waits.steps())
                .filteredOn(s -> s.name().equals("choose-boot"))
                .extracting(RunView.StepView::state)
                .containsExactly("due");

        runs.turn(run, first, "now", "mara");
        await(_ -> unit(first).state().equals("stuck"));
        assertThat(Objects.requireNonNull(unit(first).turn()).inWork())
                .as("begun, and stuck in the middle")
                .isTrue();
        runs.turn(run, second, "now", "mara");
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
        runs.setAside(run, first, "somebody is sent", "mara");
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
        assertThatThrownBy(() -> runs.turn(run, first, "soon", "mara"))
                .hasMessageContaining("\"soon\"");
        assertThatThrownBy(() -> runs.turn(run, first, "next-window", "mara"))
                .as("nobody said when sites may be disturbed")
                .hasMessageContaining("no window of that length");
        runs.hold(run, "mara");
        runs.resume(run, "mara");
        await(view -> view.units().stream().allMatch(u -> u.state().equals("held")));
        runs.setAside(run, routers.get(1), "another night", "mara");
        assertThat(Objects.requireNonNull(unit(first).turn()).waitsFor())
                .contains("it needs 20 min");
        assertThatThrownBy(() -> runs.go(run, first, "mara"))
                .as("go was said already")
                .hasMessageContaining("not at a gate");
        runs.turn(run, first, "now", "mara");
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
        UnitLedger.Standing standing = ledger.standing(unit.id());
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
