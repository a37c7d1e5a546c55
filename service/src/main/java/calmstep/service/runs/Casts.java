package calmstep.service.runs;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** The stand-ins of the rehearsals that are played in this process. */
@Component
class Casts {
    private final Map<Long, Cast> playing = new ConcurrentHashMap<>();

    void put(long runId, Cast cast) {
        playing.put(runId, cast);
    }

    void remove(long runId) {
        playing.remove(runId);
    }

    /**
     * A rehearsal never falls back to devices: without its stand-ins nothing of it is carried out.
     */
    Cast require(RunRow run) {
        return Optional.ofNullable(playing.get(run.id()))
                .orElseThrow(
                        () ->
                                new IllegalStateException(
                                        "The stand-ins of the rehearsal %s are not in this process"
                                                .formatted(run.name)));
    }
}
