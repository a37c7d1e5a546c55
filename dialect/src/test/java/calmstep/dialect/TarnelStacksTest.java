package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.practice.Fault;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Switch stacks of the demo, spoken to through their dialect, moved along their plans. */
@Tag("night")
class TarnelStacksTest {
    @TempDir private Path folder;

    private UnitNight night(String name, String target) throws Exception {
        return new UnitNight(folder, "tarnel-t2", "practice-switches.yaml", name, target);
    }

    @Test
    void readsAStackWithItsMembers() throws Exception {
        try (UnitNight night = night("sw-dunmere-1", "6.1.2")) {
            Reading reading = night.read();
            assertThat(reading.identity())
                    .isEqualTo(new Reading.Identity("sw-dunmere-1", "T2-48", "", "TA-10219"));
            assertThat(reading.components()).isEqualTo(Map.of("system", "5.4.3", "loader", "1.4"));
            assertThat(reading.boot())
                    .isEqualTo(
                            new Reading.BootChoice(
                                    "t2-5.4.3-48.bin", "t2-5.4.3-48.bin", "t2-5.4.1-48.bin", true));
            assertThat(reading.members())
                    .extracting(
                            PartShown::name,
                            PartShown::role,
                            PartShown::state,
                            m -> m.part().serial(),
                            m -> m.runs("loader"),
                            PartShown::mark)
                    .containsExactly(
                            org.assertj.core.groups.Tuple.tuple(
                                    "1", "active", "in sync", "TA-10219", "1.4", "17 times"),
                            org.assertj.core.groups.Tuple.tuple(
                                    "2", "standby", "in sync", "TA-10219-2", "1.4", "17 times"),
                            org.assertj.core.groups.Tuple.tuple(
                                    "3", "standby", "in sync", "TA-10219-3", "1.4", "17 times"));
            assertThat(reading.imageVolumes())
                    .extracting(Reading.Volume::part)
                    .containsExactly("1", "2", "3");
            assertThat(reading.imageVolumes())
                    .allSatisfy(volume -> assertThat(volume.files()).hasSize(2));
            assertThat(reading.facts())
                    .contains(
                            new Reading.Fact("interface", "3/48", "up"),
                            new Reading.Fact("power", "on 2", "ok"),
                            new Reading.Fact("neighbour", "rt-dunmere-1", "up"));
            assertThat(night.talk).noneMatch(text -> text.contains("dunmere-reads"));
        }
    }

    @Test
    void movesTheLoaderFirstAndRestartsTheWholeStackWhereReleasesDoNotRunSideBySide()
            throws Exception {
        try (UnitNight night =
                UnitNight.slower(
                        folder, "tarnel-t2", "practice-switches.yaml", "sw-dunmere-1", "6.1.2")) {
            assertThat(night.plan.hops())
                    .extracting(hop -> hop.hop().step())
                    .containsExactlyInAnyOrder("loader 1.9", "5.6.0", "6.1.2");
            assertThat(night.plan.hops()).extracting(hop -> hop.atOnce()).containsOnly(0);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            Reading after = night.read();
            assertThat(after.members())
                    .hasSize(3)
                    .allSatisfy(
                            member -> {
                                assertThat(member.part().runs())
                                        .isEqualTo(Map.of("system", "6.1.2", "loader", "1.9"));
                                assertThat(member.state()).isEqualTo("in sync");
                                assertThat(member.mark())
                                        .as("one restart a hop")
                                        .isEqualTo("20 times");
                            });
            assertThat(after.waiting()).isEmpty();
        }
    }

    @Test
    void restartsMemberByMemberFromSixOneOnTheLeadLast() throws Exception {
        try (UnitNight night = night("sw-ostrand-1", "6.1.2")) {
            assertThat(night.plan.hops())
                    .singleElement()
                    .satisfies(hop -> assertThat(hop.atOnce()).isEqualTo(1));
            assertThat(night.plan.dark())
                    .as("the hand-over alone, not the restarts")
                    .isEqualTo(Duration.ofSeconds(8))
                    .isLessThan(night.plan.hop(1).hop().dark());
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(
                            night.told.stream()
                                    .filter(line -> line.startsWith("1 restart:"))
                                    .map(line -> line.substring("1 restart: ".length())))
                    .containsExactly(
                            "member 2 into 6.1.2 while the others serve, since 0 of 2 members run"
                                    + " it",
                            "member 1 hands over to member 2, which runs 6.1.2, since member 1 is"
                                    + " active and runs 6.1.0",
                            "member 1 into 6.1.2 while the others serve, since 1 of 2 members run"
                                    + " it");
            assertThat(night.read().members())
                    .extracting(PartShown::role, member -> member.runs("system"), PartShown::mark)
                    .containsExactly(
                            org.assertj.core.groups.Tuple.tuple("standby", "6.1.2", "18 times"),
                            org.assertj.core.groups.Tuple.tuple("active", "6.1.2", "18 times"));
        }
    }

    @Test
    void namesTheMemberThatDoesNotRejoinAndGoesOnWhenSomebodyHasMendedIt() throws Exception {
        try (UnitNight night = night("sw-eskholm-1", "5.6.0")) {
            night.fleet.add("sw-eskholm-1", Fault.DOES_NOT_REJOIN);
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at come-back");
            assertThat(night.trouble().orElseThrow().expected())
                    .isEqualTo("member 2 back in sync with the others");
            assertThat(night.trouble().orElseThrow().seen()).startsWith("member 2: away, after ");
            night.fleet.powerCycle("sw-eskholm-1", 2);
            Await.until(
                    Duration.ofSeconds(30),
                    "the member is back in sync",
                    () -> night.read().members().getLast().isInSync());
            night.retry();
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.read().members())
                    .extracting(member -> member.runs("system"))
                    .containsOnly("5.6.0");
        }
    }

    @Test
    void aMemberThatCameBackOnTheOldReleaseKeepsTheOthersAsTheyAre() throws Exception {
        try (UnitNight night = night("sw-ostrand-1", "6.1.2")) {
            night.fleet.add("sw-ostrand-1", Fault.STARTS_THE_OLD_IMAGE);
            assertThat(night.play()).as(night.story()).isEqualTo("stuck at restart");
            assertThat(night.trouble().orElseThrow().sentence())
                    .contains("member 2 runs 6.1.2 after its restart")
                    .contains("it came back on 6.1.0")
                    .contains("no other member is restarted");
            assertThat(night.fleet.member("sw-ostrand-1", 1).restarts()).isEmpty();
        }
    }

    @Test
    void makesRoomOnEveryMemberAndLeavesWhatNoCatalogueKnows() throws Exception {
        try (UnitNight night = night("sw-aldwick-pier-1", "5.4.3b")) {
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.told)
                    .anyMatch(
                            line ->
                                    line.startsWith(
                                            "1 make-room: 1,700,000 bytes free, since removing"
                                                    + " t2-5.4.3-48.bin"));
            assertThat(List.of(1, 2))
                    .allSatisfy(
                            number ->
                                    assertThat(
                                                    night.fleet
                                                            .member("sw-aldwick-pier-1", number)
                                                            .flash()
                                                            .files())
                                            .containsOnlyKeys(
                                                    "t2-5.2-48.bin",
                                                    "t2-5.4.1-48.bin",
                                                    "t2-5.4.3b-48.bin"));
        }
    }
}
