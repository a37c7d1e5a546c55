package calmstep.core.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What single looks say when the device is not as it should be. */
class StepLooksTest {
    private static final Instant NOW = Instant.parse("2026-11-23T02:10:00Z");
    private static final String DIGEST = "d".repeat(64);

    private final DeviceInMemory device = new DeviceInMemory(DIGEST);
    private String serial = "S1";
    private String from = "0";
    private Optional<Intent> intent = Optional.empty();
    private Optional<Intent> restart = Optional.empty();
    private Instant now = NOW;
    private int pace = 1;

    private Scene scene() {
        FirmwareImage image =
                new FirmwareImage("v1.img", 100, DIGEST, Purpose.UPGRADE, Variant.ANY);
        Hop hop =
                new Hop(
                        "system",
                        from,
                        "1",
                        List.of(image),
                        List.of(),
                        List.of(),
                        1,
                        Duration.ofMinutes(4),
                        Effect.Configuration.KEPT,
                        true,
                        List.of(),
                        List.of());
        UnitPlan plan =
                new UnitPlan(
                        "rt",
                        "s",
                        "192.0.2.1",
                        Optional.of(NOW),
                        serial,
                        Hardware.UNKNOWN,
                        Digests.sha256("settings"),
                        false,
                        "",
                        Duration.ofMinutes(20),
                        10,
                        UnitPlan.Supply.SHELF,
                        Set.of("v0.img", "v1.img"),
                        Set.of(),
                        Set.of(),
                        List.of(new HopPlan(1, hop, UnitPlan.stepsOf(hop, true))));
        device.now = now;
        return new Scene(
                plan,
                plan.hop(1),
                0,
                device,
                Optional.empty(),
                device.backups,
                new ShelfInMind(),
                intent,
                restart,
                drained,
                before,
                Optional.empty(),
                Optional.empty(),
                now,
                pace,
                Around.NOTHING,
                (_, _) -> new ConfigurationComparison(List.of(), List.of()));
    }

    private Scene.Drained drained = Scene.Drained.NO;
    private Optional<Reading> before = Optional.empty();

    private Looked look(StepName step) {
        return Steps.of(step, scene()).look(scene());
    }

    private void isImpossible(StepName step, String expected, String seen) {
        assertThat(look(step))
                .asInstanceOf(type(Looked.Impossible.class))
                .satisfies(
                        impossible -> {
                            assertThat(impossible.trouble().expected()).contains(expected);
                            assertThat(impossible.trouble().seen()).contains(seen);
                            assertThat(impossible.trouble().remedy()).isNotBlank();
                        });
    }

    @Test
    void anotherBoxAtTheAddressIsNotTouched() {
        serial = "S9";
        isImpossible(StepName.CHECK, "serial number S9", "serial number S1");
    }

    @Test
    void aDeviceThatSomebodyMovedIsNotTouched() {
        from = "7";
        isImpossible(StepName.CHECK, "it runs 7", "it runs 0");
    }

    @Test
    void aBootChoiceThatSomebodyChangedKeepsTheRestartBack() {
        device.files.put("v1.img", DIGEST);
        isImpossible(StepName.RESTART, "next v1.img, saved, before the restart", "next v0.img");
        device.next = "v1.img";
        assertThat(look(StepName.RESTART))
                .asInstanceOf(type(Looked.ToDo.class))
                .satisfies(toDo -> assertThat(toDo.mark()).contains("start 0"));
    }

    @Test
    void aDeviceWhoseTrafficCameBackIsDrainedOnceMoreBeforeItRestarts() {
        drained = Scene.Drained.PROVEN;
        assertThatThrownBy(() -> Steps.of(StepName.RESTART, scene()).act(scene()))
                .isInstanceOf(DeviceTrouble.class)
                .hasMessageContaining("12 flows");
        assertThat(device.restarts).isZero();
        Steps.of(StepName.RESTART, scene()).act(scene());
        assertThat(device.restarts).as("it holds now").isEqualTo(1);
    }

    @Test
    void whoeverDrainsIsNotAskedWithoutPause() {
        intent = Optional.of(new Intent(NOW.minusSeconds(60), "drain "));
        assertThat(look(StepName.DRAIN))
                .isEqualTo(new Looked.NotYet("12 flows, for 1 min", Duration.ofSeconds(5)));
    }

    @Test
    void onlyWhatWeDrainedIsLetCarryItsTrafficAgain() {
        device.drained = true;
        assertThat(look(StepName.DRAIN)).isInstanceOf(Looked.NotNeeded.class);
        assertThat(look(StepName.UN_DRAIN))
                .as("somebody else drained it")
                .isInstanceOf(Looked.NotNeeded.class);
        drained = Scene.Drained.TOLD;
        assertThat(look(StepName.UN_DRAIN)).isInstanceOf(Looked.ToDo.class);
    }

