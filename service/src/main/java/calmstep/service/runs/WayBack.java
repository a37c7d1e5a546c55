package calmstep.service.runs;

import java.util.List;

/**
 * How a stuck unit could go back.
 *
 * @param over ordinals of the hops that it is taken back over, the newest first; empty where it
 *     could not
 * @param to the release that it comes to; empty where it could not
 * @param words where to, what opens the way, and what keeps it from going farther; empty where it
 *     could not
 */
record WayBack(List<Integer> over, String to, String words) {
    static final WayBack NONE = new WayBack(List.of(), "", "");
}
