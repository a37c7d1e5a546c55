package calmstep.service.backups;

import calmstep.core.step.Turn;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lets old backups go, once a day on one of the nodes. Of each device and kind the newest ones
 * stay, however old they are.
 */
@Configuration
class Retention {
    static final int NEWEST_KEPT = 10;
    private static final int LEAST_DAYS = 30;

    private final BackupRows rows;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Settings settings;
    private final Clock clock;

    Retention(
            BackupRows rows,
            Events events,
            TransactionTemplate transactions,
            Settings settings,
            Clock clock) {
        if (settings.keptDays() != 0 && settings.keptDays() < LEAST_DAYS) {
            throw new IllegalArgumentException(
                    "Expected CALMSTEP_BACKUPS_KEPT_DAYS to be 0 (for ever) or at least %s, saw %s."
                            .formatted(LEAST_DAYS, settings.keptDays()));
        }
        this.rows = rows;
        this.events = events;
        this.transactions = transactions;
        this.settings = settings;
        this.clock = clock;
    }

    @Bean
    RecurringTask<Void> oldBackupsGo() {
        return Tasks.recurring("old-backups-go", FixedDelay.ofHours(24))
                .execute(
                        (_, _) -> {
                            if (settings.keptDays() > 0) {
                                letGo(Duration.ofDays(settings.keptDays()));
                            }
                        });
    }

    /**
     * @return how many went
     */
    int letGo(Duration kept) {
        Instant before = clock.instant().minus(kept);
        return Optional.ofNullable(transactions.execute(_ -> letGoBefore(before))).orElseThrow();
    }

    private Integer letGoBefore(Instant before) {
        int gone = rows.letGo(before, NEWEST_KEPT);
        if (gone > 0) {
            events.append(
                    Optional.empty(),
                    "backups",
                    "backups",
                    Events.SERVICE,
                    "%s backups from before %s went; the newest %s of each device and kind stay."
                            .formatted(gone, Turn.words(before), NEWEST_KEPT));
        }
        return gone;
    }
}
