package calmstep.service.runs;

import calmstep.core.step.Neighbours;
import calmstep.service.json.Json;
import org.springframework.stereotype.Component;

/** Whom units are beside, read once: whoever begins asks it of all that are in work. */
@Component
class Beside {
    private static final int MOST = 5_000;

    private final Remembered<String, Neighbours> read = new Remembered<>(MOST);
    private final Json json;

    Beside(Json json) {
        this.json = json;
    }

    Neighbours of(String text) {
        return read.of(text, unread -> json.read(unread, Neighbours.class));
    }
}
