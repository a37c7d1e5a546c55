package calmstep.service.runs;

import calmstep.service.database.OwnConnections;
import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.CompletionHandler;
import com.github.kagkarlsson.scheduler.task.TaskDescriptor;
import com.github.kagkarlsson.scheduler.task.helper.CustomTask;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.zaxxer.hikari.HikariDataSource;
import jakarta.annotation.PreDestroy;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/**
 * The scheduler's side of the engine: which node carries which unit, when, and what becomes of the
 * work of a dead node.
 */
@Configuration
class UnitTask {
    private static final Logger LOG = LoggerFactory.getLogger(UnitTask.class);
    static final String NAME = "unit";
    static final TaskDescriptor<Void> TASK = TaskDescriptor.of(NAME);

    /** For clients that only schedule. */
    static final CustomTask<Void> DESCRIPTION =
            Tasks.custom(TASK).execute((_, _) -> new CompletionHandler.OnCompleteRemove<>());

    private static final int CONNECTIONS = 5;
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(20);
    private static final Duration AFTER_A_FAULT = Duration.ofSeconds(1);

    private final List<HikariDataSource> opened = new ArrayList<>();

    /** Behind the scheduler's own end. */
    @PreDestroy
    void close() {
        opened.forEach(HikariDataSource::close);
    }

    @Bean(initMethod = "start", destroyMethod = "stop")
    Scheduler scheduler(
            OwnConnections own,
            UnitDriver driver,
            List<RecurringTask<Void>> recurring,
            @Value("${calmstep.heartbeat-seconds}") int heartbeat) {
        CustomTask<Void> task =
                Tasks.custom(TASK)
                        .onFailure(
                                (complete, operations) -> {
                                    complete.getCause()
                                            .ifPresent(
                                                    cause ->
                                                            LOG.warn(
                                                                    "Unit {} is looked at again,"
                                                                        + " since this failed: {}",
                                                                    complete.getExecution()
                                                                            .taskInstance
                                                                            .getId(),
                                                                    cause.toString()));
                                    operations.reschedule(
                                            complete, Instant.now().plus(AFTER_A_FAULT));
                                })
                        .onDeadExecutionRevive()
                        .execute(
                                (instance, _) -> {
                                    Optional<Instant> next =
                                            driver.drive(Long.parseLong(instance.getId()));
                                    return next.<CompletionHandler<Void>>map(
                                                    at ->
                                                            (complete, operations) ->
                                                                    operations.reschedule(
                                                                            complete, at))
                                            .orElseGet(CompletionHandler.OnCompleteRemove::new);
                                });
        HikariDataSource connections = own.open("scheduler", CONNECTIONS, LONGEST_WAIT);
        opened.add(connections);
        return Scheduler.create(connections, task)
                .startTasks(recurring)
                .executorService(Executors.newVirtualThreadPerTaskExecutor())
                // Virtual threads, most of which wait for a device that copies or digests.
                .threads(1_000)
                .pollingInterval(Duration.ofMillis(150))
                // Each execution's is a statement of its own. Where a thousand are in work on a
                // busy machine, one that is late by some seconds is not dead.
                .heartbeatInterval(Duration.ofSeconds(heartbeat))
                .missedHeartbeatsLimit(4)
                .shutdownMaxWait(Duration.ofSeconds(5))
                .build();
    }
}
