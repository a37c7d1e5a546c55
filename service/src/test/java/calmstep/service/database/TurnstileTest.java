package calmstep.service.database;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class TurnstileTest {
    /**
     * Many threads come and go at random, some of them interrupted meanwhile: never are more inside
     * than there are places, and all come through.
     */
    // Others are to have their chance to come in as well.
    @SuppressWarnings("ThreadPriorityCheck")
    @Test
    void noMoreAreInsideThanThereArePlacesAndAllComeThrough() throws Exception {
        Turnstile turnstile = new Turnstile(3);
        AtomicInteger inside = new AtomicInteger();
        AtomicInteger most = new AtomicInteger();
        AtomicInteger through = new AtomicInteger();
        List<Thread> threads =
                IntStream.range(0, 200)
                        .mapToObj(
                                number ->
                                        Thread.ofVirtual()
                                                .start(
                                                        () -> {
                                                            Random random = new Random(number);
                                                            for (int round = 0;
                                                                    round < 20;
                                                                    round++) {
                                                                turnstile.enter(random.nextInt(5));
                                                                most.accumulateAndGet(
                                                                        inside.incrementAndGet(),
                                                                        Math::max);
                                                                Thread.yield();
                                                                inside.decrementAndGet();
                                                                turnstile.leave();
                                                            }
                                                            through.incrementAndGet();
                                                        }))
                        .toList();
        for (int i = 0; i < threads.size(); i += 7) {
            threads.get(i).interrupt();
        }
        for (Thread thread : threads) {
            thread.join();
        }
        assertThat(through).hasValue(200);
        assertThat(most.get()).isBetween(1, 3);
    }

    @Test
    void whoeverIsFurthestGoesFirstAndOfEqualsWhoCameFirst() throws Exception {
        Turnstile turnstile = new Turnstile(1);
        turnstile.enter(0);
        List<List<Integer>> order = Collections.synchronizedList(new ArrayList<>());
        List<List<Integer>> came =
                List.of(List.of(2, 0), List.of(5, 1), List.of(2, 2), List.of(9, 3), List.of(5, 4));
        List<Thread> threads = new ArrayList<>();
        for (List<Integer> one : came) {
            Thread thread =
                    Thread.ofPlatform()
                            .start(
                                    () -> {
                                        turnstile.enter(one.getFirst());
                                        order.add(one);
                                        turnstile.leave();
                                    });
            while (thread.getState() != Thread.State.WAITING) {
                Thread.onSpinWait();
            }
            threads.add(thread);
        }
        turnstile.leave();
        for (Thread thread : threads) {
            thread.join();
        }
        assertThat(order)
                .isEqualTo(
                        came.stream()
                                .sorted(
                                        Comparator.comparing((List<Integer> one) -> -one.getFirst())
                                                .thenComparing(List::getLast))
                                .toList());
    }
}
