package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.path.Obstacle;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.PathSearch;
import calmstep.core.path.Preference;
import calmstep.core.path.Question;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

/** The path question of one device. */
public final class PathFor {
    private PathFor() {}

    /**
     * @param runs release by component, as the device or its inventory line writes it
     */
    public static PathAnswer answer(Device device, Map<String, String> runs, Catalogue catalogue, Version target, Preference preference,
            LocalDate today) {
        SortedMap<String, Version> state = new TreeMap<>();
        for (Map.Entry<String, String> entry : runs.entrySet()) {
            VersionScheme scheme = catalogue.schemes().get(entry.getKey());
            if (scheme != null) {
                try {
                    state.put(entry.getKey(), scheme.parse(entry.getValue()));
                } catch (IllegalArgumentException refused) {
                    return new PathAnswer.Refused(List.of(new Obstacle.UnreadableVersion(entry.getValue(), String.valueOf(refused.getMessage()))),
                            Optional.empty());
                }
            }
        }
        return PathSearch.answer(new Question(catalogue, device.hardware(), device.entitled(), state, Catalogue.SYSTEM, target, preference, today, 0));
    }
}
