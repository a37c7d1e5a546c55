package calmstep.service.runs;

import com.github.kagkarlsson.scheduler.SchedulerClient;
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

    void unit(long unitId) {
        String id = String.valueOf(unitId);
        if (scheduler.scheduleIfNotExists(UnitTask.TASK.instance(id).build(), clock.instant())) {
            return;
        }
        for (int tries = 0; tries < TRIES; tries++) {
            try {
                scheduler.reschedule(TaskInstanceId.of(UnitTask.NAME, id), clock.instant());
                return;
            } catch (TaskInstanceCurrentlyExecutingException busy) {
                LOG.debug("Unit {} is being carried out just now", unitId, busy);
                pause();
            } catch (TaskInstanceNotFoundException gone) {
                return;
            }
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