    @Test
    void anIntentIsNeverRepeatedWhileTheDeviceMayStillCarryItOut() {
        device.next = "v1.img";
        intent = Optional.of(new Intent(NOW.minusSeconds(119), "start 0"));
        assertThat(look(StepName.RESTART)).isInstanceOf(Looked.NotYet.class);
        intent = Optional.of(new Intent(NOW.minusSeconds(121), "start 0"));
        assertThat(look(StepName.RESTART)).isInstanceOf(Looked.ToDo.class);
        pace = 60;
        intent = Optional.of(new Intent(NOW.minusSeconds(3), "start 0"));
        assertThat(look(StepName.RESTART))
                .as("two minutes of the device's clock are two seconds of ours")
                .isInstanceOf(Looked.ToDo.class);
        device.restarts = 1;
        assertThat(look(StepName.RESTART))
                .as("it has started since")
                .isInstanceOf(Looked.Shown.class);
        device.backAt = NOW.plusSeconds(60);
        assertThat(look(StepName.RESTART)).as("it is on its way").isInstanceOf(Looked.Shown.class);
    }

    @Test
    void saysLateWhenLateAndGivesUpWhenHopeless() {
        device.restarts = 1;
        device.backAt = NOW.plus(Duration.ofDays(1));
        restart = Optional.of(new Intent(NOW.minusSeconds(180), "start 0"));
        assertThat(look(StepName.COME_BACK))
                .asInstanceOf(type(Looked.NotYet.class))
                .satisfies(
                        n -> assertThat(n.seen()).isEqualTo("no answer for 3 min, normally 4 min"));
        restart = Optional.of(new Intent(NOW.minusSeconds(300), "start 0"));
        assertThat(look(StepName.COME_BACK))
                .asInstanceOf(type(Looked.NotYet.class))
                .satisfies(n -> assertThat(n.seen()).startsWith("late: "));
        restart = Optional.of(new Intent(NOW.minusSeconds(1201), "start 0"));
        isImpossible(StepName.COME_BACK, "given up after 20 min", "no answer");
    }

    @Test
    void aReleaseThatRunsFromMemoryOnlyIsNotProven() {
        device.files.put("v1.img", DIGEST);
        device.release = "1";
        device.running = "v1.img";
        isImpossible(StepName.PROVE, "next v1.img, saved", "next v0.img");
        device.next = "v1.img";
        assertThat(look(StepName.PROVE)).isInstanceOf(Looked.Shown.class);
        device.running = "v0.img";
        isImpossible(StepName.PROVE, "it runs 1 from v1.img", "it runs 1, from v0.img");
    }

    @Test
    void aBackupThatReadsBackDifferentlyIsNoBackup() {
        BackUpConfiguration step = new BackUpConfiguration();
        step.act(scene());
        assertThat(step.prove(scene())).isInstanceOf(Proof.Proven.class);
        assertThat(look(StepName.BACK_UP))
                .as("not pulled twice")
                .isInstanceOf(Looked.NotNeeded.class);
        device.backups.forge("something else");
        assertThat(step.prove(scene()))
                .asInstanceOf(type(Proof.Unproven.class))
                .satisfies(
                        unproven ->
                                assertThat(unproven.trouble().remedy())
                                        .contains("before anything is restarted"));
    }

    /** Else nothing would be left to fall back to, and what was is tidied away. */
    @Test
    void aChoiceThatIsToldOnceMoreKeepsTheWayBackWhereTheNewImageRunsAlready() {
        before = Optional.of(device.read());
        device.files.put("v1.img", DIGEST);
        device.running = "v1.img";
        device.next = "v1.img";
        Steps.of(StepName.CHOOSE_BOOT, scene()).act(scene());
        assertThat(device.fallback).isEqualTo("v0.img");
    }

    @Test
    void tidyingKeepsWhatIsProtectedAndWhatIsUnknown() {
        device.files.put("v1.img", DIGEST);
        device.files.put("notes.txt", "");
        device.running = "v1.img";
        device.next = "v1.img";
        device.fallback = "v0.img";
        assertThat(look(StepName.TIDY)).isInstanceOf(Looked.NotNeeded.class);
        device.fallback = "";
        assertThat(look(StepName.TIDY))
                .asInstanceOf(type(Looked.ToDo.class))
                .satisfies(toDo -> assertThat(toDo.seen()).isEqualTo("no longer needed: v0.img"));
    }
}
