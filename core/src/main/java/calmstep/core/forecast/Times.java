package calmstep.core.forecast;

import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** How long the steps of a hop take: what the catalogue says at first, moved by what was seen. */
public final class Times {
    /** A level with as many observations as this counts half, the level above it the other half. */
    private static final double DRAW = 4;

    /** As many observations as the spread of the catalogue's word is worth. */
    private static final double SPREAD_WORTH = 6;

    private static final double DIGESTED_BYTES_PER_SECOND = 20e6;

    private final Map<List<String>, List<Double>> ratios = new HashMap<>();

    private Times() {}

    /** Nothing seen yet. */
    public static Times byCatalogue() {
        return new Times();
    }

    public static Times learnt(List<Seen> seen) {
        Times times = new Times();
        for (Seen one : seen) {
            for (List<String> level : levels(one.family(), one.model(), one.hop(), one.step())) {
                times.ratios.computeIfAbsent(level, _ -> new ArrayList<>()).add(one.logRatio());
            }
        }
        return times;
    }

    private static List<List<String>> levels(
            String family, String model, String hop, StepName step) {
        return List.of(
                List.of(step.name(), family),
                List.of(step.name(), family, model),
                List.of(step.name(), family, model, hop));
    }

    /**
     * One step of a hop.
     *
     * @param dark time without service that the restart takes; of a unit with members, the time
     *     that all its moves take
     * @param bytesPerSecond usual rate of a copy to the device
     */
    public StepTime of(
            String family,
            String model,
            Hop hop,
            StepName step,
            Duration dark,
            long bytesPerSecond) {
        StepTime prior = prior(hop, step, dark, bytesPerSecond);
        double shift = 0;
        double squares = 0;
        int count = 0;
        for (List<String> level : levels(family, model, nameOf(hop), step)) {
            List<Double> seen = ratios.getOrDefault(level, List.of());
            double sum = seen.stream().mapToDouble(Double::doubleValue).sum();
            shift = (DRAW * shift + sum) / (DRAW + seen.size());
            double centre = shift;
            if (!seen.isEmpty()) {
                squares =
                        seen.stream()
                                .mapToDouble(ratio -> (ratio - centre) * (ratio - centre))
                                .sum();
                count = seen.size();
            }
        }
        double spread =
                Math.sqrt(
                        (SPREAD_WORTH * prior.spread() * prior.spread() + squares)
                                / (SPREAD_WORTH + count));
        return new StepTime(prior.logSeconds() + shift, spread);
    }

    public static String nameOf(Hop hop) {
        return hop.from() + " > " + hop.to();
    }

    /**
     * What the catalogue gives: the rate of copies, the time of a restart; a device's answers take
     * seconds.
     */
    public static StepTime prior(Hop hop, StepName step, Duration dark, long bytesPerSecond) {
        return switch (step) {
            case CHECK, RETURN, REPLACE, MAKE_ROOM, TIDY -> StepTime.of(8, 0.5);
            case QUIET, UN_QUIET -> StepTime.of(2, 0.5);
            case SOAK -> StepTime.of(10 * 60, 0.1);
            case BACK_UP -> StepTime.of(15, 0.5);
            case STAGE -> StepTime.of(5 + hop.bytes() / (double) Math.max(1, bytesPerSecond), 0.35);
            case RESCUE ->
                    StepTime.of(
                            dark.toSeconds() + hop.bytes() / (double) Math.max(1, bytesPerSecond),
                            0.5);
            case CONFIRM_IMAGE -> StepTime.of(5 + hop.bytes() / DIGESTED_BYTES_PER_SECOND, 0.4);
            case PRE_LOAD -> StepTime.of(12 * 60, 0.4);
            case PUT_BACK -> StepTime.of(30, 0.5);
            case CHOOSE_BOOT, RESTART, SECOND_RESTART -> StepTime.of(6, 0.4);
            case DRAIN -> StepTime.of(60, 0.7);
            case RESTORE_ROLES -> StepTime.of(70, 0.7);
            case UN_DRAIN -> StepTime.of(5, 0.5);
            case RESTART_STANDBYS -> StepTime.of((double) Math.max(1, dark.toSeconds()), 0.25);
            // The catalogue's time is that of all its restarts.
            case COME_BACK, COME_BACK_AGAIN ->
                    StepTime.of(
                            (double)
                                    Math.max(
                                            1,
                                            dark.toSeconds() / (hop.restartsForBoards() ? 2 : 1)),
                            0.25);
            case PROVE -> StepTime.of(20, 0.4);
        };
    }
}
