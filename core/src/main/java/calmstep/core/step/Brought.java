package calmstep.core.step;

import calmstep.core.fleet.Reading;
import calmstep.core.path.Hop;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What a release brings along for another component of its device. */
record Brought(String component, String release) {
    static Stream<Brought> of(Hop hop) {
        return hop.brings().stream()
                .map(
                        words ->
                                new Brought(
                                        words.substring(0, words.indexOf(' ')),
                                        words.substring(words.indexOf(' ') + 1)));
    }

    boolean runs(Reading reading) {
        return release.equals(reading.components().get(component));
    }

    /** Whether the device shows that component at all. */
    boolean isShown(Reading reading) {
        return reading.components().containsKey(component);
    }

    /** How some of them stand, in words. */
    static String seen(List<Brought> some, Reading reading) {
        return some.stream()
                .map(
                        one ->
                                "%s %s%s"
                                        .formatted(
                                                one.component,
                                                reading.components()
                                                        .getOrDefault(one.component, "not shown"),
                                                reading.waiting().containsKey(one.component)
                                                        ? ", %s waits"
                                                                .formatted(
                                                                        reading.waiting()
                                                                                .get(one.component))
                                                        : ""))
                .collect(Collectors.joining("; "));
    }

    @Override
    public String toString() {
        return component + " " + release;
    }
}
