package calmstep.core.step;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.path.Hop;
import calmstep.core.step.StackInMemory.Member;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/**
 * Stacks whose members restart one after the other, with crashes of ours wherever the journal can
 * be cut off, lost orders and members that stay out.
 */
class RollMembersTest {
    private static final Instant START = Instant.parse("2026-11-23T02:00:00Z");
    private static final int SEEDS = Sweep.count(100, 400);
    private static final Duration GIVES_UP = Duration.ofMinutes(20);

    private StackInMemory stack = new StackInMemory(3, 0);
    private Random random = new Random(1);
    private Optional<Intent> intent = Optional.empty();
    private Set<StepName> further = Set.of();
    private Set<String> without = Set.of();
    private Scene.Drained drained = Scene.Drained.NO;
    private int writesUntilCrash = Integer.MAX_VALUE;

    private static final class Crash extends RuntimeException {}

    private static Hop hop() {
        FirmwareImage image =
                new FirmwareImage("new.img", 100, "c".repeat(64), Purpose.UPGRADE, Variant.ANY);
        return new Hop(
                "system",
                "old",
                "new",
                List.of(image),
                List.of(),
                List.of(),
                1,
                Duration.ofMinutes(4),
                Effect.Configuration.KEPT,
                true,
                List.of(),
                List.of());
    }

    private Scene scene(int atOnce) {
        Hop hop = hop();
        UnitPlan plan =
                new UnitPlan(
                        "sw",
                        "s",
                        "192.0.2.1",
                        Optional.of(START),
                        "S1",
                        Hardware.UNKNOWN,
                        "",
                        false,
                        "",
                        GIVES_UP,
                        10,
                        UnitPlan.Supply.SHELF,
                        Set.of(),
                        Set.of(),
                        Set.of(),
                        List.of(
                                new HopPlan(
                                        1,
                                        hop,
                                        UnitPlan.stepsOf(hop, true, further),
                                        atOnce,
                                        hop.dark().toSeconds(),
                                        0)));
        return new Scene(
                plan.goingOnWithout(without),
                plan.hop(1),
                0,
                stack,
                Optional.empty(),
                new DeviceInMemory.Kept(),
                new ShelfInMind(),
                intent,
                intent,
                drained,
                Optional.of(stack.atFirst),
                Optional.of(stack.atFirst),
                Optional.empty(),
                stack.now,
                1,
                Around.NOTHING,
                (_, _) -> new ConfigurationComparison(List.of(), List.of()));
    }

    private final Journal journal =
            new Journal() {
                private void write() {
                    if (--writesUntilCrash < 0) {
                        writesUntilCrash = Integer.MAX_VALUE;
                        throw new Crash();
                    }
                }

                @Override
                public void looking() {
                    write();
                }

                @Override
                public void acting(Intent written, String expected, String seen) {
                    write();
                    intent = Optional.of(written);
                }

                @Override
                public void proving() {
                    write();
                }
            };

    /** Carries a step until it says something for good. */
    private StepOutcome play(StepName step, int atOnce) {
        for (int round = 0; round < 20_000; round++) {
            stack.pass(Duration.ofSeconds(1));
            if (random.nextInt(40) == 0) {
                writesUntilCrash = random.nextInt(3);
            }
            try {
                StepOutcome outcome =
                        new StepRunner(Clock.fixed(stack.now, ZoneOffset.UTC))
                                .carry(step, scene(atOnce), journal);
                boolean again =
                        outcome instanceof StepOutcome.Waiting
                                || (outcome instanceof StepOutcome.Failed failed
                                        && failed.hope() != Hope.NONE);
                if (!again) {
                    return outcome;
                }
            } catch (Crash another) {
                assertThat(stack.now).isAfter(START);
            }
        }
        throw new AssertionError("not over: " + stack.told);
    }

