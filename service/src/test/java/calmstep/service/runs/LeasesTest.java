package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;

class LeasesTest {
    private final LeasedDevices devices = RunningService.bean(LeasedDevices.class);
    private final JdbcTemplate sql = RunningService.sql();
    private final String router = RunningService.router();
    private final long device = RunningService.bean(Fleet.class).require(router).id();

    /** A unit of a run that nobody drives: its row only. */
    private long unit() {
        String name = RunningService.name("run");
        long plan =
                sql.queryForObject(
                        "insert into plan (name, target, state, body, written_by, written_at,"
                                + " version) values (?, '', 'used', '', '', now(), 0) returning id",
                        Long.class,
                        name);
        long run =
                sql.queryForObject(
                        "insert into run (plan_id, name, state, started_by, started_at, version)"
                                + " values (?, ?, 'finished', '', now(), 0) returning id",
                        Long.class,
                        plan,
                        name);
        return sql.queryForObject(
                "insert into run_unit (run_id, device_id, name, plan, state, version) values (?, ?,"
                        + " ?, '', 'settled', 0) returning id",
                Long.class,
                run,
                device,
                router);
    }

    private void runOut() {
        sql.update(
                "update lease set until = now() - interval '1 second' where device_id = ?", device);
    }

    private void inTransaction(Runnable work) {
        RunningService.bean(TransactionTemplate.class).executeWithoutResult(_ -> work.run());
    }

    @Test
    void oneOfManyDriversGetsTheDevice() throws Exception {
        List<Callable<Optional<Hold>>> drivers = new ArrayList<>();
        for (int i = 0; i < 20; i++) {
            long unit = unit();
            drivers.add(() -> devices.take(device, unit, router));
        }
        List<Hold> held = new ArrayList<>();
        try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
            for (Future<Optional<Hold>> one : threads.invokeAll(drivers)) {
                one.get().ifPresent(held::add);
            }
        }
        assertThat(held).hasSize(1);
        inTransaction(held.getFirst()::mustHold);
        held.getFirst().close();
        try (Hold next = devices.take(device, unit(), router).orElseThrow()) {
            inTransaction(next::mustHold);
        }
    }

    @Test
    void aDriverWhoseLeaseRanOutMayWriteNothingOnceAnotherHasIt() {
        Hold slow = devices.take(device, unit(), router).orElseThrow();
        runOut();
        try (Hold quick = devices.take(device, unit(), router).orElseThrow()) {
            assertThatThrownBy(() -> inTransaction(slow::mustHold))
                    .isInstanceOf(LeaseLost.class)
                    .hasMessageContaining(router);
            slow.close();
            inTransaction(quick::mustHold);
            assertThat(devices.take(device, unit(), router))
                    .as("the slow one's end gave nothing away")
                    .isEmpty();
        }
    }

    @Test
    void aRevivedExecutionOvertakesTheDeadOneOfTheSameUnit() {
        long unit = unit();
        Hold dead = devices.take(device, unit, router).orElseThrow();
        try (Hold revived = devices.take(device, unit, router).orElseThrow()) {
            inTransaction(revived::mustHold);
            assertThatThrownBy(() -> inTransaction(dead::mustHold)).isInstanceOf(LeaseLost.class);
        }
        dead.close();
    }

    @Test
    void whatADriverWroteWithALostLeaseIsRolledBack() {
        Hold slow = devices.take(device, unit(), router).orElseThrow();
        runOut();
        try (Hold quick = devices.take(device, unit(), router).orElseThrow()) {
            String before =
                    sql.queryForObject(
                            "select host_key from device where id = ?", String.class, device);
            assertThatThrownBy(
                            () ->
                                    inTransaction(
                                            () -> {
                                                sql.update(
                                                        "update device set host_key = 'written by"
                                                                + " the slow one' where id = ?",
                                                        device);
                                                slow.mustHold();
                                            }))
                    .isInstanceOf(LeaseLost.class);
            assertThat(
                            sql.queryForObject(
                                    "select host_key from device where id = ?",
                                    String.class,
                                    device))
                    .isEqualTo(before);
            inTransaction(quick::mustHold);
        }
        slow.close();
    }
}
