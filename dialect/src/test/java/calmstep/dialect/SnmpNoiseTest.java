package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.device.DeviceTrouble;
import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.Map;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/**
 * An agent whose datagrams are noise, or its answers with bytes turned, cut off or too many: we get
 * an answer or trouble in plain words, soon.
 */
class SnmpNoiseTest {
    private static final int SEEDS = 80;

    /** Answers each request with what a careless or hostile agent might. */
    private record Agent(DatagramSocket socket, SplittableRandom random) implements Runnable {
        @Override
        public void run() {
            byte[] buffer = new byte[65_535];
            while (!socket.isClosed()) {
                DatagramPacket request = new DatagramPacket(buffer, buffer.length);
                try {
                    socket.receive(request);
                    byte[] answer = answer(Arrays.copyOf(buffer, request.getLength()));
                    socket.send(
                            new DatagramPacket(answer, answer.length, request.getSocketAddress()));
                } catch (IOException closed) {
                    return;
                }
            }
        }

        private byte[] answer(byte[] request) {
            if (random.nextInt(6) == 0) {
                byte[] noise = new byte[random.nextInt(1, 1_400)];
                random.nextBytes(noise);
                return noise;
            }
            // Version 2c: sequence, version, community, then the kind of the message: a response.
            byte[] answer = request.clone();
            int community = 5 + (request[1] & 0x80) / 0x80 * (request[1] & 0x7f);
            answer[community + 2 + request[community + 1]] = (byte) 0xa2;
            for (int turned = random.nextInt(4); turned > 0; turned--) {
                answer[random.nextInt(answer.length)] = (byte) random.nextInt();
            }
            return switch (random.nextInt(5)) {
                case 0 -> Arrays.copyOf(answer, random.nextInt(1, answer.length));
                case 1 -> Arrays.copyOf(answer, answer.length + random.nextInt(1, 900));
                default -> answer;
            };
        }
    }

    @Test
    void endsInAnAnswerOrInTrouble() throws Exception {
        Dialect dialect =
                DialectText.read(
                        "skelda-l4.yaml",
                        Files.readString(Path.of("../demo/dialects/skelda-l4.yaml")));
        Map<DeviceTrouble.Kind, Integer> ends = new EnumMap<>(DeviceTrouble.Kind.class);
        for (int seed = 0; seed < SEEDS; seed++) {
            try (DatagramSocket socket = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
                Thread.ofVirtual().start(new Agent(socket, new SplittableRandom(seed)));
                long began = System.nanoTime();
                SnmpAsk.Device agent =
                        SnmpAsk.as(new SnmpLogin.Community("reads"), Duration.ofMillis(100))
                                .device("127.0.0.1", socket.getLocalPort());
                try (DialectSession session =
                        new DialectSession(
                                dialect,
                                new ObjectExchange(dialect, agent, Talk.NONE, "noisy"),
                                Clock.systemUTC())) {
                    session.read();
                } catch (DeviceTrouble trouble) {
                    assertThat(trouble.trouble().sentence())
                            .as("seed %s", seed)
                            .startsWith("Expected: ")
                            .contains("Seen: ")
                            .hasSizeLessThan(1_000);
                    ends.merge(trouble.kind(), 1, Integer::sum);
                }
                assertThat(Duration.ofNanos(System.nanoTime() - began))
                        .as("seed %s", seed)
                        .isLessThan(Duration.ofSeconds(20));
            }
        }
        assertThat(ends.values().stream().mapToInt(Integer::intValue).sum())
                .as("%s", ends)
                .isGreaterThan(SEEDS / 2);
        assertThat(ends).containsKey(DeviceTrouble.Kind.NO_ANSWER).hasSizeGreaterThan(1);
    }
}
