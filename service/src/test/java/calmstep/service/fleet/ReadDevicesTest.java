package calmstep.service.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.core.fleet.InventoryText;
import calmstep.service.RunningService;
import calmstep.service.jobs.Jobs;
import calmstep.service.jobs.Jobs.JobView;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class ReadDevicesTest {
    private final ReadDevices readDevices = RunningService.bean(ReadDevices.class);
    private final Jobs jobs = RunningService.bean(Jobs.class);
    private final Fleet fleet = RunningService.bean(Fleet.class);

    @BeforeEach
    void aLogin() {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
    }

    private JobView await(long job, Predicate<JobView> reached) throws InterruptedException {
        return Await.until(
                Duration.ofSeconds(30),
                "the job has come that far",
                () -> jobs.require(job),
                reached);
    }

    @Test
    void devicesThatDoNotAnswerAreCountedAndKeptAsSilentWithTheReason() throws Exception {
        List<String> routers = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            routers.add(RunningService.router());
        }
        JobView done = await(readDevices.start(routers, "mara"), j -> j.state().equals("finished"));
        assertThat(List.of(done.total(), done.done(), done.failed())).containsExactly(5, 5, 5);
        for (String router : routers) {
            assertThat(fleet.require(router).silent())
                    .hasValueSatisfying(
                            s -> {
                                assertThat(s.expected()).isNotBlank();
                                assertThat(s.seen()).contains("refused");
                                assertThat(s.remedy()).isNotBlank();
                            });
        }
    }

    @Test
    void aNameThatIsNotInTheFleetRefusesTheWholeSelectionBeforeAnyIsAsked() {
        String router = RunningService.router();
        assertThatThrownBy(() -> readDevices.start(List.of(router, "rt-nowhere"), "mara"))
                .hasMessageContaining("rt-nowhere");
        assertThat(fleet.require(router).silent()).isEmpty();
    }

    @Test
    void aCancelledJobAsksNoMoreDevicesAndSaysSo() throws Exception {
        try (ServerSocket mute = new ServerSocket()) {
            mute.bind(new InetSocketAddress(InetAddress.getByName("127.79.0.1"), 18019));
            List<String> routers = new ArrayList<>();
            String stuck = RunningService.name("rt-mute");
            fleet.take(
                    "i.yaml",
                    RunningService.inventory(stuck, "127.79.0.1"),
                    InventoryText.Format.YAML,
                    false,
                    "test");
            routers.add(stuck);
            for (int i = 0; i < 3; i++) {
                routers.add(RunningService.router());
            }
            long job = readDevices.start(routers, "mara");
            await(job, j -> j.done() >= 3);
            jobs.cancel(job);
            assertThat(jobs.require(job).state()).isEqualTo("cancelled");
            jobs.cancel(job);
            mute.accept().close();
            JobView ended = await(job, j -> j.done() == 4);
            assertThat(ended.state())
                    .as("its end does not overwrite the cancelling")
                    .isEqualTo("cancelled");
        } catch (IOException broken) {
            throw new AssertionError(broken);
        }
    }

    /** Counts how many are connected at once at an address that takes calls and says nothing. */
    private static final class Crowd implements AutoCloseable {
        private final ServerSocket door = new ServerSocket();
        private final List<java.net.Socket> inside =
                java.util.Collections.synchronizedList(new ArrayList<>());

        Crowd(String address) throws IOException {
            door.bind(new InetSocketAddress(InetAddress.getByName(address), 18019));
            Thread.ofVirtual()
                    .start(
                            () -> {
                                while (!door.isClosed()) {
                                    try {
                                        inside.add(door.accept());
                                    } catch (IOException closed) {
                                        return;
                                    }
                                }
                            });
        }

        @Override
        public void close() throws IOException {
            door.close();
            for (java.net.Socket socket : inside) {
                socket.close();
            }
        }
    }

    @Test
    void onlyAFewDevicesOfOneSiteAreAskedAtOnce() throws Exception {
        List<String> routers = new ArrayList<>();
        List<Crowd> crowds = new ArrayList<>();
        String site = RunningService.name("site");
        try {
            for (int i = 0; i < 12; i++) {
                String name = RunningService.name("rt-crowd");
                String address = "127.79.1.%s".formatted(i + 1);
                fleet.take(
                        "i.yaml",
                        RunningService.inventory(name, address).replace("dunmere", site),
                        InventoryText.Format.YAML,
                        false,
                        "test");
                crowds.add(new Crowd(address));
                routers.add(name);
            }
            long job = readDevices.start(routers, "mara");
            Await.until(
                    Duration.ofSeconds(30),
                    "eight devices are being asked",
                    () -> crowds.stream().mapToInt(c -> c.inside.size()).sum() >= 8);
            Await.pass(Duration.ofMillis(300), "no ninth device is asked");
            assertThat(crowds.stream().mapToInt(c -> c.inside.size()).sum())
                    .as("devices asked while none has answered")
                    .isEqualTo(8);
            jobs.cancel(job);
            for (Crowd crowd : crowds) {
                crowd.close();
            }
            await(job, j -> j.done() == 12 || j.state().equals("cancelled"));
        } finally {
            for (Crowd crowd : crowds) {
                crowd.close();
            }
        }
    }
}
