package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import calmstep.service.reach.Reaches;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class CutOffTest {
    private final CutOff cutOff =
            new CutOff(
                    RunningService.bean(Reaches.class),
                    RunningService.bean(Fleet.class),
                    Clock.systemUTC());

    private static HopPlan hop(int restarts, int atOnce) {
        FirmwareImage image =
                new FirmwareImage("v1.img", 100, "c".repeat(64), Purpose.UPGRADE, Variant.ANY);
        Hop hop =
                new Hop(
                        "system",
                        "2.4.0",
                        "2.6.3",
                        List.of(image),
                        List.of(),
                        List.of(),
                        restarts,
                        Duration.ofMinutes(4),
                        Effect.Configuration.KEPT,
                        true,
                        List.of(),
                        List.of());
        return new HopPlan(1, hop, UnitPlan.stepsOf(hop, true), atOnce, 240, 240);
    }

    @Test
    void whoIsAskedAtTheGateHearsWhoElseGoesDark() {
        String head = RunningService.router("root: true");
        String quay = RunningService.router("links: [%s]".formatted(head));
        List<String> sheds =
                IntStream.range(0, 6)
                        .mapToObj(_ -> RunningService.router("links: [%s]".formatted(quay)))
                        .sorted()
                        .toList();
        assertThat(cutOff.words(sheds.getFirst(), hop(1, 0)))
                .as("nobody stands behind it")
                .isEmpty();
        assertThat(cutOff.words(quay, hop(1, 0)))
                .hasValueSatisfying(
                        words ->
                                assertThat(words)
                                        .startsWith(
                                                "Meanwhile it cuts off 6 other devices: %s and 2 more; at "
                                                        .formatted(
                                                                String.join(
                                                                        ", ", sheds.subList(0, 4))))
                                        .endsWith("."));
        assertThat(cutOff.words(quay, hop(1, 1)))
                .as("its members restart one after the other")
                .isEmpty();
        assertThat(cutOff.words(quay, hop(0, 0))).as("it goes on, its boards restart").isEmpty();
        assertThat(cutOff.words("rt-nowhere", hop(1, 0))).isEmpty();
    }
}
