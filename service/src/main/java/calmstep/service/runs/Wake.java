package calmstep.service.runs;

import com.github.kagkarlsson.scheduler.SchedulerClient;
import com.github.kagkarlsson.scheduler.exceptions.ExecutionException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceCurrentlyExecutingException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceNotFoundException;
import com.github.kagkarlsson.scheduler.task.TaskInstanceId;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import java.sql.Timestamp;
import java.time.Clock;
import java.time.Duration;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Bean;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;

/** Lets the executions of units begin now. */
@Component
class Wake {
    private static final Logger LOG = LoggerFactory.getLogger(Wake.class);
    private static final int TRIES = 40;

    private static final Duration LOOKS_EVERY = Duration.ofSeconds(20);

    /** Those that nobody drives any more, or not yet. */
    private static final String SCHEDULE =
            """
            insert into scheduled_tasks (task_name, task_instance, execution_time, picked, version)
            select '%s', cast(u.id as text), ?, false, 1 from run_unit u join run r on r.id = u.run_id
            where not r.rehearsal and r.state not in ('finished', 'abandoned') and u.state not in ('settled', 'returned', 'set-aside')
            and not exists (select 1 from scheduled_tasks t where t.task_name = '%1$s' and t.task_instance = cast(u.id as text))
            on conflict do nothing\
            """
                    .formatted(UnitTask.NAME);

    private static final String HASTEN =
            "update scheduled_tasks set execution_time = ?, version = version + 1 where task_name = '%s' and task_instance = ? and not picked"
                    .formatted(UnitTask.NAME);

    private static final String HASTEN_RUN =
            "update scheduled_tasks set execution_time = ?, version = version + 1 where task_name = '%s' and task_instance in (select cast(id as text) from run_unit where run_id = ?) and not picked"
                    .formatted(UnitTask.NAME);
    private static final String CARRIED_OUT =
            "select u.id from run_unit u join scheduled_tasks t on t.task_name = '%s' and t.task_instance = cast(u.id as text) where u.run_id = ? and t.picked"
                    .formatted(UnitTask.NAME);

    private final SchedulerClient scheduler;
    private final JdbcTemplate sql;
    private final Clock clock;

    Wake(javax.sql.DataSource dataSource, JdbcTemplate sql, Clock clock) {
        this.sql = sql;
        this.scheduler = SchedulerClient.Builder.create(dataSource, UnitTask.DESCRIPTION).build();
        this.clock = clock;
    }

    /**
     * Within the transaction that made them: whoever dies behind it leaves nobody behind who is
     * never driven.
     */
    void all() {
        sql.update(SCHEDULE, Timestamp.from(clock.instant()));
    }

    /**
     * Within the transaction that says something about it: whoever dies behind it leaves nobody
     * waiting for a word that was said.
     */
    void within(long unitId) {
        sql.update(HASTEN, Timestamp.from(clock.instant()), String.valueOf(unitId));
    }

    /** As {@link #within(long)}, of all units of a run. */
    void run(long runId) {
        sql.update(HASTEN_RUN, Timestamp.from(clock.instant()), runId);
    }

    /**
     * Behind the transaction that said something about all of them: those that were just carried
     * out may have read what was before.
     */
    void carriedOut(long runId) {
        sql.queryForList(CARRIED_OUT, Long.class, runId).forEach(this::unit);
    }

    @Bean
    RecurringTask<Void> everyUnitIsDriven() {
        return Tasks.recurring("every-unit-is-driven", FixedDelay.of(LOOKS_EVERY))
                .execute((_, _) -> all());
    }

    /**
     * Behind the transaction that said something about it. An execution may be under way just now,
     * end, be picked or begin between our look and our word; each of these is met by looking again.
     * It reads the rows when it begins, so one that begins behind us needs no other word.
     */
    void unit(long unitId) {
        String id = String.valueOf(unitId);
        for (int tries = 0; tries < TRIES; tries++) {
            if (scheduler.scheduleIfNotExists(UnitTask.TASK.instance(id).build(), clock.instant())
                    || hasten(id)) {
                return;
            }
            pause();
        }
        LOG.warn("Unit {} was carried out all the while; it goes on by itself", unitId);
    }

    /** Whether the execution that waits begins now. */
    private boolean hasten(String id) {
        try {
            scheduler.reschedule(TaskInstanceId.of(UnitTask.NAME, id), clock.instant());
            return true;
        } catch (TaskInstanceCurrentlyExecutingException
                | TaskInstanceNotFoundException
                | ExecutionException meanwhile) {
            LOG.debug("The execution of unit {} changed under our hands", id, meanwhile);
            return false;
        }
    }

    private static void pause() {
        try {
            Thread.sleep(50);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }
}
