package calmstep.service.reach;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.service.RunningService;
import calmstep.service.plans.Plans;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

class ReachesTest {
    private final Reaches reaches = RunningService.bean(Reaches.class);

    @Test
    void tellsWhatGoesDarkInDevicesAndInUsersWords() {
        String head = RunningService.router("root: true");
        String quay =
                RunningService.router("links: [%s]".formatted(head), "serves: the quay office");
        String shed =
                RunningService.router(
                        "links: [%s, gone-1]".formatted(quay), "serves: the net shed");
        String lost = RunningService.router();
        Reaches.DarkView dark = reaches.dark(List.of(quay, head));
        assertThat(dark.cutOff()).containsExactly(shed);
        assertThat(dark.serves()).containsExactly("the quay office", "the net shed");
        assertThat(dark.order()).as("far edge first").containsExactly(quay, head);
        assertThatThrownBy(() -> reaches.dark(Set.of("rt-nowhere")))
                .hasMessageContaining("There is no device \"rt-nowhere\" here");

        Reaches.NetworkView network = reaches.network();
        assertThat(network.unreached()).contains(lost).doesNotContain(shed);
        assertThat(network.unknown()).contains("gone-1, which %s names".formatted(shed));
        assertThat(network.nodes())
                .filteredOn(n -> n.device().equals(quay))
                .singleElement()
                .satisfies(
                        n -> {
                            assertThat(n.layer()).isEqualTo(1);
                            assertThat(n.cutOff()).containsExactly(shed);
                        });
    }

    @Test
    void aPlanSaysWhatEachUnitCutsOff() {
        String head = RunningService.router("root: true");
        String quay = RunningService.router("links: [%s]".formatted(head));
        String shed = RunningService.router("links: [%s]".formatted(quay));
        RunningService.keep(quay, RunningService.reading("2.6.3"));
        String plan = RunningService.name("reach");
        assertThat(
                        RunningService.bean(Plans.class)
                                .draft(plan, List.of(quay), "2.8.2", "mara")
                                .units())
                .singleElement()
                .satisfies(u -> assertThat(u.cutsOff()).containsExactly(shed));
    }
}
