package calmstep.cli;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import tools.jackson.databind.JsonNode;

/** Times for people. */
final class Ago {
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("HH:mm:ss", Locale.ROOT);
    private static final DateTimeFormatter DATE =
            DateTimeFormatter.ofPattern("d MMM yyyy HH:mm zzz", Locale.ENGLISH);

    private static final DateTimeFormatter EXACTLY =
            DateTimeFormatter.ofPattern("d MMM yyyy HH:mm:ss zzz", Locale.ENGLISH);

    private Ago() {}

    static String of(JsonNode instant) {
        if (instant.isNull() || instant.isMissingNode()) {
            return "never";
        }
        Duration age = Duration.between(Instant.parse(instant.asString()), Instant.now());
        return age.toDays() > 0
                ? age.toDays() + " d ago"
                : age.toHours() > 0
                        ? age.toHours() + " h ago"
                        : age.toMinutes() > 0 ? age.toMinutes() + " min ago" : "just now";
    }

    static String clock(JsonNode instant) {
        return instant.isNull() || instant.isMissingNode()
                ? ""
                : CLOCK.format(Instant.parse(instant.asString()).atZone(ZoneId.systemDefault()));
    }

    /** With seconds, where several things of one minute are told apart. */
    static String exactly(JsonNode instant) {
        return EXACTLY.format(Instant.parse(instant.asString()).atZone(ZoneId.systemDefault()));
    }

    static String date(JsonNode instant) {
        return instant.isNull() || instant.isMissingNode()
                ? ""
                : DATE.format(Instant.parse(instant.asString()).atZone(ZoneId.systemDefault()));
    }
}