    @Test
    void restartsEachMemberOnceTheActiveOneLastAndNeverMoreThanMayBeOut() {
        for (int seed = 0; seed < SEEDS; seed++) {
            Random drawn = new Random(seed);
            int members = 2 + drawn.nextInt(4);
            int atOnce = 1 + drawn.nextInt(members - 1);
            StackInMemory played = new StackInMemory(members, drawn.nextInt(members));
            played.losesOrders = drawn.nextInt(3);
            String activeAtFirst = played.active().name;
            RollMembersTest night = new RollMembersTest();
            night.stack = played;
            night.random = drawn;
            assertThat(night.play(StepName.RESTART, atOnce))
                    .as("seed %s: %s", seed, played.told)
                    .isInstanceOf(StepOutcome.Done.class);
            assertThat(night.play(StepName.COME_BACK, atOnce)).isInstanceOf(StepOutcome.Done.class);
            assertThat(played.members)
                    .as("seed %s: %s", seed, played.told)
                    .allSatisfy(member -> assertThat(member.release).isEqualTo("new"));
            assertThat(played.members)
                    .as("seed %s: each restarted once: %s", seed, played.told)
                    .extracting(member -> member.restarts)
                    .containsOnly(1);
            assertThat(played.mostOut)
                    .as("seed %s: %s", seed, played.told)
                    .isLessThanOrEqualTo(atOnce);
            assertThat(played.order).as("seed %s", seed).endsWith(activeAtFirst);
            assertThat(played.restartedWhileActive).as("seed %s: %s", seed, played.told).isFalse();
        }
    }

    private static final Set<StepName> DRAINS =
            Set.of(
                    StepName.RESTART_STANDBYS,
                    StepName.DRAIN,
                    StepName.RESTORE_ROLES,
                    StepName.UN_DRAIN);

    /** Plays a step as one of a night: with an intent of its own. */
    private void playNext(StepName step) {
        intent = Optional.empty();
        assertThat(play(step, 1))
                .as("%s: %s", step, stack.told)
                .isInstanceOfAny(StepOutcome.Done.class, StepOutcome.NotNeeded.class);
    }

    @Test
    void handsOverOnlyWhatIsDrainedAndLeavesTheRolesAsTheyWere() {
        for (int seed = 0; seed < SEEDS; seed++) {
            Random drawn = new Random(seed);
            int members = 2 + drawn.nextInt(3);
            StackInMemory played = new StackInMemory(members, drawn.nextInt(members));
            String activeAtFirst = played.active().name;
            RollMembersTest night = new RollMembersTest();
            night.stack = played;
            night.random = drawn;
            night.further = DRAINS;
            played.losesOrders = drawn.nextInt(3);
            night.playNext(StepName.RESTART_STANDBYS);
            assertThat(played.order)
                    .as("seed %s: %s", seed, played.told)
                    .hasSize(members - 1)
                    .doesNotContain(activeAtFirst);
            night.playNext(StepName.DRAIN);
            night.drained = Scene.Drained.PROVEN;
            if (drawn.nextBoolean()) {
                played.told.add("somebody undoes it");
                played.undrain();
            }
            night.playNext(StepName.RESTART);
            night.playNext(StepName.COME_BACK);
            night.playNext(StepName.RESTORE_ROLES);
            night.playNext(StepName.UN_DRAIN);
            assertThat(played.members)
                    .as("seed %s: %s", seed, played.told)
                    .allSatisfy(member -> assertThat(member.release).isEqualTo("new"))
                    .allSatisfy(member -> assertThat(member.restarts).isEqualTo(1));
            assertThat(played.cutsTrafficOff).as("seed %s: %s", seed, played.told).isFalse();
            assertThat(played.active().name).isEqualTo(activeAtFirst);
            assertThat(played.whyNotCarrying()).as("seed %s: %s", seed, played.told).isEmpty();
        }
    }

    @Test
    void asksAPersonWhereTrafficDoesNotGoAway() {
        further = DRAINS;
        stack.drainsIn = Duration.ofDays(9);
        playNext(StepName.RESTART_STANDBYS);
        intent = Optional.empty();
        assertThat(play(StepName.DRAIN, 1))
                .isInstanceOfSatisfying(
                        StepOutcome.Failed.class,
                        failed -> {
                            assertThat(failed.trouble().expected())
                                    .isEqualTo("nothing goes over member 1 within 20 min");
                            assertThat(failed.trouble().seen()).isEqualTo("40 flows over 1");
                        });
        assertThat(stack.order).as("the active one is left alone").doesNotContain("1");
        drained = Scene.Drained.TOLD;
        intent = Optional.empty();
        assertThat(play(StepName.RESTART, 1))
                .as("a person left it out")
                .isInstanceOf(StepOutcome.Done.class);
        playNext(StepName.UN_DRAIN);
        assertThat(stack.whyNotCarrying()).isEmpty();
    }

