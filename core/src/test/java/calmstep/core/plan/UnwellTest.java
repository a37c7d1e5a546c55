package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a device says of its health, and what that means for a plan. */
class UnwellTest {
    private static final Instant NOW = Instant.parse("2026-12-01T02:00:00Z");

    private static Reading reading(List<Fact> facts, List<PartShown> parts) {
        return new Reading(
                NOW,
                new Identity("rt", "R6-4", "C", "S1"),
                new TreeMap<>(Map.of("system", "2.4.0")),
                new BootChoice("a.img", "a.img", "", true),
                "1",
                List.of(),
                false,
                "",
                facts,
                parts,
                new TreeMap<>());
    }

    private static List<Finding> findings(Reading reading) {
        return Ailment.of(reading, NOW).stream()
                .map(ailment -> new Concern.Unwell(ailment).about("rt-1"))
                .toList();
    }

    @ParameterizedTest
    @CsvSource({
        "power, left, failed, CAUTION, not-well-power-left",
        "fan, 2, stopped, CAUTION, not-well-fan-2",
        "partner, fw-2, behind, STOP, out-of-step-fw-2",
        "licence, routing, 2026-11-30, CAUTION, licence-ended-routing",
        "licence, routing, 2026-12-24, NOTE, licence-ends-routing",
        "support, box, 2026-11-30, CAUTION, support-ended-box",
        "support, box, 2026-12-24, NOTE, support-ends-box",
        "change-in-progress, session, jon, STOP, change-in-progress-session",
        "factory-sign-in, admin, works, CAUTION, factory-sign-in-admin",
        "reached-by, uplink, wireless, CAUTION, reached-by-uplink"
    })
    void eachKindIsSaidAsTheTradeWouldHaveIt(
            String kind, String name, String value, Severity severity, String key) {
        assertThat(findings(reading(List.of(new Fact(kind, name, value)), List.of())))
                .singleElement()
                .satisfies(
                        found -> {
                            assertThat(found.severity()).isEqualTo(severity);
                            assertThat(found.key()).isEqualTo("rt-1/" + key);
                            assertThat(found.fact()).startsWith("rt-1: ").contains(name);
                            assertThat(found.choices().contains(Choice.ACCEPT))
                                    .as("a caution can be borne, a stop cannot")
                                    .isEqualTo(severity == Severity.CAUTION);
                        });
    }

    @ParameterizedTest
    @CsvSource({
        "power, left, ok",
        "fan, 2, good",
        "partner, fw-2, in sync",
        "licence, routing, valid for good",
        "licence, routing, 2028-01-01",
        "support, box, 2028-01-01",
        "change-in-progress, session, none",
        "factory-sign-in, admin, closed",
        "reached-by, uplink, wire",
        "neighbour, ge1, rt-2"
    })
    void whatIsWellIsNotSaid(String kind, String name, String value) {
        assertThat(findings(reading(List.of(new Fact(kind, name, value)), List.of()))).isEmpty();
    }

    /**
     * Only where the device names one of its own: a way beside its links stays when it restarts.
     */
    @Test
    void aDeviceThatIsReachedOverALinkOfItsOwnIsACaution() {
        List<Fact> own =
                List.of(
                        new Fact("interface", "ge0", "up"),
                        new Fact("reached-by", "this session", "ge0"));
        assertThat(findings(reading(own, List.of())))
                .singleElement()
                .satisfies(
                        found -> {
                            assertThat(found.severity()).isEqualTo(Severity.CAUTION);
                            assertThat(found.fact()).contains("over ge0, a link of its own");
                        });
        List<Fact> beside =
                List.of(
                        new Fact("interface", "ge0", "up"),
                        new Fact("reached-by", "this session", "mgmt"));
        assertThat(findings(reading(beside, List.of()))).isEmpty();
    }

    /** Who stands in for others must be there; a dependent that is away can be borne. */
    @Test
    void aMemberThatIsAwayStopsAndADependentDoesNot() {
        PartShown member = shown(Part.Kind.MEMBER, "2");
        PartShown dependent = shown(Part.Kind.DEPENDENT, "ap-7");
        assertThat(findings(reading(List.of(), List.of(member, dependent))))
                .extracting(Finding::severity)
                .containsExactly(Severity.STOP, Severity.CAUTION);
    }

    private static PartShown shown(Part.Kind kind, String name) {
        return new PartShown(
                new Part(name, kind, "", "", Map.of("system", "2.4.0"), List.of()), "", "away", "");
    }
}
