package calmstep.service.runs;

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
 * Runs as they go over the line, written and packed once for all who watch: however many look at a run of a thousand units, it is read and written twice a second at most,
 * and a large one more seldom. What a person of this node said is seen at once.
 */
@Component
class ShownRuns {
    private static final Duration FRESH_FOR = Duration.ofMillis(500);
    /** A look takes no more than a fifth of one processor, however large the run is. */
    private static final int TIMES_ITS_COST = 5;

    private final RunViews views;
    private final JsonMapper mapper;
    private final Clock clock;
    private final Map<String, Shown> shown = new ConcurrentHashMap<>();

    ShownRuns(RunViews views, JsonMapper mapper, Clock clock) {
        this.views = views;
        this.mapper = mapper;
        this.clock = clock;
    }

    /** @param packed by gzip (RFC 1952) */
    record Shown(Instant until, byte[] json, byte[] packed) {}

    Shown of(String run) {
        return shown.compute(run, (_, last) -> last != null && clock.instant().isBefore(last.until()) ? last : written(run));
    }

    private Shown written(String run) {
        Instant begun = clock.instant();
        byte[] json = mapper.writeValueAsBytes(views.find(run));
        byte[] packed = packed(json);
        Duration cost = Duration.between(begun, clock.instant()).multipliedBy(TIMES_ITS_COST);
        return new Shown(clock.instant().plus(cost.compareTo(FRESH_FOR) > 0 ? cost : FRESH_FOR), json, packed);
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
