package calmstep.service.checks;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.check.OwnCheck;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Each kind of check against something that really listens, and against nothing. */
class ProbeTest {
    private final Probe probe = new Probe();

    private String tried(String line) {
        return probe.tried(OwnCheck.parse("it: " + line).expectation(), Optional.empty());
    }

    @Test
    void aPortIsOpenOrNot() throws Exception {
        int port;
        try (ServerSocket open = new ServerSocket(0, 4, InetAddress.getLoopbackAddress())) {
            port = open.getLocalPort();
            assertThat(tried("port 127.0.0.1:" + port)).isEqualTo("ok");
        }
        assertThat(tried("port 127.0.0.1:" + port)).isEqualTo("no answer");
        assertThat(tried("count interface up at least 1"))
                .as("nothing was read")
                .isEqualTo("not read");
    }

    @Test
    void aPageLoadsAndHoldsWhatIsExpected() throws Exception {
        HttpServer server =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext(
                "/",
                exchange -> {
                    byte[] page = "<p>Next sailing 14:20</p>".getBytes(StandardCharsets.UTF_8);
                    boolean there = exchange.getRequestURI().getPath().equals("/board");
                    exchange.sendResponseHeaders(there ? 200 : 404, page.length);
                    exchange.getResponseBody().write(page);
                    exchange.close();
                });
        server.start();
        String board = "page http://127.0.0.1:%s/".formatted(server.getAddress().getPort());
        try {
            assertThat(tried(board + "board shows Next sailing")).isEqualTo("ok");
            assertThat(tried(board + "board shows Last sailing")).isEqualTo("another page");
            assertThat(tried(board + "nowhere")).isEqualTo("it answers 404");
        } finally {
            server.stop(0);
        }
        assertThat(tried(board + "board")).isEqualTo("no answer");
    }

    /** The server that is named is asked, whatever this machine would say. */
    @Test
    void aNameResolvesAtTheServerThatIsAsked() throws Exception {
        try (DatagramSocket server = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> answer(server));
            String at =
                    "name tickets.northmere.example is %s at 127.0.0.1:" + server.getLocalPort();
            assertThat(tried(at.formatted("192.0.2.13"))).isEqualTo("ok");
            assertThat(tried(at.formatted("192.0.2.14"))).isEqualTo("192.0.2.13");
        }
    }

    /** One A record for whatever is asked (RFC 1035, section 4). */
    private static void answer(DatagramSocket server) {
        try {
            while (true) {
                DatagramPacket asked = new DatagramPacket(new byte[512], 512);
                server.receive(asked);
                int end = 12;
                while (asked.getData()[end] != 0) {
                    end += asked.getData()[end] + 1;
                }
                int question = end + 5 - 12;
                ByteBuffer reply = ByteBuffer.allocate(512);
                reply.putShort(ByteBuffer.wrap(asked.getData()).getShort())
                        .putShort((short) 0x8580)
                        .putShort((short) 1)
                        .putShort((short) 1)
                        .putInt(0);
                reply.put(asked.getData(), 12, question);
                reply.putShort((short) 0xC00C)
                        .putShort((short) 1)
                        .putShort((short) 1)
                        .putInt(60)
                        .putShort((short) 4)
                        .put(new byte[] {(byte) 192, 0, 2, 13});
                server.send(
                        new DatagramPacket(
                                reply.array(), reply.position(), asked.getSocketAddress()));
            }
        } catch (IOException closed) {
            // Closed at the end of the test.
        }
    }
}
