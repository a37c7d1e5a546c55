package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import calmstep.core.path.Preference;
import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import calmstep.core.wave.Wishes;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

class PlanTextTest {
    private static final List<String> DEVICES = List.of("rt-a", "rt-b", "sw-1", "fw-long.name");
    private static final List<Target> TARGETS =
            List.of(
                    new Target.Recommended(),
                    new Target.OneBehind(),
                    new Target.Aged(90),
                    new Target.Clears("NF-26-04"),
                    new Target.Exactly("11.2 build 418"),
                    new Target.Exactly("9.08"));
    private static final List<Start> STARTS =
            List.of(
                    new Start.NextWindow(),
                    new Start.Now(),
                    new Start.At(Instant.parse("2026-11-24T01:15:00Z")));

    @Test
    void isReadBackAsItWasWritten() {
        Random random = new Random(5);
        for (int round = 0; round < 200; round++) {
            List<String> devices = new ArrayList<>(DEVICES);
            Collections.shuffle(devices, random);
            Map<String, LocalDate> nights = new TreeMap<>();
            Set<String> excluded = new TreeSet<>();
            for (String device : devices) {
                switch (random.nextInt(3)) {
                    case 0 -> nights.put(device, LocalDate.of(2026, 12, 1 + random.nextInt(28)));
                    case 1 -> excluded.add(device);
                    default -> {}
                }
            }
            PlanOrder order =
                    new PlanOrder(
                            "winter ~" + round,
                            TARGETS.get(random.nextInt(TARGETS.size())),
                            new WayWanted(
                                    List.of(Preference.values()).get(random.nextInt(3)),
                                    random.nextInt(3)),
                            STARTS.get(random.nextInt(STARTS.size())),
                            devices.subList(0, 1 + random.nextInt(4)),
                            random.nextBoolean() ? "" : "family:osmer-r6 not tag:\"spare parts\"",
                            new Wishes(
                                    nights,
                                    excluded,
                                    random.nextBoolean()
                                            ? List.of()
                                            : List.of("dunmere", "eskholm"),
                                    List.of(Wishes.Asks.values()).get(random.nextInt(3)),
                                    List.of(Wishes.WhenOdd.values()).get(random.nextInt(2))));
            String text = PlanText.write(order);
            assertThat(PlanText.read("p", text, Set.copyOf(DEVICES))).as(text).isEqualTo(order);
        }
    }

    @Test
    void isRefusedAsAWholeWithLineAndColumn() {
        String text =
                """
                plan: 2
                name: "  "
                to: recommended
                begins: soon
                devices: [rt-a, rt-x]
                nights: { rt-b: tomorrow, rt-y: 2026-12-01 }
                exclude: [rt-a]
                alternative: another
                """;
        RejectedText rejected =
                (RejectedText) catchThrowable(() -> PlanText.read("p", text, Set.copyOf(DEVICES)));
        assertThat(rejected.complaints().stream().map(Complaint::toString))
                .anySatisfy(c -> assertThat(c).startsWith("p:1:").contains("plan: 1"))
                .anySatisfy(c -> assertThat(c).startsWith("p:2:").contains("name"))
                .anySatisfy(
                        c ->
                                assertThat(c)
                                        .startsWith("p:4:")
                                        .contains("next-window")
                                        .contains("soon"))
                .anySatisfy(
                        c ->
                                assertThat(c)
                                        .startsWith("p:5:")
                                        .contains("rt-x")
                                        .contains("not in the inventory"))
                .anySatisfy(c -> assertThat(c).startsWith("p:6:").contains("tomorrow"))
                .anySatisfy(c -> assertThat(c).startsWith("p:6:").contains("rt-y"))
                .anySatisfy(
                        c ->
                                assertThat(c)
                                        .startsWith("p:8:")
                                        .contains("an alternative from 1 to 2")
                                        .contains("another"))
                .anySatisfy(
                        c ->
                                assertThat(c)
                                        .startsWith("p:7:")
                                        .contains("exclude")
                                        .contains("did you mean \"excluded\""));
    }
}
