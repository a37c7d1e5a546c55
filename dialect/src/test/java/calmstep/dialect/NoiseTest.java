package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import calmstep.core.device.DeviceTrouble;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/**
 * Devices that answer with noise: whatever comes, there is an answer or trouble in plain words,
 * soon, and nothing piles up.
 */
@Tag("sweep")
class NoiseTest {
    private static final List<Integer> SEEDS = Sweep.numbers("noise", 12, 150);

    private static final Path DIALECTS = Path.of("../demo/dialects");

    private static List<Dialect> dialects() throws IOException {
        try (Stream<Path> files = Files.list(DIALECTS)) {
            List<Dialect> dialects = new ArrayList<>();
            for (Path file : files.sorted().toList()) {
                dialects.add(DialectText.read(file.toString(), Files.readString(file)));
            }
            return dialects;
        }
    }

    /** Pieces of noise, mixed with what real devices say; then silence. */
    private static class Noisy implements Line {
        private final SplittableRandom random;
        private final List<String> phrases;
        private int pieces;

        Noisy(long seed, List<String> phrases, int pieces) {
            random = new SplittableRandom(seed);
            this.phrases = phrases;
            this.pieces = pieces;
        }

        @Override
        public void send(String text) {}

        @Override
        public String receive(Duration atMost) {
            if (pieces-- <= 0) {
                return "";
            }
            if (random.nextInt(4) == 0) {
                return phrases.get(random.nextInt(phrases.size()));
            }
            byte[] bytes = new byte[1 + random.nextInt(400)];
            random.nextBytes(bytes);
            return new String(
                    bytes,
                    random.nextBoolean() ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_8);
        }

        @Override
        public void close() {}
    }

    private static String noise(SplittableRandom random) {
        byte[] bytes = new byte[1 + random.nextInt(600)];
        random.nextBytes(bytes);
        return new String(bytes, StandardCharsets.UTF_8);
    }

    @Test
    void onALineEndsInAnAnswerOrInTrouble() throws IOException {
        List<String> phrases =
                List.of(
                        "\r\n",
                        "[rt-1]: ",
                        "-- line 3 of 9 -- n: next, s: stop ",
                        "really? (yes/no) ",
                        "\u001b[2J\u001b[1;31m",
                        "\r          \r",
                        "on 1: 9999999999999999999999 bytes, 0 free\r\n",
                        "then \r\n",
                        "name: x\r\n",
                        ", yes or no: ");
        Map<DeviceTrouble.Kind, Integer> ends = new HashMap<>();
        int answers = 0;
        for (Dialect dialect : dialects()) {
            for (int seed : SEEDS) {
                LineExchange exchange =
                        new LineExchange(dialect, new Noisy(seed, phrases, 20), Talk.NONE, "noisy");
                try {
                    new Answers(dialect, exchange)
                            .ask(dialect.readings().get(seed % dialect.readings().size()));
                    answers++;
                } catch (DeviceTrouble trouble) {
                    ends.merge(trouble.kind(), 1, Integer::sum);
                    assertThat(trouble.trouble().expected()).isNotBlank();
                    assertThat(trouble.trouble().remedy()).isNotBlank();
                    assertThat(trouble.trouble().lastLines()).hasSizeLessThanOrEqualTo(12);
                }
            }
        }
        assertThat(answers + ends.values().stream().mapToInt(Integer::intValue).sum())
                .isEqualTo(8 * SEEDS.size());
        assertThat(ends)
                .containsKeys(DeviceTrouble.Kind.TIMED_OUT, DeviceTrouble.Kind.UNKNOWN_QUESTION);
    }

    @Test
    void withoutEndIsCutOff() throws IOException {
        for (Dialect dialect :
                dialects().stream().filter(d -> d.over() == Dialect.Carrier.SSH).toList()) {
            for (String endless :
                    List.of("0123456789".repeat(2_000), "a line that goes on\r\n".repeat(1_000))) {
                LineExchange exchange =
                        new LineExchange(
                                dialect,
                                new Noisy(1, List.of(endless), Integer.MAX_VALUE) {
                                    @Override
                                    public String receive(Duration atMost) {
                                        return endless;
                                    }
                                },
                                Talk.NONE,
                                "endless");
                DeviceTrouble trouble =
                        org.assertj.core.api.Assertions.catchThrowableOfType(
                                DeviceTrouble.class,
                                () ->
                                        exchange.command(
                                                "tell", List.of(), Duration.ofMinutes(5), false));
                assertThat(trouble.kind())
                        .as(dialect.family())
                        .isEqualTo(DeviceTrouble.Kind.UNREADABLE_ANSWER);
                assertThat(trouble.trouble().seen()).contains("no end of it");
            }
        }
    }

    @Test
    void amongObjectsAndInJsonIsOverlooked() throws IOException {
        SplittableRandom random = new SplittableRandom(7);
        List<Dialect.Find> finds =
                dialects().stream()
                        .flatMap(d -> d.readings().stream())
                        .flatMap(r -> r.finds().stream())
                        .toList();
        List<String> wraps =
                List.of(
                        "%s",
                        "{\"unit\":%s}",
                        "{\"store\":{\"files\":[%s,{\"name\":\"a\",\"bytes\":1}]}}",
                        "1.3.6.1.4.1.32473.4.3.3.1.1.%s = x\n",
                        "1.3.6.1.4.1.32473.4.3.3.1.1.1.2.3.4 = %s\n",
                        "[".repeat(3_000) + "%s");
        for (int round = 0; round < 2_000; round++) {
            String answer = wraps.get(round % wraps.size()).formatted(noise(random));
            finds.forEach(
                    find ->
                            assertThat(find.sight().in(answer))
                                    .allSatisfy(
                                            row ->
                                                    assertThat(row.texts().keySet())
                                                            .isSubsetOf(find.sight().names())));
        }
    }

    @Test
    void inALongAnswerCostsNoMoreThanItsLength() throws IOException {
        Dialect tarnel =
                dialects().stream()
                        .filter(d -> d.family().equals("tarnel-t2"))
                        .findFirst()
                        .orElseThrow();
        String line = "port 1/1 lane 20 \"desks and cash points\"\r\n";
        List<String> pieces = new ArrayList<>();
        for (int i = 0; i < 20_000; i++) {
            pieces.add(line);
        }
        pieces.add(";; 20000 lines ;;\r\nsw-1.1 ~ ");
        var left = pieces.iterator();
        LineExchange exchange =
                new LineExchange(
                        tarnel,
                        new Line() {
                            @Override
                            public void send(String text) {}

                            @Override
                            public String receive(Duration atMost) {
                                return left.hasNext() ? left.next() : "";
                            }

                            @Override
                            public void close() {}
                        },
                        Talk.NONE,
                        "long");
        String answer =
                exchange.command("text: now", List.of(), Duration.ofMinutes(10), false).text();
        assertThat(answer.lines().count()).isEqualTo(20_001);
        assertThat(answer).endsWith(";; 20000 lines ;;\n").doesNotContain("\r");
        assertThat(Pattern.compile("\n").splitAsStream(answer).limit(20_000))
                .allMatch(line.strip()::equals);
    }
}
