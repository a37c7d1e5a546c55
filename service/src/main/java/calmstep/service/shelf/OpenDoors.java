package calmstep.service.shelf;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import jakarta.annotation.PreDestroy;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.Optional;
import org.springframework.boot.jdbc.autoconfigure.DataSourceProperties;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/**
 * Which images are open for whom. Asked by connections of its own: a device that fetches waits some seconds for its first byte, and those who drive a thousand devices wait for each other
 * at the others.
 */
@Component
class OpenDoors {
    private static final int CONNECTIONS = 3;
    private static final int LONGEST_WAIT_MS = 4_000;

    /** Fifty devices ask at once: one question, without a session around it. */
    private static final String OPEN = """
            select i.file_name, i.size_bytes from shelf_image i
             where i.file_name = ? and exists (select 1 from transfer t where t.file_name = i.file_name and t.device_address = ? and t.until > ?)""";

    private final HikariDataSource connections;
    private final JdbcClient sql;

    OpenDoors(DataSourceProperties database) {
        HikariConfig few = new HikariConfig();
        few.setPoolName("shelf");
        few.setJdbcUrl(database.determineUrl());
        few.setUsername(database.determineUsername());
        few.setPassword(database.determinePassword());
        few.setMaximumPoolSize(CONNECTIONS);
        few.setConnectionTimeout(LONGEST_WAIT_MS);
        // The database may be away when we start; whoever asks then is told so.
        few.setInitializationFailTimeout(-1);
        connections = new HikariDataSource(few);
        sql = JdbcClient.create(connections);
    }

    @PreDestroy
    void close() {
        connections.close();
    }

    /** An image that a device may fetch, with the size that it had when it was proven. */
    record Open(String fileName, long sizeBytes) {}

    Optional<Open> find(String name, String deviceAddress, Instant now) {
        return sql.sql(OPEN).param(name).param(deviceAddress).param(Timestamp.from(now)).query(Open.class).optional();
    }
}
