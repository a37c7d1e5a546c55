package calmstep.service.backups;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.core.fleet.InventoryText;
import calmstep.practice.Fault;
import calmstep.practice.PracticeFleet;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.jobs.Jobs;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Backups outside of runs, of a stand-in that is really spoken to. */
class BackupsAtAnyTimeTest {
    private static final String SETTINGS =
            "name %1$s\\npeople\\n  person steward secret 9c41d07be2\\nclock from 198.51.100.3";

    @TempDir private Path folder;

    private final Fleet fleet = RunningService.bean(Fleet.class);
    private final BackupStore store = RunningService.bean(BackupStore.class);
    private final TakeBackups takeBackups = RunningService.bean(TakeBackups.class);
    private final PutBack putBack = RunningService.bean(PutBack.class);
    private final Jobs jobs = RunningService.bean(Jobs.class);
    private final String device = RunningService.name("rt-kept");
    private final String login = RunningService.name("login");
    private PracticeFleet playing;

    @BeforeEach
    void play() throws Exception {
        String address = "127.79.2.%s".formatted(Math.floorMod(device.hashCode(), 250) + 1);
        Path file =
                Files.writeString(
                        folder.resolve("fleet.yaml"),
                        """
                        practice-fleet: 1
                        ssh-port: 18019
                        console-port: 18020
                        images: [{ file: a.img, family: osmer-r6, version: 2.6.3, revisions: [C], size-bytes: 20000 }]
                        machines:
                          - { name: %1$s, family: osmer-r6, address: %2$s, model: R6-4, revision: C, serial: S1, user: steward, password: word, files: [a.img], running: a.img, settings: "%3$s" }
                        """
                                .formatted(device, address, SETTINGS.formatted(device)));
        PracticeFleet.writeImages(file, folder.resolve("images"));
        playing = PracticeFleet.play(file, folder.resolve("images"), folder.resolve("state"));
        fleet.take(
                "i.yaml",
                RunningService.inventory(device, address)
                        .replace("login: steward", "login: " + login),
                InventoryText.Format.YAML,
                false,
                "test");
        RunningService.bean(Logins.class).set(login, "steward", "word", "test");
    }

    @AfterEach
    void stop() {
        playing.close();
    }

    private Jobs.JobView taken(String... devices) throws InterruptedException {
        long job = takeBackups.start(List.of(devices), "mara");
        Await.until(
                Duration.ofSeconds(30),
                "the backups are taken",
                () -> !jobs.require(job).state().equals("under-way"));
        return jobs.require(job);
    }

    @Test
    void areTakenReadBackComparedAndPutBack() throws Exception {
        assertThat(taken(device).failed()).isZero();
        List<BackupStore.BackupView> kept = store.ofDevice(device);
        assertThat(kept)
                .extracting(BackupStore.BackupView::kind)
                .containsExactlyInAnyOrder("running", "startup");
        long running =
                kept.stream()
                        .filter(b -> b.kind().equals("running"))
                        .findFirst()
                        .orElseThrow()
                        .id();
        assertThat(putBack.withRunning(device, running).isSame()).isTrue();

        playing.machine(device).changeSettings("person stranger secret 0badc0de00");
        assertThat(putBack.withRunning(device, running).added())
                .containsExactly("person stranger secret ••••••");
        assertThat(taken(device).failed()).isZero();
        long newer =
                store.ofDevice(device).stream()
                        .filter(b -> b.kind().equals("running"))
                        .findFirst()
                        .orElseThrow()
                        .id();
        assertThat(store.compare(device, running, newer).added())
                .containsExactly("person stranger secret ••••••");
        assertThat(store.compare(device, newer, running).dropped()).hasSize(1);

        assertThat(putBack.put(device, running, "mara").isSame()).isTrue();
        assertThat(putBack.withRunning(device, running).isSame()).isTrue();
        assertThat(
                        RunningService.sql()
                                .queryForList(
                                        "select text from event where subject = ?",
                                        String.class,
                                        device))
                .anyMatch(text -> text.contains("was put back on " + device));
        assertThatThrownBy(() -> putBack.put(device, running + 1_000_000, "mara"))
                .hasMessageContaining("no backup");
    }

    @Test
    void keepBothConfigurationsOrNoneAndSayWhy() throws Exception {
        playing.add(device, Fault.REFUSES_THE_PASSWORD);
        String silent = RunningService.router();
        Jobs.JobView job = taken(device, silent);
        assertThat(job.failed()).isEqualTo(2);
        assertThat(job.troubles())
                .anySatisfy(
                        line ->
                                assertThat(line)
                                        .startsWith(device + ": ")
                                        .contains("refuses the user or the password"))
                .anySatisfy(line -> assertThat(line).startsWith(silent + ": "));
        assertThat(store.ofDevice(device)).isEmpty();
    }
}
