package calmstep.service.runs;

import java.util.List;

/**
 * How a stuck unit could go back.
 *
 * @param over ordinals of the hops that it is taken back over, the newest first; empty where it
 *     could not
 * @param words where to, what opens the way, and what keeps it from going farther; where it could
 *     not, why, or nothing where nothing was chosen
 */
record WayBack(List<Integer> over, String words) {
    boolean isOpen() {
        return !over.isEmpty();
    }
}
