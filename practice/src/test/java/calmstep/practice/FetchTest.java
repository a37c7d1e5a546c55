package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** How a stand-in pulls files when the source or the line misbehaves. */
class FetchTest {
    @TempDir private Path folder;

    private final byte[] file = new byte[10_000];
    private Machine machine;

    @BeforeEach
    void switchOn() throws Exception {
        new SplittableRandom(4).nextBytes(file);
        machine = machine(Set.of());
    }

    private Machine machine(Set<Fault> faults) throws Exception {
        Path images = Files.createDirectories(folder.resolve("images"));
        new PracticeImage("old.img", "osmer-r6", "system", "2.4.0", List.of("C"), "0", 4000)
                .write(images);
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
                        900_000,
                        List.of("old.img"),
                        Map.of(),
                        "old.img",
                        "",
                        Duration.ofSeconds(60),
                        100_000_000,
                        "name rt",
                        List.of(),
                        Map.of(),
                        Map.of(),
                        faults,
                        "none");
        Machine made =
                new Machine(
                        description,
                        Labels.NONE,
                        Files.createDirectories(folder.resolve("state-" + faults.size())),
                        images,
                        60);
        made.switchOn();
        return made;
    }

    /**
     * A source that speaks TFTP (RFC 1350) without options, and may lose what it is told to lose.
     */
    private final class Source implements AutoCloseable {
        private final DatagramSocket asked =
                new DatagramSocket(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0));
        private final Set<Integer> lost;

        Source(Set<Integer> lost) throws IOException {
            this.lost = new java.util.HashSet<>(lost);
            Thread.ofVirtual().start(this::serve);
        }

        URI uri(String name) {
            return URI.create("tftp://127.0.0.1:%s/%s".formatted(asked.getLocalPort(), name));
        }

        private void serve() {
            try (DatagramSocket transfer =
                    new DatagramSocket(
                            new InetSocketAddress(InetAddress.getLoopbackAddress(), 0))) {
                DatagramPacket request = new DatagramPacket(new byte[600], 600);
                asked.receive(request);
                String name =
                        new String(
                                        request.getData(),
                                        2,
                                        request.getLength() - 2,
                                        StandardCharsets.US_ASCII)
                                .split("\0")[0];
                if (!name.equals("new.img")) {
                    byte[] no = "\0\5\0\1no such file\0".getBytes(StandardCharsets.US_ASCII);
                    transfer.send(new DatagramPacket(no, no.length, request.getSocketAddress()));
                    return;
                }
                for (int block = 1; (block - 1) * 512 <= file.length; block++) {
                    byte[] data =
                            Arrays.copyOfRange(
                                    file, (block - 1) * 512, Math.min(file.length, block * 512));
                    byte[] packet = new byte[data.length + 4];
                    packet[1] = 3;
                    packet[2] = (byte) (block >> 8);
                    packet[3] = (byte) block;
                    System.arraycopy(data, 0, packet, 4, data.length);
                    DatagramPacket answer = new DatagramPacket(new byte[600], 600);
                    do {
                        if (!lost.remove(block)) {
                            transfer.send(
                                    new DatagramPacket(
                                            packet, packet.length, request.getSocketAddress()));
                            transfer.send(
                                    new DatagramPacket(
                                            packet, packet.length, request.getSocketAddress()));
                        }
                        transfer.receive(answer);
                    } while (((answer.getData()[2] & 0xff) << 8 | (answer.getData()[3] & 0xff))
                            != block);
                }
            } catch (IOException closed) {
                // Closed at the end of the test.
            }
        }

        @Override
        public void close() {
            asked.close();
        }
    }

    @Test
    void takesEveryByteThoughBlocksComeTwice() throws Exception {
        try (Source source = new Source(Set.of())) {
            assertThat(new Fetch(machine).fetch(source.uri("new.img"), "new.img"))
                    .isEqualTo("brought 10000 bytes");
        }
        assertThat(machine.flash().file("new.img")).hasBinaryContent(file);
    }

    @Test
    void aLostBlockIsAskedForAgain() throws Exception {
        try (Source source = new Source(Set.of(3))) {
            assertThat(new Fetch(machine).fetch(source.uri("new.img"), "new.img"))
                    .isEqualTo("brought 10000 bytes");
        }
        assertThat(machine.flash().file("new.img")).hasBinaryContent(file);
    }

    @Test
    void theSourcesRefusalIsSaidInItsWords() throws Exception {
        try (Source source = new Source(Set.of())) {
            assertThatThrownBy(() -> new Fetch(machine).fetch(source.uri("gone.img"), "gone.img"))
                    .hasMessage("the source says: no such file");
        }
    }

    @Test
    void aSourceThatHangsUpEarlyIsToldFromAWholeFile() throws Exception {
        try (ServerSocket source = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual()
                    .start(
                            () -> {
                                try (Socket socket = source.accept();
                                        OutputStream out = socket.getOutputStream()) {
                                    socket.getInputStream().read(new byte[400]);
                                    out.write(
                                            "HTTP/1.1 200 OK\r\nContent-Length: 10000\r\n\r\n"
                                                    .getBytes(StandardCharsets.US_ASCII));
                                    out.write(file, 0, 4_000);
                                } catch (IOException closed) {
                                    // Closed at the end of the test.
                                }
                            });
            URI uri = URI.create("http://127.0.0.1:%s/new.img".formatted(source.getLocalPort()));
            assertThatThrownBy(() -> new Fetch(machine).fetch(uri, "new.img"))
                    .hasMessage("cut after 4000 of 10000 bytes");
        }
        assertThat(machine.flash().files())
                .as("what came is there, as on a real device")
                .containsEntry("new.img", 4_000L);
    }

    @Test
    void aMachineBehindAFirewallReachesNothing() throws Exception {
        Machine cutOff = machine(Set.of(Fault.REACHES_NOTHING));
        URI uri = URI.create("http://127.0.0.1:9/new.img");
        assertThat(new Fetch(cutOff).whyNotReached(uri))
                .contains("no answer from 127.0.0.1 port 9");
        assertThatThrownBy(() -> new Fetch(cutOff).fetch(uri, "new.img"))
                .hasMessageContaining("no answer");
        assertThat(new Fetch(machine).whyNotReached(uri))
                .as("nobody listens")
                .contains("no answer from 127.0.0.1 port 9");
    }
}
