package calmstep.service.runs;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** The clock of a rehearsal, beside ours. */
class RehearsalClockTest {
    private static final Instant EVENING = Instant.parse("2026-11-23T18:00:00Z");
    private static final int PACE = 200;

    private final AtomicBoolean busy = new AtomicBoolean();
    private final RehearsalClock clock =
            new RehearsalClock(EVENING, PACE, busy::get, Clock.systemUTC());

    @AfterEach
    void stop() {
        clock.close();
    }

    private Duration shown(Duration ours) throws InterruptedException {
        Instant before = clock.instant();
        Await.pass(ours, "the clock goes on");
        return Duration.between(before, clock.instant());
    }

    /** Rests until a moment on a thread of its own, as a unit does; tells when it woke. */
    private CountDownLatch rests(Instant until, List<Instant> woke) {
        CountDownLatch awake = new CountDownLatch(1);
        clock.begin();
        Thread.ofVirtual()
                .start(
                        () -> {
                            try {
                                clock.restUntil(until);
                                woke.add(clock.instant());
                            } catch (InterruptedException stop) {
                                Thread.currentThread().interrupt();
                            } finally {
                                clock.leave();
                                awake.countDown();
                            }
                        });
        return awake;
    }

    @Test
    void runsAsOursWhileSomebodyWorks() throws Exception {
        clock.begin();
        assertThat(shown(Duration.ofMillis(400)))
                .isBetween(Duration.ofMillis(390), Duration.ofMillis(3000));
    }

    @Test
    void runsAsTheStandInsDoWhileOneIsBusy() throws Exception {
        clock.begin();
        busy.set(true);
        Await.pass(Duration.ofMillis(100), "the clock goes on");
        Duration shown = shown(Duration.ofMillis(500));
        assertThat(shown).as("%s times half a second", PACE).isGreaterThan(Duration.ofSeconds(95));
        busy.set(false);
        Await.pass(Duration.ofMillis(100), "the clock goes on");
        assertThat(shown(Duration.ofMillis(300))).isLessThan(Duration.ofSeconds(10));
    }

    @Test
    void leapsOverDaysWhereEverybodyWaitsToTheFirstThatIsWaitedFor() throws Exception {
        List<Instant> woke = new CopyOnWriteArrayList<>();
        Instant tomorrow = EVENING.plus(Duration.ofHours(31));
        Instant later = EVENING.plus(Duration.ofDays(9));
        CountDownLatch first = rests(tomorrow, woke);
        CountDownLatch second = rests(later, woke);
        assertThat(first.await(10, TimeUnit.SECONDS)).isTrue();
        assertThat(second.await(10, TimeUnit.SECONDS)).isTrue();
        assertThat(woke).hasSize(2).isSorted();
        assertThat(woke.getFirst()).isBetween(tomorrow, tomorrow.plusSeconds(5));
        assertThat(woke.getLast()).isBetween(later, later.plusSeconds(5));
    }

    @Test
    void doesNotLeapOverWorkThatIsStillDone() throws Exception {
        List<Instant> woke = new CopyOnWriteArrayList<>();
        clock.begin();
        CountDownLatch resting = rests(EVENING.plus(Duration.ofHours(5)), woke);
        assertThat(resting.await(500, TimeUnit.MILLISECONDS)).as("the other one works").isFalse();
        clock.leave();
        assertThat(resting.await(10, TimeUnit.SECONDS)).isTrue();
    }

    @Test
    void neverGoesBackAndLetsNobodyRestForEverWhenItIsOver() throws Exception {
        List<Instant> woke = new CopyOnWriteArrayList<>();
        clock.begin();
        CountDownLatch resting = rests(EVENING.plus(Duration.ofDays(400)), woke);
        Instant before = clock.instant();
        for (int i = 0; i < 200; i++) {
            busy.set(i % 3 == 0);
            Instant now = clock.instant();
            assertThat(now).isAfterOrEqualTo(before);
            before = now;
            Await.pass(Duration.ofMillis(1), "the clock goes on");
        }
        clock.close();
        assertThat(resting.await(10, TimeUnit.SECONDS)).isTrue();
    }
}