    @Test
    void stopsAtTheFirstMemberThatDoesNotRejoinAndNamesIt() {
        stack.staysOut = "2";
        assertThat(play(StepName.RESTART, 1))
                .isInstanceOfSatisfying(
                        StepOutcome.Failed.class,
                        failed -> {
                            assertThat(failed.trouble().expected())
                                    .isEqualTo("member 2 back in sync with the others");
                            assertThat(failed.trouble().seen())
                                    .startsWith("member 2: away, after 20 min");
                        });
        assertThat(stack.order).as("member 1 was left alone").containsExactly("3", "2");
        Member member = stack.members.get(1);
        stack.rejoin(member);
        assertThat(play(StepName.RESTART, 1))
                .as("it goes on where it stopped")
                .isInstanceOf(StepOutcome.Done.class);
        assertThat(stack.members).extracting(m -> m.restarts).containsOnly(1);
    }

    /** Whoever is gone on without is neither restarted nor handed over to, as long as it is out. */
    @Test
    void goesOnWithoutAMemberAndBringsItAlongOnceItIsBack() {
        for (int seed = 0; seed < SEEDS; seed++) {
            Random drawn = new Random(seed);
            int members = 3 + drawn.nextInt(3);
            StackInMemory played = new StackInMemory(members, drawn.nextInt(members));
            RollMembersTest night = new RollMembersTest();
            night.stack = played;
            night.random = drawn;
            played.losesOrders = drawn.nextInt(3);
            int missed = drawn.nextInt(members);
            Member out =
                    played.members.get(missed == played.active ? (missed + 1) % members : missed);
            out.backAt = Instant.MAX;
            assertThat(night.play(StepName.RESTART, 1))
                    .isInstanceOfSatisfying(
                            StepOutcome.Failed.class,
                            failed ->
                                    assertThat(failed.trouble().membersOut())
                                            .containsExactly(out.name));
            night.without = Set.of(out.name);
            assertThat(night.play(StepName.RESTART, 1))
                    .as("seed %s: %s", seed, played.told)
                    .isInstanceOf(StepOutcome.Done.class);
            assertThat(played.order).doesNotContain(out.name).hasSize(members - 1);
            assertThat(played.active()).isNotEqualTo(out);
            assertThat(played.restartedWhileActive).as("seed %s", seed).isFalse();
            out.backAt = Instant.EPOCH;
            assertThat(night.play(StepName.RESTART, 1)).isInstanceOf(StepOutcome.Done.class);
            assertThat(played.members)
                    .as("seed %s: %s", seed, played.told)
                    .allSatisfy(member -> assertThat(member.release).isEqualTo("new"))
                    .allSatisfy(member -> assertThat(member.restarts).isEqualTo(1));
        }
    }

    @Test
    void stopsAtAMemberThatComesBackOnTheOldRelease() {
        stack.startsOld = "3";
        assertThat(play(StepName.RESTART, 1))
                .isInstanceOfSatisfying(
                        StepOutcome.Failed.class,
                        failed -> {
                            assertThat(failed.trouble().expected())
                                    .isEqualTo("member 3 runs new after its restart");
                            assertThat(failed.trouble().seen()).isEqualTo("it came back on old");
                        });
        assertThat(stack.order).containsExactly("3");
    }

    @Test
    void doesNotBeginWithAUnitThatIsNotWhole() {
        stack.members.get(2).backAt = Instant.MAX;
        assertThat(play(StepName.RESTART, 1))
                .isInstanceOfSatisfying(
                        StepOutcome.Failed.class,
                        failed ->
                                assertThat(failed.trouble().seen())
                                        .isEqualTo("member 3: away, after no restart of ours"));
        assertThat(stack.order).isEmpty();
    }
}
