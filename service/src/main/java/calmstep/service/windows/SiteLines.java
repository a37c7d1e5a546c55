package calmstep.service.windows;

import calmstep.core.window.NightRules;
import calmstep.service.fleet.Fleet;
import calmstep.service.shelf.Lines;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/**
 * Whose address it is, and the link to its site as the windows that hold say. Both are looked up
 * every few seconds, not for each of many copies.
 */
@Component
class SiteLines implements Lines {
    private static final Duration LOOKED_UP_EVERY = Duration.ofSeconds(3);

    private final Fleet fleet;
    private final Windows windows;
    private final Clock clock;
    private Instant lookedUpAt = Instant.EPOCH;
    private Map<String, End> ends = Map.of();

    SiteLines(Fleet fleet, Windows windows, Clock clock) {
        this.fleet = fleet;
        this.windows = windows;
        this.clock = clock;
    }

    @Override
    public synchronized Optional<End> to(String address) {
        Instant now = clock.instant();
        if (Duration.between(lookedUpAt, now).compareTo(LOOKED_UP_EVERY) > 0) {
            NightRules rules = windows.current().orElse(NightRules.NONE);
            ends =
                    fleet.places().stream()
                            .collect(
                                    Collectors.toMap(
                                            Fleet.At::address,
                                            at ->
                                                    new End(
                                                            at.name(),
                                                            at.site(),
                                                            Optional.ofNullable(
                                                                    rules.links().get(at.site()))),
                                            (one, _) -> one));
            lookedUpAt = now;
        }
        return Optional.ofNullable(ends.get(address));
    }
}
