package calmstep.service.runs;

import com.github.kagkarlsson.scheduler.SchedulerClient;
import com.github.kagkarlsson.scheduler.exceptions.ExecutionException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceCurrentlyExecutingException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceNotFoundException;
import com.github.kagkarlsson.scheduler.task.TaskInstanceId;
import java.time.Clock;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Lets a unit's execution begin now. The rows must be committed before; whatever is missed here comes by itself within the hour. */
@Component
class Wake {
    private static final Logger LOG = LoggerFactory.getLogger(Wake.class);
    private static final int TRIES = 40;

    private final SchedulerClient scheduler;
    private final Clock clock;

    Wake(javax.sql.DataSource dataSource, Clock clock) {
        this.scheduler = SchedulerClient.Builder.create(dataSource, UnitTask.DESCRIPTION).build();
        this.clock = clock;
    }

    /**
     * An execution may be under way just now, end, be picked or begin between our look and our word; each of these is met by looking again. It reads the rows
     * when it begins, so one that begins behind us needs no other word.
     */
    void unit(long unitId) {
        String id = String.valueOf(unitId);
        for (int tries = 0; tries < TRIES; tries++) {
            if (scheduler.scheduleIfNotExists(UnitTask.TASK.instance(id).build(), clock.instant()) || hasten(id)) {
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
        } catch (TaskInstanceCurrentlyExecutingException | TaskInstanceNotFoundException | ExecutionException meanwhile) {
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
