package calmstep.service.fleet;

import java.util.List;

/** Turns a selection into devices. What a selection can ask of them is known where their paths are. */
public interface Chosen {
    /**
     * @param where a selection; empty means all
     * @return names, in order
     */
    List<String> names(String where);
}
