package calmstep.service.database;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.RunningService;
import java.sql.Connection;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;

class DriversShareTest {
    /**
     * Two hundred drivers hold on to their connections for as long as they can; a person asks
     * meanwhile, and all of them come through.
     */
    @Test
    void peopleAreLetInHoweverManyDrive() throws Exception {
        JdbcTemplate sql = RunningService.sql();
        AtomicInteger inside = new AtomicInteger();
        AtomicInteger most = new AtomicInteger();
        AtomicInteger done = new AtomicInteger();
        List<Thread> drivers =
                IntStream.range(0, 200)
                        .mapToObj(
                                number ->
                                        Thread.ofVirtual()
                                                .start(
                                                        () ->
                                                                DriversShare.within(
                                                                        () -> {
                                                                            DriversShare.isAt(
                                                                                    number % 17);
                                                                            RunningService
                                                                                    .inTransaction(
                                                                                            () -> {
                                                                                                sql
                                                                                                        .queryForObject(
                                                                                                                "select"
                                                                                                                    + " 1",
                                                                                                                Integer
                                                                                                                        .class);
                                                                                                most
                                                                                                        .accumulateAndGet(
                                                                                                                inside
                                                                                                                        .incrementAndGet(),
                                                                                                                Math
                                                                                                                        ::max);
                                                                                                sql
                                                                                                        .queryForList(
                                                                                                                "select"
                                                                                                                    + " pg_sleep(0.05)");
                                                                                                inside
                                                                                                        .decrementAndGet();
                                                                                            });
                                                                            return done
                                                                                    .incrementAndGet();
                                                                        })))
                        .toList();
        Instant begun = Instant.now();
        for (int asked = 0; asked < 20; asked++) {
            assertThat(sql.queryForObject("select 2", Integer.class)).isEqualTo(2);
        }
        assertThat(Duration.between(begun, Instant.now()))
                .as("not behind two hundred others")
                .isLessThan(Duration.ofSeconds(4));
        for (Thread driver : drivers) {
            driver.join();
        }
        assertThat(done).hasValue(200);
        assertThat(most.get()).isBetween(1, 6);
    }

    /**
     * Whoever has a connection and asks for another one must not wait for a turn that only he could
     * give back.
     */
    @Test
    void whoeverHoldsOneIsNotKeptWaitingForASecond() throws Exception {
        DataSource all = RunningService.bean(DataSource.class);
        CountDownLatch holding = new CountDownLatch(6);
        AtomicInteger two = new AtomicInteger();
        List<Thread> drivers =
                IntStream.range(0, 6)
                        .mapToObj(
                                _ ->
                                        Thread.ofVirtual()
                                                .start(
                                                        () ->
                                                                DriversShare.within(
                                                                        () -> {
                                                                            try (Connection one =
                                                                                    all
                                                                                            .getConnection()) {
                                                                                holding.countDown();
                                                                                holding.await();
                                                                                try (Connection
                                                                                        other =
                                                                                                all
                                                                                                        .getConnection()) {
                                                                                    two.addAndGet(
                                                                                            one
                                                                                                                    .isValid(
                                                                                                                            1)
                                                                                                            && other
                                                                                                                    .isValid(
                                                                                                                            1)
                                                                                                    ? 1
                                                                                                    : 0);
                                                                                }
                                                                                return "";
                                                                            } catch (
                                                                                    Exception
                                                                                            failed) {
                                                                                throw new IllegalStateException(
                                                                                        failed);
                                                                            }
                                                                        })))
                        .toList();
        for (Thread driver : drivers) {
            assertThat(driver.join(Duration.ofSeconds(20))).isTrue();
        }
        assertThat(two).hasValue(6);
        assertThat(holding.await(0, TimeUnit.SECONDS)).isTrue();
    }
}
