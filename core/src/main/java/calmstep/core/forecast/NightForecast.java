package calmstep.core.forecast;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How a night is likely to go; all times in seconds from its beginning.
 *
 * @param median of the end of everything
 * @param p90 the end that nine of ten nights stay below
 * @param chance that every part ends inside its window
 * @param decides the step that most often decides when the night ends; empty for a night without
 *     parts
 * @param parts by unit and part, in planned order
 */
public record NightForecast(
        double median, double p90, double chance, Optional<Decider> decides, List<Part> parts) {
    public NightForecast {
        parts = List.copyOf(parts);
    }

    /**
     * @param share of the nights in which this step is what the end waits for
     */
    public record Decider(
            String unit, String hop, calmstep.core.step.StepName step, double share) {}

    /**
     * @param chance that it ends inside its window
     */
    public record Part(String unit, int part, double medianEnd, double p90End, double chance) {}

    /** Parts by unit, for looking one up. */
    public Optional<Part> find(String unit, int part) {
        return parts.stream().filter(p -> p.unit().equals(unit) && p.part() == part).findFirst();
    }

    static NightForecast ofNothing() {
        return new NightForecast(0, 0, 1, Optional.empty(), List.of());
    }

    static Optional<Decider> most(
            List<Leg> legs, Map<Integer, Integer> counts, int draws, int stepsMost) {
        return counts.entrySet().stream()
                .max(
                        Map.Entry.<Integer, Integer>comparingByValue()
                                .thenComparing(
                                        Map.Entry.<Integer, Integer>comparingByKey().reversed()))
                .map(
                        entry -> {
                            Leg leg = legs.get(entry.getKey() / stepsMost);
                            Leg.Timed timed = leg.steps().get(entry.getKey() % stepsMost);
                            return new Decider(
                                    leg.unit(),
                                    timed.hop(),
                                    timed.step(),
                                    entry.getValue() / (double) draws);
                        });
    }
}
