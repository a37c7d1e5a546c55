package calmstep.core.order;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Part;
import calmstep.core.path.Path;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class DependentsTest {
    private static Catalogue catalogue(String dependents) {
        return CatalogueText.read(
                "c",
                """
                catalogue: 1
                family: c5
                issued: 2026-11-02
                components: { system: { fields: 3 } }
                releases:
                  - { version: 8.2.1, date: 2025-01-01 }
                  - { version: 8.5.3, date: 2025-06-01, may-rest: true, images: [{ file: a, size-bytes: 5, sha256: %1$s }] }
                  - { version: 8.7.1, date: 2026-01-01, images: [{ file: b, size-bytes: 5, sha256: %1$s }] }
                rules:
                  - { id: c5/step, to: '>= 8.7.1', from: '>= 8.5.3', source: note, says: 8.7 comes after 8.5 }
                effects: [{ to: any, restarts: 1, dark: 5 min }]
                %2$s
                """
                        .formatted("a".repeat(64), dependents));
    }

    private static Optional<RollingOrder> order(String dependents, int count) {
        Catalogue catalogue = catalogue(dependents);
        Device controller =
                new Device(
                                "wc-1",
                                "c5",
                                new Hardware("C5", "", "", "", Set.of()),
                                "",
                                "quay",
                                "controller",
                                "192.0.2.1",
                                22,
                                0,
                                "steward",
                                true,
                                Map.of("system", "8.2.1"),
                                "")
                        .withParts(
                                IntStream.range(0, count)
                                        .mapToObj(
                                                i ->
                                                        new Part(
                                                                "ap-" + i,
                                                                Part.Kind.DEPENDENT,
                                                                "A3",
                                                                "",
                                                                Map.of(),
                                                                List.of()))
                                        .toList());
        PathAnswer answer =
                new PathBook(Preference.FEWEST_RESTARTS, LocalDate.of(2026, 11, 23))
                        .look(controller, controller.runs(), catalogue, new Target.Exactly("8.7.1"))
                        .answer()
                        .orElseThrow();
        assertThat(answer).isInstanceOf(PathAnswer.Found.class);
        Path path = ((PathAnswer.Found) answer).best();
        return UnitOrder.of(controller, catalogue, path);
    }

    @Test
    void areLoadedAheadAndFollowTheirController() {
        RollingOrder order =
                order("dependents: { pre-load-in: 12 min, restart-in: 3 min, go: after }", 6)
                        .orElseThrow();
        assertThat(order.moves().stream().map(RollingMove::sentence))
                .containsExactly(
                        "8.5.3 brought to 6 dependents ahead, while everything serves",
                        "wc-1 restarts from 8.2.1 into 8.5.3",
                        "6 dependents restart into 8.5.3",
                        "8.7.1 brought to 6 dependents ahead, while everything serves",
                        "wc-1 restarts from 8.5.3 into 8.7.1",
                        "6 dependents restart into 8.7.1");
        assertThat(order.dark()).isEqualTo(Duration.ofMinutes(16));
        assertThat(order.takes()).isEqualTo(Duration.ofMinutes(40));
    }

    /** In a stack: whoever restarts without the image falls out of it. */
    @Test
    void membersHaveTheImageBeforeAnyOfThemRestarts() {
        Catalogue catalogue =
                catalogue(
                        "unit: { one-is-active: true, may-be-out: 1, member-restarts-in: 4 min,"
                            + " all-restart-in: 6 min, hands-over-in: 8 s, settles-in: 60 s }\n"
                            + "side-by-side: [{ one: '>= 8.2.1', other: '>= 8.2.1', source: note"
                            + " }]");
        Device stack =
                new Device(
                                "st-1",
                                "c5",
                                new Hardware("C5", "", "", "", Set.of()),
                                "",
                                "quay",
                                "stack",
                                "192.0.2.1",
                                22,
                                0,
                                "steward",
                                true,
                                Map.of("system", "8.2.1"),
                                "")
                        .withParts(
                                IntStream.rangeClosed(1, 3)
                                        .mapToObj(
                                                i ->
                                                        new Part(
                                                                String.valueOf(i),
                                                                Part.Kind.MEMBER,
                                                                "C5",
                                                                "",
                                                                Map.of(),
                                                                List.of()))
                                        .toList());
        PathAnswer answer =
                new PathBook(Preference.FEWEST_RESTARTS, LocalDate.of(2026, 11, 23))
                        .look(stack, stack.runs(), catalogue, new Target.Exactly("8.7.1"))
                        .answer()
                        .orElseThrow();
        List<RollingMove> moves =
                UnitOrder.of(stack, catalogue, ((PathAnswer.Found) answer).best())
                        .orElseThrow()
                        .moves();
        for (String release : List.of("8.5.3", "8.7.1")) {
            assertThat(
                            moves.stream()
                                    .filter(
                                            move ->
                                                    move.sentence().contains("into " + release)
                                                            || move.equals(
                                                                    new RollingMove.BringImage(
                                                                            3, release)))
                                    .toList())
                    .as(release)
                    .first()
                    .isEqualTo(new RollingMove.BringImage(3, release));
        }
        assertThat(moves).filteredOn(RollingMove.BringImage.class::isInstance).hasSize(2);
    }

    @Test
    void goBeforeItWhereTheCatalogueSaysSo() {
        assertThat(
                        order("dependents: { pre-load-in: 1 min, go: before }", 2)
                                .orElseThrow()
                                .moves()
                                .stream()
                                .map(RollingMove::sentence)
                                .toList()
                                .subList(1, 3))
                .containsExactly(
                        "2 dependents restart into 8.5.3", "wc-1 restarts from 8.2.1 into 8.5.3");
    }

    @Test
    void areDarkForLongerWhereTheyCannotBeLoadedAhead() {
        RollingOrder order =
                order("dependents: { fetch-in: 9 min, restart-in: 3 min }", 6).orElseThrow();
        assertThat(order.moves())
                .hasSize(4)
                .noneMatch(RollingMove.PreLoadDependents.class::isInstance);
        assertThat(order.dark()).isEqualTo(Duration.ofMinutes(34));
        assertThat(order.moves().getLast().sentence())
                .isEqualTo("6 dependents fetch their image and restart into 8.7.1");
    }

    @Test
    void needNoOrderWhereThereAreNoneOrNobodySaidHow() {
        assertThat(order("dependents: { pre-load-in: 1 min }", 0)).isEmpty();
        assertThat(order("", 6)).isEmpty();
    }
}
