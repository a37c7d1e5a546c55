package calmstep.service.shelf;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.DatagramChannel;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * The socket of one transfer. With one packet to and fro at a time, what counts is how soon the
 * next one goes out: while there are cores to spare, the answer is looked for a moment before
 * anybody sleeps for it, since waking up takes longer than a near device needs to answer.
 */
final class TftpLine implements AutoCloseable {
    private static final int LARGEST_HEARD = 1500;
    private static final int HEADER = 4;
    private static final int DATA = 3;
    private static final long LOOKS_FOR_NANOS = TimeUnit.MICROSECONDS.toNanos(60);
    private static final int MAY_LOOK = Math.max(1, Runtime.getRuntime().availableProcessors() / 2);
    private static final AtomicInteger OPEN = new AtomicInteger();

    private final DatagramChannel channel;
    private final Selector selector;
    private final InetSocketAddress device;
    private final ByteBuffer in = ByteBuffer.allocateDirect(LARGEST_HEARD);
    private ByteBuffer out = ByteBuffer.allocateDirect(LARGEST_HEARD);
    private long timeoutNanos = Duration.ofSeconds(1).toNanos();

    private TftpLine(DatagramChannel channel, Selector selector, InetSocketAddress device) {
        this.channel = channel;
        this.selector = selector;
        this.device = device;
        OPEN.incrementAndGet();
    }

    static TftpLine open(InetAddress address, InetSocketAddress device) throws IOException {
        DatagramChannel channel = DatagramChannel.open();
        try {
            channel.bind(new InetSocketAddress(address, 0)).configureBlocking(false);
            Selector selector = Selector.open();
            channel.register(selector, SelectionKey.OP_READ);
            return new TftpLine(channel, selector, device);
        } catch (IOException refused) {
            channel.close();
            throw refused;
        }
    }

    /** How long a packet is waited for. */
    void waits(Duration timeout) {
        timeoutNanos = timeout.toNanos();
    }

    void send(TftpPacket packet) throws IOException {
        channel.send(ByteBuffer.wrap(packet.encode()), device);
    }

    /** A block of the file. */
    void send(int number, ByteBuffer block) throws IOException {
        if (out.capacity() < HEADER + block.remaining()) {
            out = ByteBuffer.allocateDirect(HEADER + block.remaining());
        }
        out.clear().putShort((short) DATA).putShort((short) number).put(block).flip();
        channel.send(out, device);
    }

    /**
     * The next packet from the device; empty when none comes in time. One from elsewhere is told
     * that it is no part of this.
     */
    Optional<TftpPacket> heard() throws IOException {
        long began = System.nanoTime();
        long looks = OPEN.get() <= MAY_LOOK ? LOOKS_FOR_NANOS : 0;
        while (true) {
            InetSocketAddress from = (InetSocketAddress) channel.receive(in.clear());
            long waited = System.nanoTime() - began;
            if (device.equals(from)) {
                return Optional.of(decoded());
            }
            if (from != null && waited < timeoutNanos) {
                channel.send(
                        ByteBuffer.wrap(new TftpPacket.Failed(5, "unknown transfer").encode()),
                        from);
            } else if (waited >= timeoutNanos) {
                return Optional.empty();
            } else if (waited >= looks) {
                selector.select(
                        _ -> {}, Math.max(1, TimeUnit.NANOSECONDS.toMillis(timeoutNanos - waited)));
            } else {
                Thread.onSpinWait();
            }
        }
    }

    private TftpPacket decoded() {
        byte[] bytes = new byte[in.flip().remaining()];
        in.get(bytes);
        return TftpPacket.decode(bytes, bytes.length);
    }

    @Override
    public void close() throws IOException {
        OPEN.decrementAndGet();
        channel.close();
        selector.close();
    }

    @Override
    public String toString() {
        return device.toString();
    }
}
