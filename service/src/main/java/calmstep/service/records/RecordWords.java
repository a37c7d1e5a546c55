package calmstep.service.records;

import calmstep.core.order.Outage;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** How the record's page writes times and sizes. Public for the template alone. */
public final class RecordWords {
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("d MMM yyyy HH:mm:ss zzz", Locale.ENGLISH);

    private static final DateTimeFormatter DAY =
            DateTimeFormatter.ofPattern("d MMM HH:mm", Locale.ENGLISH);

    public String time(@Nullable Instant at, String zone) {
        return at == null ? "" : CLOCK.format(at.atZone(ZoneId.of(zone)));
    }

    /** Where the zone is told beside it. */
    public String day(@Nullable Instant at, String zone) {
        return at == null ? "" : DAY.format(at.atZone(ZoneId.of(zone)));
    }

    public String took(@Nullable Instant from, @Nullable Instant to) {
        if (from == null || to == null) {
            return "";
        }
        Duration took = Duration.between(from, to);
        return took.toMinutes() > 0
                ? String.format(
                        Locale.ROOT, "%s min %02d s", took.toMinutes(), took.toSecondsPart())
                : String.format(Locale.ROOT, "%.1f s", took.toMillis() / 1000.0);
    }

    public String minutes(long seconds) {
        return Outage.words(Duration.ofSeconds(seconds));
    }

    public String bytes(long count) {
        return String.format(Locale.ROOT, "%,d bytes", count);
    }
}
