package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.plan.WayWanted;
import calmstep.practice.Fault;
import java.nio.file.Path;
import java.time.Duration;
import java.util.regex.Pattern;
import org.assertj.core.groups.Tuple;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Firewall pairs of the demo, spoken to through their dialect, moved along their plans. */
@Tag("night")
class BrannochPairsTest {
    private static final Pattern ORDER = Pattern.compile("^1 (?:restart-standbys|drain|restart): ");

    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "brannoch-b2", "practice-brannoch-b2.yaml", name, target);
    }

    @Test
    void readsAPairWithItsSidesAndLicences() throws Exception {
        try (UnitNight night = night("fw-millhaven", "11.2 build 418")) {
            Reading reading = night.read();
            assertThat(reading.system()).isEqualTo("11.0 build 377");
            assertThat(reading.members())
                    .extracting(
                            PartShown::name,
                            PartShown::role,
                            PartShown::state,
                            member -> member.runs("system"))
                    .containsExactly(
                            Tuple.tuple("left", "active", "in sync", "11.0 build 377"),
                            Tuple.tuple("right", "standby", "in sync", "11.0 build 377"));
            assertThat(reading.imageVolumes())
                    .extracting(Reading.Volume::part)
                    .containsExactly("left", "right");
            assertThat(reading.facts())
                    .contains(
                            new Reading.Fact("licence", "tunnels 50", "2027-06-30"),
                            new Reading.Fact("power", "right", "ok"));
            assertThat(night.talk).noneMatch(text -> text.contains("millhaven-reads"));
        }
    }

    @Test
    void movesTheStandbyFirstAndHandsOver() throws Exception {
        try (UnitNight night = night("fw-millhaven", "11.2 build 418")) {
            assertThat(night.plan.hops())
                    .singleElement()
                    .satisfies(hop -> assertThat(hop.atOnce()).isEqualTo(1));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(
                            night.told.stream()
                                    .filter(ORDER.asPredicate())
                                    .map(line -> line.replaceAll("\\d+ flows", "some flows")))
                    .containsExactly(
                            "1 restart-standbys: member right into 11.2 build 418 while the others"
                                    + " serve, since 0 of 2 members run it",
                            "1 drain: nothing goes over member left before it hands over, since"
                                    + " left, some flows, takes more",
                            "1 restart: member left hands over to member right, which runs 11.2"
                                + " build 418, since member left is active and runs 11.0 build 377",
                            "1 restart: member left into 11.2 build 418 while the others serve,"
                                    + " since 1 of 2 members run it");
            assertThat(night.read().members())
                    .extracting(PartShown::role, member -> member.runs("system"))
                    .containsExactly(
                            Tuple.tuple("standby", "11.2 build 418"),
                            Tuple.tuple("active", "11.2 build 418"));
            assertThat(night.talk)
                    .as("nobody's flow was cut off")
                    .anyMatch(text -> text.contains("right is active from now on"))
                    .noneMatch(text -> text.contains("flows cut"));
        }
    }

    /** As the plan wishes it; drained before that hand-over too, and both carry traffic then. */
    @Test
    void leavesTheRolesAsTheyWereBefore() throws Exception {
        WayWanted asBefore =
                new WayWanted(
                        WayWanted.BEST.prefer(),
                        WayWanted.BEST.alternative(),
                        WayWanted.Roles.AS_BEFORE);
        try (UnitNight night =
                new UnitNight(
                        folder,
                        "brannoch-b2",
                        "practice-brannoch-b2.yaml",
                        "fw-millhaven",
                        "11.2 build 418",
                        asBefore)) {
            assertThat(night.plan.dark()).as("two hand-overs").isEqualTo(Duration.ofSeconds(4));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.read().members())
                    .extracting(PartShown::name, PartShown::role)
                    .containsExactly(
                            Tuple.tuple("left", "active"), Tuple.tuple("right", "standby"));
            assertThat(night.talk)
                    .anyMatch(text -> text.contains("left is active from now on"))
                    .anyMatch(text -> text.contains("both take flows"))
                    .noneMatch(text -> text.contains("flows cut"));
        }
    }

    @Test
    void takesBothSteppingStonesFromAnOldBuild() throws Exception {
        try (UnitNight night = night("fw-ostrand", "11.2 build 418")) {
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().to())
                    .containsExactly("10.8 build 305", "11.0 build 377", "11.2 build 418");
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.read().members())
                    .extracting(member -> member.runs("system"))
                    .containsOnly("11.2 build 418");
        }
    }

    @Test
    void tellsTwoBuildsOfOneReleaseApart() throws Exception {
        try (UnitNight night = night("fw-dunmere", "11.2 build 418")) {
            assertThat(night.read().system()).isEqualTo("11.2 build 410");
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().to())
                    .containsExactly("11.2 build 418");
        }
    }

    @Test
    void leavesAPairAloneWhoseSidesAreOutOfStep() throws Exception {
        try (UnitNight night = night("fw-eskholm", "11.0 build 377")) {
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at check");
            assertThat(night.trouble().orElseThrow().seen()).isEqualTo("member right: out of step");
            assertThat(night.fleet.member("fw-eskholm", 1).restarts()).isEmpty();
        }
    }

    @Test
    void countsTheLicencesBeforeAndAfter() throws Exception {
        try (UnitNight night = night("fw-millhaven", "11.2 build 418")) {
            night.fleet.add("fw-millhaven", Fault.LOSES_A_LICENCE);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.told)
                    .as("a person has to look at it")
                    .anyMatch(
                            line ->
                                    line.startsWith("1 prove done:")
                                            && line.contains("look at: licence tunnels 50"));
        }
    }
}
