package calmstep.service.paths;

import calmstep.core.order.RollingOrder;
import java.util.List;

/**
 * The order inside a unit as the interface shows it.
 *
 * @param barred why some of it cannot be done member by member; empty where all of it can
 */
public record OrderView(
        long darkSeconds, long takesSeconds, List<MoveView> moves, List<String> barred) {

    /** One move of it. */
    public record MoveView(String sentence, long darkSeconds, long takesSeconds) {}

    public static OrderView of(RollingOrder order) {
        return new OrderView(
                order.dark().toSeconds(),
                order.takes().toSeconds(),
                order.moves().stream()
                        .map(
                                m ->
                                        new MoveView(
                                                m.sentence(),
                                                m.dark().toSeconds(),
                                                m.takes().toSeconds()))
                        .toList(),
                order.barred().stream().map(RollingOrder.Barred::sentence).toList());
    }
}
