package calmstep.service.runs;

import calmstep.core.step.Neighbours;
import calmstep.service.json.Json;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Whom units are beside, read once: whoever begins asks it of all that are in work. */
@Component
class Beside {
    private static final int MOST = 5_000;

    private final Map<String, Neighbours> read = new LinkedHashMap<>(MOST, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Neighbours> eldest) {
            return size() > MOST;
        }
    };
    private final Json json;

    Beside(Json json) {
        this.json = json;
    }

    synchronized Neighbours of(String text) {
        return read.computeIfAbsent(text, _ -> json.read(text, Neighbours.class));
    }
}
