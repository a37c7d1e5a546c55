package calmstep.service;

import calmstep.dialect.Doors;
import calmstep.dialect.StopKeys;
import java.time.Clock;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** What the packages share. */
@Configuration
class Setup {
    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }

    @Bean
    TransactionTemplate transactions(PlatformTransactionManager manager) {
        return new TransactionTemplate(manager);
    }

    @Bean(destroyMethod = "close")
    Doors doors(Clock clock, StopKeys keys) {
        return new Doors(clock, keys);
    }
}
