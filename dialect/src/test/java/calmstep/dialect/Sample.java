package calmstep.dialect;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/**
 * A device of the demo that stands for its family.
 *
 * @param target where it can move to in one hop
 */
record Sample(String family, String file, String device, String target) {
    static final List<Sample> OF_EACH_FAMILY =
            List.of(
                    new Sample("osmer-r6", "practice-osmer-r6.yaml", "rt-aldwick-pier-1", "2.6.3"),
                    new Sample("tarnel-t2", "practice-switches.yaml", "sw-eskholm-1", "5.6.0"),
                    new Sample("quoyle-q4", "practice-switches.yaml", "dc-kelling-1", "10.04"),
                    new Sample(
                            "brannoch-b2",
                            "practice-brannoch-b2.yaml",
                            "fw-dunmere",
                            "11.2 build 418"),
                    new Sample("ivrel-c5", "practice-ivrel-c5.yaml", "wc-dunmere", "8.5.3"),
                    new Sample("corvane-v8", "practice-corvane-v8.yaml", "vg-eskholm", "2025.09"),
                    new Sample("wending-m2", "practice-wending-m2.yaml", "gw-heron-1", "3.6.0"),
                    new Sample("skelda-l4", "practice-skelda-l4.yaml", "rl-brae-top", "r48"));

    UnitNight night(Path folder) throws IOException {
        return new UnitNight(folder, family, file, device, target);
    }
}
