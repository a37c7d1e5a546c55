package calmstep.service.shelf;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** One copy under way. */
public final class Copy implements AutoCloseable {
    /** With a share of a link no more goes out at once than this: what is sent is to be even. */
    static final int EVEN_PIECE = 16 * 1024;

    private final String fileName;
    private final String device;
    private final String address;
    private final String over;
    private final long from;
    private final long sizeBytes;
    private final Optional<LinkShare> share;
    private final Instant began;
    private final Consumer<Copy> ended;
    private final AtomicLong sent = new AtomicLong();

    Copy(
            String fileName,
            String device,
            String address,
            String over,
            long from,
            long sizeBytes,
            Optional<LinkShare> share,
            Instant began,
            Consumer<Copy> ended) {
        this.fileName = fileName;
        this.device = device;
        this.address = address;
        this.over = over;
        this.from = from;
        this.sizeBytes = sizeBytes;
        this.share = share;
        this.began = began;
        this.ended = ended;
    }

    /**
     * A copy as it stands.
     *
     * @param device its name; its address where it is none of ours
     * @param sentBytes what the device has, as far as we know
     * @param bytesPerSecond since it began, on the device's clock
     * @param secondsLeft on the device's clock; null before anything was sent
     */
    public record View(
            String device,
            String address,
            String fileName,
            String over,
            long sentBytes,
            long sizeBytes,
            long bytesPerSecond,
            @Nullable Long secondsLeft,
            Instant beganAt) {}

    String device() {
        return device;
    }

    int pieceOf(int most) {
        return share.isPresent() ? Math.min(most, EVEN_PIECE) : most;
    }

    /** Whether it takes turns with others on a link: then it goes out in even pieces. */
    boolean takesTurns() {
        return share.isPresent();
    }

    /** Waits for its turn on the link, then counts. */
    void sends(long bytes) {
        share.ifPresent(link -> link.take(bytes));
        sent.addAndGet(bytes);
    }

    View view(Instant now, int pace) {
        long has = sent.get();
        double seconds = Math.max(0.001, Duration.between(began, now).toMillis() / 1000.0) * pace;
        long rate = Math.round(has / seconds);
        return new View(
                device,
                address,
                fileName,
                over,
                from + has,
                sizeBytes,
                rate,
                rate > 0
                        ? Long.valueOf(Math.ceilDiv(Math.max(0, sizeBytes - from - has), rate))
                        : null,
                began);
    }

    @Override
    public void close() {
        ended.accept(this);
    }
}
