package calmstep.service.runs;

import calmstep.dialect.Talk;
import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.LinkedBlockingDeque;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.jdbc.UncategorizedSQLException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;

/**
 * Lines of talk on their way to the database: those of all units are written together, some times a
 * second, in plain SQL, since each on its own cost more than most of what a step does. Before an
 * intent, and before an outcome, whoever writes it writes what was said before.
 */
@Component
class TalkLines {
    private static final Logger LOG = LoggerFactory.getLogger(TalkLines.class);
    private static final int WRITTEN_EVERY_MS = 150;
    private static final int AT_ONCE = 500;

    /** Where the database is away, whoever talks on finds that out. */
    private static final int MOST_WAITING = 20_000;

    private final JdbcTemplate sql;
    private final LinkedBlockingDeque<Line> waiting = new LinkedBlockingDeque<>();
    private final CountDownLatch ended = new CountDownLatch(1);

    TalkLines(JdbcTemplate sql) {
        this.sql = sql;
    }

    private record Line(
            long run, long unit, long step, Instant at, String direction, String text) {}

    @PostConstruct
    void begin() {
        Thread.ofVirtual()
                .name("talk")
                .start(
                        () -> {
                            try {
                                while (!ended.await(WRITTEN_EVERY_MS, TimeUnit.MILLISECONDS)) {
                                    writeWhenItCan();
                                }
                            } catch (InterruptedException stop) {
                                Thread.currentThread().interrupt();
                            }
                        });
    }

    /** The last lines are written before the database's pool goes. */
    @PreDestroy
    void end() {
        ended.countDown();
        writeWhenItCan();
    }

    private void writeWhenItCan() {
        try {
            write();
        } catch (DataAccessException away) {
            LOG.debug("The talk waits for the database", away);
        }
    }

    void keep(UnitRow unit, StepRow step, Instant at, String direction, String text) {
        waiting.add(
                new Line(
                        unit.runId,
                        unit.id(),
                        step.id(),
                        at,
                        direction,
                        text.replace("\u0000", "")));
        if (waiting.size() > MOST_WAITING) {
            write();
        }
    }

    /**
     * Writes whatever waits, in its order. When it returns, all that was kept before is written.
     */
    synchronized void write() {
        List<Line> lines = new ArrayList<>();
        while (waiting.drainTo(lines, AT_ONCE) > 0) {
            try {
                insert(lines);
            } catch (DataIntegrityViolationException | UncategorizedSQLException unfit) {
                LOG.debug("They are tried one by one, since one of them does not fit", unfit);
                lines.forEach(this::insertOrDrop);
            } catch (DataAccessException away) {
                lines.reversed().forEach(waiting::addFirst);
                throw away;
            }
            lines.clear();
        }
    }

    /**
     * A line that the database will never take must not keep all others out: one of a rehearsal
     * that is gone, for example.
     */
    private void insertOrDrop(Line line) {
        try {
            insert(List.of(line));
        } catch (DataIntegrityViolationException | UncategorizedSQLException unfit) {
            LOG.warn("A line of the talk at step {} is lost: {}", line.step(), unfit.getMessage());
        }
    }

    private void insert(List<Line> lines) {
        sql.update(
                connection -> {
                    var statement =
                            connection.prepareStatement(
                                    """
                                    insert into talk (run_id, unit_id, step_id, at, direction, text)
                                    select * from unnest(?::bigint[], ?::bigint[], ?::bigint[], ?::timestamptz[], ?::text[], ?::text[])\
                                    """);
                    statement.setArray(
                            1,
                            connection.createArrayOf(
                                    "bigint", lines.stream().map(Line::run).toArray()));
                    statement.setArray(
                            2,
                            connection.createArrayOf(
                                    "bigint", lines.stream().map(Line::unit).toArray()));
                    statement.setArray(
                            3,
                            connection.createArrayOf(
                                    "bigint", lines.stream().map(Line::step).toArray()));
                    statement.setArray(
                            4,
                            connection.createArrayOf(
                                    "timestamptz",
                                    lines.stream().map(line -> line.at().toString()).toArray()));
                    statement.setArray(
                            5,
                            connection.createArrayOf(
                                    "text", lines.stream().map(Line::direction).toArray()));
                    statement.setArray(
                            6,
                            connection.createArrayOf(
                                    "text", lines.stream().map(Line::text).toArray()));
                    return statement;
                });
    }

    /** What is said to a device in a step, for the record. */
    Talk of(UnitRow unit, StepRow step, Clock clock) {
        return new Talk() {
            @Override
            public void typed(String text) {
                keep(unit, step, clock.instant(), "typed", text);
            }

            @Override
            public void answered(String text) {
                keep(unit, step, clock.instant(), "answered", text);
            }

            @Override
            public void overheard(String text) {
                keep(unit, step, clock.instant(), "overheard", text);
            }
        };
    }
}
