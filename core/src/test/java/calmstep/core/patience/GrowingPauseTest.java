package calmstep.core.patience;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;

class GrowingPauseTest {
    @Property
    void itNeverShrinksAndNeverExceedsTheLongest(
            @ForAll @IntRange(min = 1, max = 600) int first,
            @ForAll @IntRange(min = 1, max = 3_600) int longest,
            @ForAll @IntRange(min = 1, max = Integer.MAX_VALUE - 1) int tries) {
        GrowingPause pause =
                new GrowingPause(
                        Duration.ofSeconds(first), Duration.ofSeconds(Math.max(first, longest)));
        assertThat(pause.behind(1)).isEqualTo(pause.first());
        assertThat(pause.behind(tries)).isBetween(pause.first(), pause.longest());
        assertThat(pause.behind(tries + 1)).isGreaterThanOrEqualTo(pause.behind(tries));
        assertThat(pause.behind(2))
                .isEqualTo(Duration.ofSeconds(Math.min(2L * first, Math.max(first, longest))));
    }
}
