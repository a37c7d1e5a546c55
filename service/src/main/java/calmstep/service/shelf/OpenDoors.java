package calmstep.service.shelf;

import calmstep.service.database.OwnConnections;
import com.zaxxer.hikari.HikariDataSource;
import jakarta.annotation.PreDestroy;
import java.sql.Timestamp;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/**
 * Which images are open for whom. Asked by connections of its own: a device that fetches waits some
 * seconds for its first byte, not longer.
 */
@Component
class OpenDoors {
    private static final int CONNECTIONS = 3;
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(4);

    /** Fifty devices ask at once: one question, without a session around it. */
    private static final String OPEN =
            """
            select i.file_name, i.size_bytes from shelf_image i
             where i.file_name = ? and exists (select 1 from transfer t where t.file_name = i.file_name and t.device_address = ? and t.until > ?)\
            """;

    private final HikariDataSource connections;
    private final JdbcClient sql;

    OpenDoors(OwnConnections own) {
        connections = own.open("shelf", CONNECTIONS, LONGEST_WAIT);
        sql = JdbcClient.create(connections);
    }

    @PreDestroy
    void close() {
        connections.close();
    }

    /** An image that a device may fetch, with the size that it had when it was proven. */
    record Open(String fileName, long sizeBytes) {}

    Optional<Open> find(String name, String deviceAddress, Instant now) {
        return sql.sql(OPEN)
                .param(name)
                .param(deviceAddress)
                .param(Timestamp.from(now))
                .query(Open.class)
                .optional();
    }
}
