package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.dialect.Dialect.Answer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.regex.Pattern;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class ExchangeTest {
    private static final Dialect OSMER = osmer();

    private static Dialect osmer() {
        try {
            return DialectText.read(
                    "osmer-r6.yaml", Files.readString(Path.of("../demo/dialects/osmer-r6.yaml")));
        } catch (IOException gone) {
            throw new IllegalStateException(gone);
        }
    }

    /**
     * A line that says what it was given to say, in the pieces it was given, and remembers what it
     * was told.
     */
    private static final class Scripted implements Line {
        private final Deque<String> pieces = new ArrayDeque<>();
        private final List<String> sent = new ArrayList<>();
        private boolean ends;

        Scripted says(String... texts) {
            pieces.addAll(List.of(texts));
            return this;
        }

        Scripted thenEnds() {
            ends = true;
            return this;
        }

        @Override
        public void send(String text) {
            sent.add(text);
        }

        @Override
        public String receive(Duration atMost) {
            if (pieces.isEmpty() && ends) {
                throw new LineEnded();
            }
            return pieces.isEmpty() ? "" : pieces.removeFirst();
        }

        @Override
        public void close() {}
    }

    private static LineExchange exchange(Scripted line) {
        return new LineExchange(OSMER, line, Talk.NONE, "rt-dunmere-1");
    }

    private static DeviceTrouble trouble(Scripted line, String command, Answer... answers) {
        return catchThrowableOfType(
                DeviceTrouble.class,
                () ->
                        exchange(line)
                                .command(command, List.of(answers), Duration.ofSeconds(1), false));
    }

    @Test
    void turnsPagesAndGivesTheAnswerWithoutEchoPagerAndPrompt() {
        Scripted line =
                new Scripted()
                        .says(
                                "ask links\r\nge0 up\r\n== more (space goes on, q stops) ==",
                                "\r"
                                        + "                                  \r"
                                        + "ge1 down\r\n"
                                        + "[rt-dunmere-1*]: ");
        assertThat(
                        exchange(line)
                                .command("ask links", List.of(), Duration.ofSeconds(1), false)
                                .text())
                .isEqualTo("ge0 up\nge1 down\n");
        assertThat(line.sent).containsExactly("ask links\n", " ");
    }

    /** However the network cuts the stream, the answer is the same. */
    @Property(tries = 200)
    void anAnswerDoesNotDependOnHowItIsCut(
            @ForAll @Size(max = 12) List<@IntRange(min = 1, max = 30) Integer> cuts) {
        String whole =
                """
                ask settings now
                name rt
                  note "a [b]: c"
                -- end of settings, 9 bytes --
                [rt-dunmere-1]: \
                """;
        Scripted line = new Scripted();
        int at = 0;
        for (int cut : cuts) {
            int end = Math.min(whole.length(), at + cut);
            if (end > at) {
                line.says(whole.substring(at, end));
            }
            at = end;
        }
        if (at < whole.length()) {
            line.says(whole.substring(at));
        }
        assertThat(
                        exchange(line)
                                .command(
                                        "ask settings now", List.of(), Duration.ofSeconds(1), false)
                                .text())
                .isEqualTo("name rt\n  note \"a [b]: c\"\n-- end of settings, 9 bytes --\n");
    }

    @Test
    void answersTheQuestionsThatTheDialectKnows() {
        Scripted line =
                new Scripted()
                        .says("do keep\r\nKeep the settings? (yes/no) ", "yes\r\nkept\r\n[rt]: ");
        Answer yes = new Answer(Pattern.compile("Keep the settings\\? \\(yes/no\\) $"), "yes");
        assertThat(
                        exchange(line)
                                .command("do keep", List.of(yes), Duration.ofSeconds(1), false)
                                .text())
                .endsWith("kept\n");
        assertThat(line.sent).containsExactly("do keep\n", "yes\n");
    }

    @Test
    void stopsAtAQuestionThatNobodyForesawAndBacksOut() {
        Scripted line =
                new Scripted().says("do keep\r\nThe secret 12345 is weak. Go on? (yes/no) ");
        DeviceTrouble trouble = trouble(line, "do keep");
        assertThat(trouble.kind()).isEqualTo(Kind.UNKNOWN_QUESTION);
        assertThat(trouble.trouble().seen()).contains("The secret •••••• is weak. Go on? (yes/no)");
        assertThat(line.sent).containsExactly("do keep\n", "\u0003");
    }

    @Test
    void tellsARefusalASilenceAndALostLineApart() {
        assertThat(
                        trouble(
                                new Scripted()
                                        .says("do drop a.img\r\nrefused: a.img runs\r\n[rt]: "),
                                "do drop a.img"))
                .satisfies(
                        refused -> {
                            assertThat(refused.kind()).isEqualTo(Kind.REFUSED_BY_DEVICE);
                            assertThat(refused.trouble().seen())
                                    .isEqualTo("the device refuses: refused: a.img runs");
                        });
        assertThat(trouble(new Scripted().says("ask start\r\nrunning  a.img\r\n"), "ask start"))
                .satisfies(
                        late -> {
                            assertThat(late.kind()).isEqualTo(Kind.TIMED_OUT);
                            assertThat(late.trouble().lastLines()).contains("running  a.img");
                        });
        assertThat(trouble(new Scripted().says("ask st").thenEnds(), "ask start").kind())
                .isEqualTo(Kind.LINK_LOST);
    }

    @Test
    void aLineThatEndsIsAnAnswerWhereTheActSaysSo() {
        Exchange.Said said =
                exchange(new Scripted().says("do restart\r\ngoing down\r\n").thenEnds())
                        .command("do restart", List.of(), Duration.ofSeconds(1), true);
        assertThat(said).isEqualTo(new Exchange.Said("going down\n", true));
    }
}
