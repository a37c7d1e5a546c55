package calmstep.service.runs;

import calmstep.service.events.Events;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.zip.GZIPOutputStream;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Runs as they go over the line, written and packed once for all who watch: however many look at a
 * run of a thousand units, it is read and written seldom. A small one is written anew with each
 * event of it; of a large one whoever needs to see what an event did says which.
 */
@Component
class ShownRuns {
    private static final Duration FRESH_FOR = Duration.ofMillis(500);

    /** A look takes no more than a tenth of one processor, however large the run is. */
    private static final int TIMES_ITS_COST = 10;

    /** Nobody looks at it any more. */
    private static final Duration KEPT_FOR = Duration.ofMinutes(1);

    /** What costs less is written anew with each event. */
    private static final Duration DEAR = Duration.ofMillis(60);

    private final RunViews views;
    private final Events events;
    private final JsonMapper mapper;
    private final Clock clock;
    private final Map<String, Shown> shown = new ConcurrentHashMap<>();

    ShownRuns(RunViews views, Events events, JsonMapper mapper, Clock clock) {
        this.views = views;
        this.events = events;
        this.mapper = mapper;
        this.clock = clock;
    }

    /**
     * @param packed by gzip (RFC 1952)
     */
    record Shown(long event, Duration cost, Instant until, byte[] json, byte[] packed) {
        /**
         * @param newest number of the run's newest event
         * @param since that of an event whose consequences have to be in it
         */
        private boolean tells(long newest, long since, Instant now) {
            return event >= since
                    && now.isBefore(until)
                    && (event >= newest || cost.compareTo(DEAR) > 0);
        }
    }

    /**
     * @param since number of an event that has to be in it; 0 where none has to
     */
    Shown of(String run, long since) {
        long newest = events.newestOf(views.idOf(run));
        Instant longAgo = clock.instant().minus(KEPT_FOR);
        shown.values().removeIf(old -> old.until().isBefore(longAgo));
        return shown.compute(
                run,
                (_, last) ->
                        last != null && last.tells(newest, since, clock.instant())
                                ? last
                                : written(run, newest));
    }

    private Shown written(String run, long newest) {
        Instant begun = clock.instant();
        byte[] json = mapper.writeValueAsBytes(views.find(run));
        byte[] packed = packed(json);
        Instant now = clock.instant();
        Duration cost = Duration.between(begun, now);
        Duration fresh = cost.multipliedBy(TIMES_ITS_COST);
        return new Shown(
                newest,
                cost,
                now.plus(fresh.compareTo(FRESH_FOR) > 0 ? fresh : FRESH_FOR),
                json,
                packed);
    }

    private static byte[] packed(byte[] json) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(json.length / 8);
        try (GZIPOutputStream packing = new GZIPOutputStream(bytes)) {
            packing.write(json);
        } catch (IOException impossible) {
            throw new UncheckedIOException("Writing to memory does not fail", impossible);
        }
        return bytes.toByteArray();
    }

    /** A person said something about it. */
    void forget(String run) {
        shown.remove(run);
    }
}
