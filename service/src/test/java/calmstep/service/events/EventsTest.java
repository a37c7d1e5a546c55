package calmstep.service.events;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.evidence.EventChain;
import calmstep.service.RunningService;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;

class EventsTest {
    private final Events events = RunningService.bean(Events.class);
    private final JdbcTemplate sql = RunningService.sql();

    private long run() {
        String name = RunningService.name("run");
        long plan =
                sql.queryForObject(
                        "insert into plan (name, target, state, body, written_by, written_at,"
                                + " version) values (?, '', 'used', '', '', now(), 0) returning id",
                        Long.class,
                        name);
        return sql.queryForObject(
                "insert into run (plan_id, name, state, started_by, started_at, version) values (?,"
                        + " ?, 'finished', '', now(), 0) returning id",
                Long.class,
                plan,
                name);
    }

    private void append(long run, String text) {
        RunningService.inTransaction(
                () -> events.append(Optional.of(run), "subject", "unit", "mara", text));
    }

    /** What an intruder with the database's own rights would do. */
    private void pastTheTrigger(String statement, Object... values) {
        sql.execute("alter table event disable trigger only_added");
        try {
            sql.update(statement, values);
        } finally {
            sql.execute("alter table event enable trigger only_added");
        }
    }

    @Test
    void manyWritersAtOnceMakeOneWholeChainWithoutGapsInWhatEachSaid() throws Exception {
        long run = run();
        long other = run();
        List<Callable<Void>> writers = new ArrayList<>();
        for (int i = 0; i < 12; i++) {
            int writer = i;
            writers.add(
                    () -> {
                        for (int n = 0; n < 10; n++) {
                            append(n % 2 == 0 ? run : other, writer + ":" + n);
                        }
                        return null;
                    });
        }
        try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
            for (var done : threads.invokeAll(writers)) {
                done.get();
            }
        }
        assertThat(events.ofRun(run)).hasSize(60).extracting(Event::text).doesNotHaveDuplicates();
        assertThat(events.ofRun(run))
                .extracting(Event::text)
                .filteredOn(t -> t.startsWith("3:"))
                .containsExactly("3:0", "3:2", "3:4", "3:6", "3:8");
        assertThat(events.isChainWhole(run)).isTrue();
        assertThat(events.isChainWhole(other)).isTrue();
    }

    private List<EventChain.Link> trail() {
        List<Event> all = new ArrayList<>();
        for (List<Event> page = events.trail(0);
                !page.isEmpty();
                page = events.trail(all.getLast().id())) {
            all.addAll(page);
        }
        return all.stream()
                .map(
                        event ->
                                new EventChain.Link(
                                        "null",
                                        event.subject(),
                                        event.kind(),
                                        event.at(),
                                        event.who(),
                                        event.text(),
                                        event.hash()))
                .toList();
    }

    /**
     * What people do outside of runs is as little to be altered as what was done in one; and the
     * end of each run is tied into it.
     */
    @Test
    void theTrailOutsideOfRunsIsAChainAndHoldsTheEndOfEachRun() {
        String about = RunningService.name("trail");
        List.of("first", "second", "third")
                .forEach(
                        text ->
                                RunningService.inTransaction(
                                        () ->
                                                events.append(
                                                        Optional.empty(),
                                                        about,
                                                        "fleet",
                                                        "mara",
                                                        text)));
        long run = run();
        append(run, "its last event");
        RunningService.inTransaction(() -> events.tie(run, about));
        assertThat(EventChain.trailBrokenAt(trail())).isEmpty();
        assertThat(trail().getLast().text()).contains(events.ofRun(run).getLast().hash());
        pastTheTrigger(
                "update event set text = 'unsaid' where subject = ? and text = 'second'", about);
        assertThat(EventChain.trailBrokenAt(trail()))
                .hasValueSatisfying(
                        at -> assertThat(trail().get(at - 1).text()).isEqualTo("unsaid"));
        pastTheTrigger(
                "update event set text = 'second' where subject = ? and text = 'unsaid'", about);
        assertThat(EventChain.trailBrokenAt(trail())).isEmpty();
        pastTheTrigger(
                "update event set subject = subject || '-', run_id = ? where subject = ? and text ="
                        + " 'second'",
                run,
                about);
        assertThat(EventChain.trailBrokenAt(trail()))
                .as("one was taken out")
                .hasValueSatisfying(
                        at -> assertThat(trail().get(at - 1).text()).isEqualTo("third"));
        pastTheTrigger(
                "update event set subject = ?, run_id = null where subject = ?",
                about,
                about + "-");
        assertThat(EventChain.trailBrokenAt(trail())).isEmpty();
    }

    @Test
    void theDatabaseRefusesToChangeOrRemoveAnEvent() {
        long run = run();
        append(run, "said");
        assertThatThrownBy(
                        () -> sql.update("update event set text = 'unsaid' where run_id = ?", run))
                .hasMessageContaining("only ever added");
        assertThatThrownBy(() -> sql.update("delete from event where run_id = ?", run))
                .hasMessageContaining("only ever added");
    }

    @Test
    void anAlteredOrMissingEventBreaksTheChain() {
        for (String tampering :
                List.of(
                        "update event set text = 'two, changed' where run_id = ? and text = 'two'",
                        "delete from event where run_id = ? and text = 'two'",
                        "update event set who = 'nobody' where run_id = ? and text = 'three'",
                        "update event set at = at + interval '1 second' where run_id = ? and text ="
                                + " 'one'")) {
            long run = run();
            List.of("one", "two", "three").forEach(text -> append(run, text));
            assertThat(events.isChainWhole(run)).isTrue();
            pastTheTrigger(tampering, run);
            assertThat(events.isChainWhole(run)).as(tampering).isFalse();
        }
    }

    @Test
    void anEventIsThereOnlyIfWhatItTellsWasCommitted() {
        long run = run();
        assertThatThrownBy(
                        () ->
                                RunningService.inTransaction(
                                        () -> {
                                            events.append(
                                                    Optional.of(run),
                                                    "subject",
                                                    "unit",
                                                    "mara",
                                                    "never happened");
                                            throw new IllegalStateException("the work failed");
                                        }))
                .hasMessage("the work failed");
        assertThat(events.ofRun(run)).isEmpty();
        assertThatThrownBy(
                        () -> events.append(Optional.of(run), "subject", "unit", "mara", "outside"))
                .as("an event outside a transaction")
                .isInstanceOf(RuntimeException.class);
    }

    @Test
    void followersAreWokenAndFindWhatIsBehindTheirLast() throws Exception {
        long run = run();
        long last = events.newest();
        CountDownLatch woken = new CountDownLatch(1);
        Runnable leave =
                RunningService.bean(EventFeed.class)
                        .follow(
                                more -> {
                                    if (more && !events.after(last).isEmpty()) {
                                        woken.countDown();
                                    }
                                });
        append(run, "wake up");
        assertThat(woken.await(10, TimeUnit.SECONDS)).isTrue();
        leave.run();
        assertThat(events.after(last)).extracting(Event::text).contains("wake up");
        assertThat(events.after(events.newest())).isEmpty();
    }
}
