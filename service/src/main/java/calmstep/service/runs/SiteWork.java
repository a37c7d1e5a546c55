package calmstep.service.runs;

import calmstep.core.step.Turn;
import calmstep.core.step.UnitState;
import calmstep.service.plans.PlanCalendars.Span;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * What a run does to a site, as its contacts are told.
 *
 * @param planId of the plan that it carries out
 * @param units those that are there, then those elsewhere that cut something off there
 */
public record SiteWork(String run, String startedBy, long planId, List<Unit> units) {

    /**
     * @param at the title of its own site; empty where it is at this one
     * @param cutsOff what has no network there while it is dark; itself not counted
     * @param serves who stands behind it and behind what it cuts off there, in users' words
     * @param darkSeconds in which it serves nobody
     * @param turns when its parts are done, by the plan or by a person's later word; none for a
     *     plan without nights
     * @param word what somebody wrote for the contacts; empty for nothing
     */
    public record Unit(
            String device,
            String at,
            List<String> cutsOff,
            List<String> serves,
            String from,
            String to,
            long darkSeconds,
            List<Turn> turns,
            UnitState state,
            String word) {

        public boolean isHere() {
            return at.isEmpty();
        }
    }

    /** By unit, part by part. */
    public Map<String, List<Span>> spans() {
        return units.stream()
                .collect(
                        Collectors.toMap(
                                Unit::device,
                                unit ->
                                        unit.turns().stream()
                                                .map(
                                                        turn ->
                                                                new Span(
                                                                        turn.begins(),
                                                                        turn.begins()
                                                                                .plus(
                                                                                        turn
                                                                                                .needs())))
                                                .toList()));
    }
}
