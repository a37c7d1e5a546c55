package calmstep.service.fleet;

import calmstep.dialect.StopKeys;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Host keys of what is passed on the way to devices, kept in the database. */
@Component
class KeptStopKeys implements StopKeys {
    private final StopKeyRows rows;
    private final Events events;
    private final Clock clock;

    KeptStopKeys(StopKeyRows rows, Events events, Clock clock) {
        this.rows = rows;
        this.events = events;
        this.clock = clock;
    }

    @Override
    @Transactional(readOnly = true)
    public String known(String place) {
        return rows.findById(place).map(key -> key.fingerprint).orElse("");
    }

    @Override
    @Transactional
    public void seen(String place, String fingerprint) {
        if (!rows.existsById(place)) {
            StopKey key = new StopKey();
            key.place = place;
            key.fingerprint = fingerprint;
            key.seenAt = clock.instant();
            rows.save(key);
        }
    }

    /** The host was replaced: its next key is taken as its own. */
    @Transactional
    void forget(String place, String who) {
        StopKey key =
                rows.findById(place).orElseThrow(() -> Refusal.notFound("host on the way", place));
        rows.delete(key);
        events.append(
                Optional.empty(),
                place,
                "fleet",
                who,
                "The host key of %s was forgotten; the next one is believed.".formatted(place));
    }
}
