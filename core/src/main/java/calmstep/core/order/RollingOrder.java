package calmstep.core.order;

import calmstep.core.version.Version;
import java.time.Duration;
import java.util.List;

/**
 * The order of a unit's moves.
 *
 * @param barred pairs of releases that keep a hop from being done member by member; empty where all
 *     hops roll
 */
public record RollingOrder(List<RollingMove> moves, List<Barred> barred) {
    public RollingOrder {
        moves = List.copyOf(moves);
        barred = List.copyOf(barred);
    }

    /** Two releases that may not run side by side in one unit. */
    public record Barred(Version one, Version other) {
        public String sentence() {
            return "%s and %s do not work side by side in one unit".formatted(one, other);
        }
    }

    public Duration dark() {
        return moves.stream().map(RollingMove::dark).reduce(Duration.ZERO, Duration::plus);
    }

    public Duration takes() {
        return moves.stream().map(RollingMove::takes).reduce(Duration.ZERO, Duration::plus);
    }

    public long handOvers() {
        return moves.stream().filter(RollingMove.HandOver.class::isInstance).count();
    }
}
