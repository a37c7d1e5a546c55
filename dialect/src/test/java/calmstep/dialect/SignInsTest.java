package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class SignInsTest {
    /**
     * Whoever keeps to what is left, at whatever moments he tries, never fills the device's own
     * count.
     */
    @Test
    void whoKeepsToTheLimitIsNeverLockedOut() {
        for (int seed = 0; seed < 300; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            SignIns.LockOut limit =
                    new SignIns.LockOut(
                            2 + random.nextInt(5), Duration.ofMinutes(1 + random.nextInt(30)));
            List<Instant> refused = new ArrayList<>();
            Instant now = Instant.parse("2026-11-27T01:00:00Z");
            for (int step = 0; step < 200; step++) {
                now = now.plusSeconds(random.nextInt(400));
                if (limit.left(refused, now) > 0) {
                    refused.add(now);
                } else {
                    Instant free = limit.free(refused);
                    assertThat(free).as("seed %s", seed).isAfter(now);
                    assertThat(limit.left(refused, free.minusMillis(1)))
                            .as("seed %s: a moment before", seed)
                            .isZero();
                    assertThat(limit.left(refused, free)).as("seed %s: then", seed).isPositive();
                }
                assertThat(counted(refused, now, limit.within()))
                        .as("seed %s: as the device counts", seed)
                        .isLessThan(limit.after());
            }
        }
    }

    private static long counted(List<Instant> refused, Instant now, Duration within) {
        return refused.stream().filter(at -> at.isAfter(now.minus(within))).count();
    }
}
