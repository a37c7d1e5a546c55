package calmstep.core.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.check.OwnCheck.Expectation;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Fact;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class OwnCheckTest {
    @Test
    void isReadAsItIsWritten() {
        for (String line :
                List.of(
                        "tills: ping 192.0.2.10",
                        "booking: port 192.0.2.11:443",
                        "board: page http://192.0.2.12/departures shows Next sailing",
                        "any page: page https://192.0.2.12/",
                        "board from there: reach http://192.0.2.12/",
                        "names: name tickets.northmere.example is 192.0.2.13 at 192.0.2.53:5353",
                        "names: name tickets.northmere.example",
                        "uplinks: count interface up at least 2",
                        "points: count dependent in sync at least 12",
                        "power: count power at least 1")) {
            assertThat(OwnCheck.parse(line).line()).isEqualTo(line);
        }
        assertThat(OwnCheck.parse("points: count dependent in sync at least 12").expectation())
                .isEqualTo(new Expectation.Counts("dependent", Optional.of("in sync"), 12));
    }

    @Test
    void whatIsNoCheckIsRefusedWithWhatIsExpected() {
        for (String line :
                List.of(
                        "",
                        "ping 192.0.2.1",
                        "x: knock 192.0.2.1",
                        "x: port 192.0.2.1",
                        "x: port 192.0.2.1:70000",
                        "x: page ftp://192.0.2.1/",
                        "x: reach 192.0.2.1",
                        "x: page http:///nowhere",
                        "x: count interface up",
                        "x: ping a b")) {
            assertThatThrownBy(() -> OwnCheck.parse(line))
                    .as(line)
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessageContaining("NAME: ping ADDRESS")
                    .hasMessageContaining("saw \"%s\"".formatted(line));
        }
    }

    @Test
    void countsWhatAReadingShows() {
        Reading reading =
                new Reading(
                        Instant.EPOCH,
                        new Reading.Identity("n", "m", "", "s"),
                        new TreeMap<>(),
                        new BootChoice("a", "a", "", true),
                        "1",
                        List.of(),
                        false,
                        "",
                        List.of(
                                new Fact("interface", "a", "up"),
                                new Fact("interface", "b", "down"),
                                new Fact("interface", "c", "up"),
                                new Fact("power", "1", "ok")));
        assertThat(
                        OwnCheck.counted(
                                new Expectation.Counts("interface", Optional.of("up"), 2), reading))
                .isEqualTo(OwnCheck.OK);
        assertThat(
                        OwnCheck.counted(
                                new Expectation.Counts("interface", Optional.of("up"), 3), reading))
                .isEqualTo("2, not 3");
        assertThat(
                        OwnCheck.counted(
                                new Expectation.Counts("interface", Optional.empty(), 3), reading))
                .isEqualTo(OwnCheck.OK);
    }
}
