package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Machines that no fleet file describes: made of what somebody read, with images that have no
 * header of ours.
 */
class StandInsTest {
    private static final int PACE = 600;

    private Path folder = Path.of("");
    private Path images = Path.of("");

    @BeforeEach
    void images() throws IOException {
        folder = Files.createTempDirectory("stand-ins");
        images = Files.createDirectories(folder.resolve("images"));
        PracticeFleet.makeImage(
                images, "old.img", "osmer-r6", "2.4.0", List.of("C"), 4_000, "", "");
        Files.write(
                images.resolve("real.img"),
                "a maker's own bytes".getBytes(java.nio.charset.StandardCharsets.UTF_8));
    }

    private Labels labels() {
        return new Labels(
                List.of(
                        new Labels.Label(
                                Flash.sha256(images.resolve("real.img")).orElseThrow(),
                                "osmer-r6",
                                "system",
                                "2.8.2",
                                List.of("C"),
                                "")));
    }

    private Machine machine(Labels labels, Fault... faults) throws IOException {
        Set<Fault> all = faults.length == 0 ? Set.of() : EnumSet.copyOf(List.of(faults));
        MachineDescription description =
                new MachineDescription(
                        "rt",
                        "osmer-r6",
                        "127.0.0.1",
                        "R6-4",
                        "C",
                        "S",
                        "u",
                        "p",
                        1_000_000,
                        List.of("old.img", "real.img"),
                        Map.of("core.dump", 500_000L),
                        "old.img",
                        "old.img",
                        Duration.ofMinutes(10),
                        100_000,
                        "name rt",
                        List.of(),
                        Map.of(),
                        Map.of(),
                        Set.of(),
                        "none",
                        Map.of("real.img", Duration.ofMinutes(3)),
                        Map.of(),
                        MachineDescription.Members.ALONE,
                        MachineDescription.Outfit.NONE);
        Machine machine =
                new Machine(
                        description,
                        labels,
                        Files.createDirectories(
                                folder.resolve("state-" + all.size() + labels.hashCode())),
                        images,
                        PACE);
        machine.switchOn();
        all.forEach(machine::add);
        return machine;
    }

    private static Duration until(BooleanSupplier reached) throws InterruptedException {
        Instant begun = Instant.now();
        Await.until(Duration.ofSeconds(10), "the machine is so far", reached::getAsBoolean);
        return Duration.between(begun, Instant.now());
    }

    private static Duration restart(Machine machine) throws InterruptedException {
        machine.choose("real.img", "old.img");
        machine.keepChoice();
        // Counted from before it is told: a busy machine may let us wait behind that.
        long told = System.nanoTime();
        machine.restart();
        assertThat(machine.isBusy()).isTrue();
        until(() -> machine.power() == Machine.Power.RUNNING);
        return Duration.ofNanos(System.nanoTime() - told);
    }

    @Test
    void anImageWithoutAHeaderIsKnownByItsBytesAlone() throws Exception {
        assertThat(labels().check(images.resolve("real.img")).image())
                .hasValueSatisfying(image -> assertThat(image.version()).isEqualTo("2.8.2"));
        assertThat(labels().check(images.resolve("old.img")).image())
                .as("one with a header says itself what it is")
                .hasValueSatisfying(image -> assertThat(image.version()).isEqualTo("2.4.0"));
        Files.write(
                images.resolve("real.img"),
                "b maker's own bytes".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        assertThat(
                        new Labels(
                                        List.of(
                                                new Labels.Label(
                                                        "0".repeat(64),
                                                        "osmer-r6",
                                                        "system",
                                                        "2.8.2",
                                                        List.of("C"),
                                                        "")))
                                .check(images.resolve("real.img"))
                                .problem())
                .contains("no image header");
    }

    @Test
    void startsTheReleaseOfTheLabelAndTheOldOneWhereNobodyKnowsTheImage() throws Exception {
        Machine known = machine(labels());
        restart(known);
        assertThat(known.release()).isEqualTo("2.8.2");
        Machine unknown = machine(Labels.NONE);
        restart(unknown);
        assertThat(unknown.release()).as("its boot loader fell back").isEqualTo("2.4.0");
    }

    @Test
    void takesTheImagesOwnTimeToStartAndThreeTimesThatWhereItIsSlow() throws Exception {
        Duration own = restart(machine(labels()));
        assertThat(own).as("3 min, 600 times faster").isGreaterThan(Duration.ofMillis(150));
        Duration slow = restart(machine(labels(), Fault.STARTS_SLOWLY));
        assertThat(slow).isGreaterThan(Duration.ofMillis(700));
    }

    @Test
    void copiesTakeTenTimesAsLongOverASlowLink() throws Exception {
        Machine machine = machine(labels());
        Duration usual = machine.copyTime(60_000_000);
        machine.add(Fault.SLOW_LINK);
        assertThat(machine.copyTime(60_000_000)).isEqualTo(usual.multipliedBy(10));
    }

    @Test
    void filesThatAreNoImagesTakeRoomWithoutTakingOurs() throws Exception {
        Machine machine = machine(labels());
        assertThat(machine.flash().files()).containsEntry("core.dump", 500_000L);
        assertThat(machine.flash().freeBytes())
                .isEqualTo(1_000_000L - 500_000 - 4_000 - Files.size(images.resolve("real.img")));
    }

    @Test
    void everyFaultHasASentenceAndIsFoundByItsName() {
        for (Fault fault : Fault.values()) {
            assertThat(Fault.parse(fault.toString())).isEqualTo(fault);
            assertThat(fault.sentence()).isNotBlank();
        }
    }
}
