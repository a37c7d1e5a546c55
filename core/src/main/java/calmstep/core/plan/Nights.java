package calmstep.core.plan;

import calmstep.core.fleet.Ailment;
import calmstep.core.forecast.NightForecast;
import calmstep.core.wave.Schedule;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;

/**
 * A plan over its nights.
 *
 * @param nights in order
 * @param outside what begins where its site may not be disturbed; only where a person said when
 * @param runOut licences and support that end before a unit's turn does
 */
public record Nights(
        Schedule schedule, List<Night> nights, List<Outside> outside, List<RunOut> runOut) {
    public Nights {
        nights = List.copyOf(nights);
        // Nights that were kept when nobody asked for windows, or for licences.
        outside = List.copyOf(Objects.requireNonNullElse(outside, List.of()));
        runOut = List.copyOf(Objects.requireNonNullElse(runOut, List.of()));
    }

    /**
     * A part of a unit's path that begins where its site may not be disturbed.
     *
     * @param part counted from 1
     * @param why as a sentence
     */
    public record Outside(String unit, int part, Instant begins, String why) {}

    /**
     * A licence or support that holds today and no longer when the unit's turn is over.
     *
     * @param over when the last part of its path that it runs out before is over
     */
    public record RunOut(String unit, Ailment.Ends right, Instant over) {}

    /** A night that ends inside its windows less often than this is worth a caution. */
    private static final double LIKELY_ENOUGH = 0.8;

    /**
     * What a person should know of the nights before the plan is approved.
     *
     * @param start a plan that does not wait for windows has none that it could end inside of
     */
    public List<Finding> findings(Start start) {
        Stream<Finding> nowhere =
                schedule.nowhere().stream()
                        .map(unit -> new Concern.FitsNowhere(unit.sentence()).about(unit.unit()));
        Stream<Finding> over =
                nights.stream()
                        .filter(_ -> start.waitsForWindows())
                        .filter(night -> night.forecast().chance() < LIKELY_ENOUGH)
                        .flatMap(night -> runsOver(night));
        Stream<Finding> without =
                outside.stream()
                        .map(
                                part ->
                                        new Concern.OutsideWindows(part.begins(), part.why())
                                                .about(part.unit()));
        Stream<Finding> late =
                runOut.stream()
                        .map(
                                one ->
                                        new Concern.EndsBeforeItsTurn(one.right(), one.over())
                                                .about(one.unit()));
        Stream<Finding> together =
                nights.stream()
                        .flatMap(night -> night.together().stream())
                        .map(
                                several ->
                                        new Concern.CutOffTogether(
                                                        several.beside(), several.cutOff())
                                                .about(several.unit()));
        return Stream.of(nowhere, over, without, late, together).flatMap(all -> all).toList();
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
     * @param reached who loses the network while a unit is dark, by unit; units that darken nobody
     *     else are left out
     * @param together several in work at one time that cut off somebody whom no one of them does
     */
    public record Night(
            LocalDate night,
            NightForecast forecast,
            List<String> cutsOff,
            List<String> serves,
            Map<String, List<Reached>> reached,
            List<Together> together) {
        public Night {
            // A night that was kept when each was told for all its units together.
            reached = Map.copyOf(Objects.requireNonNullElse(reached, Map.of()));
            together = List.copyOf(Objects.requireNonNullElse(together, List.of()));
            cutsOff = List.copyOf(cutsOff);
            serves = List.copyOf(serves);
        }
    }
}
