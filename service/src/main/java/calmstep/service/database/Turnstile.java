package calmstep.service.database;

import java.util.Comparator;
import java.util.PriorityQueue;
import java.util.concurrent.CountDownLatch;

/**
 * Lets a few in at a time; of those who wait the one with the highest rank, and of equals the one
 * who has waited longest.
 */
final class Turnstile {
    private record Waiting(int rank, long came, CountDownLatch in) {}

    private final PriorityQueue<Waiting> queue =
            new PriorityQueue<>(
                    Comparator.comparingInt(Waiting::rank)
                            .reversed()
                            .thenComparingLong(Waiting::came));
    private int free;
    private long came;

    Turnstile(int places) {
        free = places;
    }

    /**
     * Returns when there is a place; an interrupt does not shorten that, since whoever is
     * interrupted may have to write why.
     */
    void enter(int rank) {
        Waiting own = new Waiting(rank, 0, new CountDownLatch(1));
        synchronized (this) {
            if (free > 0) {
                free--;
                return;
            }
            own = new Waiting(rank, came++, own.in());
            queue.add(own);
        }
        awaitUninterruptibly(own.in());
    }

    private static void awaitUninterruptibly(CountDownLatch in) {
        boolean interrupted = false;
        while (true) {
            try {
                in.await();
                break;
            } catch (InterruptedException later) {
                interrupted = true;
            }
        }
        if (interrupted) {
            Thread.currentThread().interrupt();
        }
    }

    /** A place that is handed on never becomes free in between. */
    synchronized void leave() {
        Waiting next = queue.poll();
        if (next == null) {
            free++;
        } else {
            next.in().countDown();
        }
    }
}
