package calmstep.core.plan;

import calmstep.core.forecast.NightForecast;
import calmstep.core.wave.Schedule;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Stream;

/**
 * A plan over its nights.
 *
 * @param nights in order
 */
public record Nights(Schedule schedule, List<Night> nights) {
    public Nights {
        nights = List.copyOf(nights);
    }

    /** A night that ends inside its windows less often than this is worth a caution. */
    private static final double LIKELY_ENOUGH = 0.8;

    /** What a person should know of the nights before the plan is approved. */
    public List<Finding> findings() {
        Stream<Finding> nowhere =
                schedule.nowhere().stream()
                        .map(unit -> new Concern.FitsNowhere(unit.sentence()).about(unit.unit()));
        Stream<Finding> over =
                nights.stream()
                        .filter(night -> night.forecast().chance() < LIKELY_ENOUGH)
                        .flatMap(night -> runsOver(night));
        return Stream.concat(nowhere, over).toList();
    }

    private static Stream<Finding> runsOver(Night night) {
        return night.forecast().decides().stream()
                .map(
                        decider ->
                                new Concern.NightMayRunOver(
                                                night.night(),
                                                night.forecast().chance(),
                                                decider.step().toString())
                                        .about(decider.unit()));
    }

    /**
     * One night with its forecast, whose times are seconds from the beginning of the schedule.
     *
     * @param cutsOff what loses every way to a root at some time of it, besides what is in work
     * @param serves who stands behind all of that, in users' words
     */
    public record Night(
            LocalDate night, NightForecast forecast, List<String> cutsOff, List<String> serves) {
        public Night {
            cutsOff = List.copyOf(cutsOff);
            serves = List.copyOf(serves);
        }
    }
}
