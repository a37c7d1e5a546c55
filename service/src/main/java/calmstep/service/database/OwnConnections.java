package calmstep.service.database;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.time.Duration;
import org.springframework.boot.jdbc.autoconfigure.DataSourceProperties;
import org.springframework.stereotype.Component;

/**
 * Connections of their own for those who must not wait behind everybody else: at the others, those
 * who drive a thousand devices wait for each other.
 */
@Component
public class OwnConnections {
    private final DataSourceProperties database;

    OwnConnections(DataSourceProperties database) {
        this.database = database;
    }

    /**
     * @param longestWait for one of them; whoever has waited that long is told so
     */
    public HikariDataSource open(String whose, int count, Duration longestWait) {
        HikariConfig few = new HikariConfig();
        few.setPoolName(whose);
        few.setJdbcUrl(database.determineUrl());
        few.setUsername(database.determineUsername());
        few.setPassword(database.determinePassword());
        few.setMaximumPoolSize(count);
        few.setMinimumIdle(1);
        few.setConnectionTimeout(longestWait.toMillis());
        // The database may be away when we start; whoever asks then is told so.
        few.setInitializationFailTimeout(-1);
        return new HikariDataSource(few);
    }
}
