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
 * Runs as they go over the line, written and packed once for all who watch: however many look at a run of a thousand units, it is read and written twice a second at most.
 * What a person of this node said is seen at once, what happens by itself half a second later at the latest.
 */
@Component
class ShownRuns {
    private static final Duration FRESH_FOR = Duration.ofMillis(500);

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
    record Shown(Instant at, byte[] json, byte[] packed) {}

    Shown of(String run) {
        return shown.compute(run, (_, last) -> last != null && Duration.between(last.at(), clock.instant()).abs().compareTo(FRESH_FOR) < 0 ? last : written(run));
    }

    private Shown written(String run) {
        Instant now = clock.instant();
        byte[] json = mapper.writeValueAsBytes(views.find(run));
        return new Shown(now, json, packed(json));
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
