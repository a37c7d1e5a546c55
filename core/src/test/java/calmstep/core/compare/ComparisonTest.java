package calmstep.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.Identity;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

class ComparisonTest {
    private static Reading reading(String release, Fact... facts) {
        return new Reading(
                Instant.EPOCH,
                new Identity("rt", "R6-4", "C", "1"),
                new TreeMap<>(Map.of("system", release)),
                new BootChoice("a", "a", "", true),
                "start 1",
                List.of(),
                false,
                "",
                List.of(facts));
    }

    @Test
    void weighsWhatChanged() {
        Reading before =
                reading(
                        "2.4.0",
                        new Fact("interface", "ge0", "up"),
                        new Fact("interface", "ge1", "up"),
                        new Fact("licence", "voice", "valid"),
                        new Fact("interface", "ge2", "down"));
        Reading after =
                reading(
                        "2.6.3",
                        new Fact("interface", "ge0", "up"),
                        new Fact("interface", "ge1", "down"),
                        new Fact("interface", "ge2", "up"),
                        new Fact("interface", "ge3", "up"));
        assertThat(ReadingComparison.of(before, after))
                .extracting(c -> c.sentence() + " " + c.weight())
                .containsExactly(
                        "release system was 2.4.0, is 2.6.3 EXPECTED",
                        "interface ge1 was up, is down CAUTION",
                        "interface ge2 was down, is up FINE",
                        "interface ge3 is new: up FINE",
                        "licence voice is gone; it was valid CAUTION");
    }

    @Test
    void tellsWhatChangedBetweenReadingsAndLeavesOutThoseWithoutAny() {
        Reading first = reading("2.4.0", new Fact("interface", "ge0", "up"));
        Reading replaced =
                new Reading(
                        Instant.EPOCH.plusSeconds(60),
                        new Identity("rt", "R6-4", "C", "2"),
                        new TreeMap<>(Map.of("system", "2.6.3")),
                        new BootChoice("b", "b", "a", false),
                        "start 1",
                        List.of(),
                        true,
                        "",
                        List.of(new Fact("interface", "ge0", "up")));
        List<ReadingChanges> changes = ReadingChanges.of(List.of(replaced, replaced, first, first));
        assertThat(changes)
                .singleElement()
                .satisfies(
                        c -> {
                            assertThat(c.since()).isEqualTo(first.takenAt());
                            assertThat(c.changes())
                                    .extracting(Change::sentence)
                                    .containsExactly(
                                            "boot choice of the next start was saved, is not saved",
                                            "configuration running was saved, is not saved",
                                            "identity serial was 1, is 2",
                                            "image fallback is new: a",
                                            "image next was a, is b",
                                            "image running was a, is b",
                                            "release system was 2.4.0, is 2.6.3");
                        });
    }

    @Test
    void comparesConfigurationsByLineInItsContext() {
        String before =
                """
                link ge0
                  address 192.0.2.1
                  note a
                link ge1
                  note a
                -- end, 60 bytes --
                """;
        String after =
                """
                link ge1
                  note a
                link ge0
                  address 192.0.2.9
                  note a
                -- end, 61 bytes --
                """;
        ConfigurationComparison comparison =
                ConfigurationComparison.of(before, after, List.of(Pattern.compile("^-- end")));
        assertThat(comparison.dropped()).containsExactly("link ge0 / address 192.0.2.1");
        assertThat(comparison.added()).containsExactly("link ge0 / address 192.0.2.9");
        assertThat(
                        ConfigurationComparison.of(
                                        before,
                                        before.replace("60", "61"),
                                        List.of(Pattern.compile("^-- end")))
                                .isSame())
                .isTrue();
        assertThat(ConfigurationComparison.of("a\na\n", "a\n", List.of()).dropped())
                .as("one of two equal lines is gone")
                .containsExactly("a");
    }
}
