package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.window.SiteLink;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class CopiesTest {
    private static final Map<String, Lines.End> ENDS =
            Map.of(
                    "192.0.2.1",
                    new Lines.End("rt-1", "quay", Optional.of(new SiteLink("air", 500_000))),
                    "192.0.2.2",
                    new Lines.End("rt-2", "mole", Optional.of(new SiteLink("air", 500_000))),
                    "192.0.2.3",
                    new Lines.End("rt-3", "hill", Optional.empty()));
    private final Settings settings = RunningService.bean(Settings.class);
    private final Copies copies =
            new Copies(
                    address -> Optional.ofNullable(ENDS.get(address)),
                    OtherNodes.NONE,
                    settings,
                    Clock.systemUTC());

    @Test
    void areShownWhileTheyAreUnderWay() {
        try (Copy first = copies.begin("a.img", "192.0.2.3", "http", 250, 1_000);
                Copy stranger = copies.begin("b.img", "192.0.2.9", "tftp", 0, 10)) {
            assertThat(copies.underWay())
                    .extracting(Copy.View::device)
                    .containsExactly("192.0.2.9", "rt-3");
            assertThat(copies.to("rt-3"))
                    .hasValueSatisfying(
                            view -> {
                                assertThat(view.sentBytes())
                                        .as("what it had is not sent again")
                                        .isEqualTo(250);
                                assertThat(view.secondsLeft()).isNull();
                            });
            first.sends(500);
            assertThat(copies.to("rt-3"))
                    .hasValueSatisfying(
                            view -> {
                                assertThat(view.sentBytes()).isEqualTo(750);
                                assertThat(view.bytesPerSecond()).isPositive();
                                assertThat(view.secondsLeft()).isNotNull();
                            });
            stranger.sends(10);
        }
        assertThat(copies.underWay()).isEmpty();
    }

    @Test
    void ofTwoSitesBehindOneLinkKeepToItsRateTogether() {
        long bytes = 300_000L * settings.pace();
        long began = System.nanoTime();
        List<Thread> both =
                IntStream.rangeClosed(1, 2)
                        .mapToObj(
                                i ->
                                        Thread.ofVirtual()
                                                .start(
                                                        () -> {
                                                            try (Copy copy =
                                                                    copies.begin(
                                                                            "a.img",
                                                                            "192.0.2." + i,
                                                                            "http",
                                                                            0,
                                                                            bytes)) {
                                                                int piece =
                                                                        copy.pieceOf(256 * 1024);
                                                                assertThat(piece)
                                                                        .isEqualTo(Copy.EVEN_PIECE);
                                                                for (long sent = 0;
                                                                        sent < bytes;
                                                                        sent += piece) {
                                                                    copy.sends(piece);
                                                                }
                                                            }
                                                        }))
                        .toList();
        both.forEach(
                thread -> {
                    try {
                        assertThat(thread.join(Duration.ofSeconds(30))).isTrue();
                    } catch (InterruptedException stop) {
                        Thread.currentThread().interrupt();
                    }
                });
        // 600,000 bytes on the devices' clock at 500,000 a second, but for the quarter of a second
        // that may be made up for at the beginning.
        assertThat(Duration.ofNanos(System.nanoTime() - began))
                .isGreaterThan(Duration.ofMillis(900));
    }
}
