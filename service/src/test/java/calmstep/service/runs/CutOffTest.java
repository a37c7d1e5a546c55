package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.reach.Link;
import calmstep.core.reach.Network;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

class CutOffTest {
    /** A ring, and one that hangs on three. */
    private final Network network =
            Network.of(
                    List.of("root", "a", "b", "c", "d", "x"),
                    List.of(
                            new Link("root", "a"),
                            new Link("a", "b"),
                            new Link("b", "c"),
                            new Link("c", "d"),
                            new Link("d", "root"),
                            new Link("x", "a"),
                            new Link("x", "c"),
                            new Link("x", "root")),
                    Set.of("root"));

    @Test
    void whatBeginsBesideOthersCutsOffNobodyWithThem() {
        assertThat(CutOff.whyNotWith(network, "a", List.of())).isEmpty();
        assertThat(CutOff.whyNotWith(network, "a", List.of("a"))).isEmpty();
        assertThat(CutOff.whyNotWith(network, "a", List.of("d"))).as("x is a way").isEmpty();
        assertThat(CutOff.whyNotWith(network, "a", List.of("c")))
                .hasValue("c is in work; with it b would lose every way");
        assertThat(CutOff.whyNotWith(network, "a", List.of("d", "x")))
                .hasValue("d, x are in work; with it b, c would lose every way");
    }
}
