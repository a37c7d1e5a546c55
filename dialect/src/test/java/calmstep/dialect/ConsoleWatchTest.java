package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.core.device.DeviceDoor.Whereabouts;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** At a console server that gives its line to one caller alone, as many do. */
class ConsoleWatchTest {
    private final Dialect dialect =
            DialectText.read("osmer-r6.yaml", DemoFiles.text("dialects/osmer-r6.yaml"));
    private final List<String> overheard = new CopyOnWriteArrayList<>();
    private final Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE);
    private final AtomicInteger turnedAway = new AtomicInteger();
    private final StringBuilder pressed = new StringBuilder();
    private volatile Optional<Socket> caller = Optional.empty();
    private volatile String prompt = "";
    private ServerSocket server;

    @BeforeEach
    void serve() throws IOException {
        server = new ServerSocket(0, 8, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(this::accept);
    }

    @AfterEach
    void end() throws IOException {
        doors.close();
        server.close();
    }

    private void accept() {
        try {
            while (!server.isClosed()) {
                Socket socket = server.accept();
                if (caller.filter(one -> !one.isClosed()).isPresent()) {
                    turnedAway.incrementAndGet();
                    socket.close();
                } else {
                    caller = Optional.of(socket);
                    Thread.ofVirtual().start(() -> read(socket));
                }
            }
        } catch (IOException closed) {
            // The test is over.
        }
    }

    /** Answers each pressed return with its prompt. */
    private void read(Socket socket) {
        try (socket;
                InputStream in = socket.getInputStream()) {
            for (int c = in.read(); c >= 0; c = in.read()) {
                pressed.append((char) c);
                if (c == '\n' && !prompt.isEmpty()) {
                    say("\r\n" + prompt);
                }
            }
        } catch (IOException gone) {
            // Whoever called has hung up.
        }
    }

    private void say(String text) throws IOException {
        caller.orElseThrow().getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
    }

    private Door door() {
        return doors.to(
                new Doors.Address(
                        "rt-1",
                        "127.0.0.1",
                        1,
                        server.getLocalPort(),
                        List.of(new Doors.Login("steward", "steward", new SshSecret.Password("x"))),
                        ""),
                dialect,
                Talk.NONE);
    }

    private ConsoleWatch watch(Duration atMost) {
        return door().watch(
                        new Talk() {
                            @Override
                            public void typed(String text) {}

                            @Override
                            public void answered(String text) {}

                            @Override
                            public void overheard(String text) {
                                overheard.add(text);
                            }
                        },
                        atMost)
                .orElseThrow();
    }

    private String heard() {
        return String.join("\n", overheard);
    }

    private void awaitHeard(String what) {
        Await.until(Duration.ofSeconds(20), "it is heard", () -> heard().contains(what));
    }

    private void awaitCaller() {
        Await.until(
                Duration.ofSeconds(20),
                "somebody listens",
                () -> caller.filter(one -> !one.isClosed()).isPresent());
    }

    @Test
    void takesDownWholeLinesWithTheirSecretsMaskedAndTypesNothing() throws IOException {
        try (ConsoleWatch _ = watch(Duration.ofMinutes(1))) {
            awaitCaller();
            say("board check good\r\nsettings: line 3 not understood: person steward sec");
            say("ret 9c41");
            say("d07be2 \u001b[31mred\u001b[0m\r\n\r\n");
            say("half a line, no end");
            awaitHeard("red");
            assertThat(heard())
                    .isEqualTo(
                            "board check good\nsettings: line 3 not understood: person steward"
                                    + " secret •••••• red");
            assertThat(dialect.complaintsIn(heard()))
                    .containsExactly(
                            "settings: line 3 not understood: person steward secret •••••• red");
            assertThat(pressed.toString()).isEmpty();
        }
        awaitHeard("half a line, no end");
    }

    /** Wherever a line that is too long is cut, and however it comes. */
    @Test
    void noSecretShowsWhereALineIsTooLong() throws IOException {
        try (ConsoleWatch _ = watch(Duration.ofMinutes(1))) {
            awaitCaller();
            say("y".repeat(ConsoleWatch.LONGEST_LINE - 20) + " person steward secret 9c41");
            Await.pass(Duration.ofMillis(600), "the piece is heard by itself");
            say("d07be2 and another secret ");
            Await.pass(Duration.ofMillis(600), "the piece is heard by itself");
            say("1f88a3c002\r\nthe next line\r\n");
            awaitHeard("the next line");
        }
        assertThat(heard())
                .contains(" …")
                .doesNotContain("9c41")
                .doesNotContain("d07be2")
                .doesNotContain("1f88a3");
    }

    @Test
    void whoeverLooksWhereTheDeviceIsLooksThroughWhoeverListens() throws IOException {
        try (ConsoleWatch _ = watch(Duration.ofMinutes(1))) {
            awaitCaller();
            assertThat(door().whereabouts()).isInstanceOf(Whereabouts.Silent.class);
            say("start: osmer-r6c-2.8.2.img not started: it is damaged\r\n");
            prompt = "loader> ";
            assertThat(door().whereabouts()).isInstanceOf(Whereabouts.InBootLoader.class);
            assertThat(door().watch(Talk.NONE, Duration.ofMinutes(1)))
                    .as("one listener is enough")
                    .isEmpty();
            try (var loader = door().loader().orElseThrow()) {
                assertThat(loader).as("whoever talks there takes the line").isNotNull();
            }
        }
        assertThat(turnedAway).as("the same line, handed over").hasValue(0);
        assertThat(heard()).contains("it is damaged");
    }

    @Test
    void aLineThatWasLostIsOpenedAgainAndSaysSo() throws IOException {
        try (ConsoleWatch _ = watch(Duration.ofMinutes(1))) {
            awaitCaller();
            say("going down\r\n");
            awaitHeard("going down");
            caller.orElseThrow().close();
            awaitHeard("its console line answers again");
            awaitCaller();
            say("up again\r\n");
            awaitHeard("up again");
        }
        assertThat(heard().lines().toList())
                .containsExactly(
                        "going down",
                        "(its console line does not answer: what it says there is not heard)",
                        "(its console line answers again; what it said meanwhile was not heard)",
                        "up again");
    }

    @Test
    void aDeviceThatSaysItAgainAndAgainIsKeptUpToABound() throws IOException {
        try (ConsoleWatch _ = watch(Duration.ofMinutes(1))) {
            awaitCaller();
            String line = "panic ".repeat(200) + "\r\n";
            for (int i = 0; i < 400; i++) {
                say(line);
            }
            say("x".repeat(3 * ConsoleWatch.LONGEST_LINE));
            prompt = "loader> ";
            assertThat(door().whereabouts()).isInstanceOf(Whereabouts.InBootLoader.class);
        }
        assertThat(heard()).endsWith("what follows is not kept)");
        assertThat(heard().length()).isLessThan(ConsoleWatch.MOST_KEPT + 20_000);
        assertThat(heard().lines()).allMatch(line -> line.length() < 2 * ConsoleWatch.LONGEST_LINE);
    }

    @Test
    void endsByItselfAndFreesTheLine() {
        try (ConsoleWatch _ = watch(Duration.ofSeconds(1))) {
            awaitCaller();
            Await.until(
                    Duration.ofSeconds(20),
                    "the line is free again",
                    () -> caller.filter(Socket::isClosed).isPresent());
        }
    }
}
