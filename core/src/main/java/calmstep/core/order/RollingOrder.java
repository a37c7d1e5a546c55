package calmstep.core.order;

import calmstep.core.version.Version;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

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

    /**
     * The hand-over after which the member is active again that was so first; empty where it is
     * anyhow.
     */
    public Optional<RollingMove.HandOver> rolesBack() {
        List<RollingMove.HandOver> all =
                moves.stream()
                        .filter(RollingMove.HandOver.class::isInstance)
                        .map(RollingMove.HandOver.class::cast)
                        .toList();
        return all.isEmpty() || all.getFirst().fromMember().equals(all.getLast().toMember())
                ? Optional.empty()
                : Optional.of(all.getLast().onTo(all.getFirst().fromMember()));
    }

    /** With a move behind all others. */
    public RollingOrder and(RollingMove last) {
        return new RollingOrder(Stream.concat(moves.stream(), Stream.of(last)).toList(), barred);
    }

    /** With each member drained before it hands over. */
    public RollingOrder drained() {
        return new RollingOrder(
                moves.stream()
                        .flatMap(
                                move ->
                                        move instanceof RollingMove.HandOver handOver
                                                ? Stream.of(
                                                        new RollingMove.Drain(
                                                                handOver.fromMember()),
                                                        move)
                                                : Stream.of(move))
                        .toList(),
                barred);
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
