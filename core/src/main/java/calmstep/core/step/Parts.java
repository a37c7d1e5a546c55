package calmstep.core.step;

import calmstep.core.fleet.Reading.PartShown;
import java.util.List;
import java.util.stream.Collectors;

/** What steps tell of boards. */
final class Parts {
    private Parts() {}

    /** How each shows itself, with the release of a component. */
    static String shown(String component, List<PartShown> parts) {
        return parts.stream()
                .map(
                        part ->
                                "%s: %s%s"
                                        .formatted(
                                                part.name(),
                                                part.runs(component).isEmpty()
                                                        ? "no release shown"
                                                        : part.runs(component),
                                                part.isInSync() || part.state().isEmpty()
                                                        ? ""
                                                        : ", " + part.state()))
                .collect(Collectors.joining("; "));
    }
}
