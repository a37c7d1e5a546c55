package calmstep.core.plan;

import calmstep.core.step.Neighbours;
import calmstep.core.step.Turn;
import calmstep.core.window.Limits;
import java.util.List;
import java.util.Map;

/**
 * What a run keeps to.
 *
 * @param units by name; a part that no window holds has a turn whose window is closed, so that a
 *     person decides
 */
public record Timetable(Limits limits, Map<String, Entry> units) {
    public record Entry(List<Turn> turns, Neighbours beside, boolean pilot) {}
}
