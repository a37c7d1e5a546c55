package calmstep.service.events;

import jakarta.annotation.PreDestroy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.postgresql.PGConnection;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.boot.jdbc.autoconfigure.DataSourceProperties;
import org.springframework.context.event.EventListener;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tells this node's followers that there are new events, and what they are. LISTEN only wakes; what
 * there is, is read from the rows, once for all of them. While the database is away it tries again
 * every second.
 */
@Component
class EventFeed {
    private static final Logger LOG = LoggerFactory.getLogger(EventFeed.class);
    private static final int LOOKS_AT_LEAST_EVERY_MS = 5000;

    /** Where a hundred things happen in a second, they are read some at a time. */
    private static final int READS_AT_MOST_EVERY_MS = 100;

    private static final int GATHERED_FOR_MS = 200;
    private static final int LONGER_FOR_EACH_MS = 2;

    private static final int AWAY_FOR_MS = 1000;

    private final DataSourceProperties database;
    private final Events events;
    private final Tail tail;
    private final Set<Consumer<Boolean>> followers = ConcurrentHashMap.newKeySet();
    private volatile boolean stopped;

    EventFeed(DataSourceProperties database, Events events, JsonMapper mapper) {
        this.database = database;
        this.events = events;
        this.tail = new Tail(mapper);
    }

    @EventListener(ApplicationReadyEvent.class)
    void start() {
        Thread.ofVirtual().name("event-feed").start(this::listen);
    }

    @PreDestroy
    void stop() {
        stopped = true;
        followers.forEach(follower -> follower.accept(false));
    }

    /**
     * The follower is called with true whenever there may be something new, and with false when the
     * service stops.
     */
    Runnable follow(Consumer<Boolean> follower) {
        followers.add(follower);
        return () -> followers.remove(follower);
    }

    /** What is newer than an event that a follower has. */
    Tail.Stretch after(long id) {
        return tail.after(id).orElseGet(() -> tail.stretch(events.after(id), id));
    }

    private void listen() {
        while (!stopped) {
            try (Connection connection =
                            java.sql.DriverManager.getConnection(
                                    database.determineUrl(),
                                    database.determineUsername(),
                                    database.determinePassword());
                    Statement statement = connection.createStatement()) {
                followAlong(statement, connection);
            } catch (SQLException | DataAccessException | TransactionException away) {
                LOG.debug("The event feed has lost the database and tries again", away);
                pause(AWAY_FOR_MS);
            }
        }
    }

    private void followAlong(Statement statement, Connection connection) throws SQLException {
        statement.execute("listen event");
        read();
        while (!stopped) {
            connection.unwrap(PGConnection.class).getNotifications(LOOKS_AT_LEAST_EVERY_MS);
            read();
            followers.forEach(follower -> follower.accept(true));
            pause(READS_AT_MOST_EVERY_MS);
        }
    }

    private void read() {
        if (!tail.hasBegun()) {
            tail.begin(events.newest());
        }
        for (List<Event> more = events.after(tail.newest());
                !more.isEmpty();
                more = events.after(tail.newest())) {
            tail.add(more);
        }
    }

    /**
     * How long a follower gathers what is new before he is told more: longer, the more of them
     * there are.
     */
    Duration gathers() {
        return Duration.ofMillis(GATHERED_FOR_MS + (long) LONGER_FOR_EACH_MS * followers.size());
    }

    private static void pause(int millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }
}
