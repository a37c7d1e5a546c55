package calmstep.service.shelf;

import calmstep.service.Settings;
import calmstep.service.shelf.TftpPacket.Acknowledged;
import calmstep.service.shelf.TftpPacket.Failed;
import calmstep.service.shelf.TftpPacket.Options;
import calmstep.service.shelf.TftpPacket.Read;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Serves images to devices over TFTP, read requests only: RFC 1350 with block size (RFC 2348),
 * time-out and transfer size (RFC 2349), windows (RFC 7440). Each transfer has a socket and a
 * thread of its own; a datagram from elsewhere gets "unknown transfer" and disturbs nothing.
 */
@Component
class TftpServer {
    private static final Logger LOG = LoggerFactory.getLogger(TftpServer.class);
    private static final int TRIES = 5;
    private static final int LARGEST_BLOCK = 65_464;
    private static final int LARGEST_WINDOW = 64;
    private static final long FAILED = -2;

    private final Shelf shelf;
    private final Copies copies;
    private final InetAddress address;
    private final DatagramSocket socket;

    TftpServer(Shelf shelf, Copies copies, Settings settings) throws IOException {
        this.shelf = shelf;
        this.copies = copies;
        address = InetAddress.getByName(settings.shelf().address());
        try {
            socket =
                    new DatagramSocket(new InetSocketAddress(address, settings.shelf().tftpPort()));
        } catch (IOException taken) {
            throw new IOException(
                    "The shelf cannot listen on %s:%s over TFTP: %s. Another program has the port, or it needs more rights."
                            .formatted(
                                    address.getHostAddress(),
                                    settings.shelf().tftpPort(),
                                    taken.getMessage()),
                    taken);
        }
    }

    @EventListener(ApplicationReadyEvent.class)
    void start() {
        Thread.ofVirtual().name("tftp").start(this::listen);
    }

    @PreDestroy
    void stop() {
        socket.close();
    }

    private void listen() {
        byte[] buffer = new byte[1500];
        while (!socket.isClosed()) {
            DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
            try {
                socket.receive(packet);
                answerBeside(buffer, packet);
            } catch (IOException closed) {
                LOG.debug("The TFTP socket gave up a datagram", closed);
            }
        }
    }

    private void answerBeside(byte[] buffer, DatagramPacket packet) {
        TftpPacket request = TftpPacket.decode(buffer, packet.getLength());
        SocketAddress device = packet.getSocketAddress();
        // One packet to and fro at a time: a thread of the system's wakes for it in half
        // the time that a virtual one takes.
        Thread.ofPlatform()
                .daemon()
                .name("tftp-transfer")
                .start(() -> answer(request, (InetSocketAddress) device));
    }

    private static void refuse(TftpLine transfer, InetSocketAddress device, String name)
            throws IOException {
        LOG.warn("{} asked the shelf for {} over TFTP and was refused", device, name);
        transfer.send(new Failed(1, "no such file for this device"));
    }

    private void answer(TftpPacket request, InetSocketAddress device) {
        try (TftpLine transfer = TftpLine.open(address, device)) {
            if (!(request instanceof Read(String name, String mode, Map<String, String> options))) {
                transfer.send(new Failed(4, "read requests only"));
                return;
            }
            Optional<Path> file = shelf.servable(name, device.getAddress().getHostAddress());
            if (file.isEmpty()) {
                refuse(transfer, device, name);
            } else if (!mode.equals("octet")) {
                transfer.send(new Failed(0, "mode octet only, firmware is not text"));
            } else {
                serve(transfer, device, file.get(), options);
            }
        } catch (IOException | org.springframework.dao.DataAccessException broken) {
            LOG.warn("A TFTP transfer to {} ended: {}", device, broken.getMessage());
        }
    }

    private void serve(
            TftpLine transfer, InetSocketAddress device, Path file, Map<String, String> asked)
            throws IOException {
        int blockSize = number(asked, "blksize", 8, LARGEST_BLOCK).orElse(512);
        Optional<Integer> timeout = number(asked, "timeout", 1, 255);
        transfer.waits(Duration.ofSeconds(timeout.orElse(1)));
        Map<String, String> granted = new LinkedHashMap<>();
        if (asked.containsKey("blksize")
                && number(asked, "blksize", 8, Integer.MAX_VALUE).isPresent()) {
            granted.put("blksize", String.valueOf(blockSize));
        }
        timeout.ifPresent(seconds -> granted.put("timeout", String.valueOf(seconds)));
        if (asked.containsKey("tsize")) {
            granted.put("tsize", String.valueOf(Files.size(file)));
        }
        Optional<Integer> window = number(asked, "windowsize", 1, LARGEST_WINDOW);
        window.ifPresent(blocks -> granted.put("windowsize", String.valueOf(blocks)));
        if (!granted.isEmpty() && !agreed(transfer, new Options(granted))) {
            return;
        }
        try (Copy copy =
                        copies.begin(
                                file.getFileName().toString(),
                                device.getAddress().getHostAddress(),
                                "tftp",
                                0,
                                Files.size(file));
                FileChannel channel = FileChannel.open(file)) {
            sendWindows(transfer, channel, copy, blockSize, window.orElse(1));
        }
    }

    /**
     * Blocks go out a window at a time (RFC 7440; a window of one is RFC 1350). The device
     * acknowledges the last one that it has without a gap, and the next window begins behind it.
     */
    private static void sendWindows(
            TftpLine transfer, FileChannel channel, Copy copy, int blockSize, int window)
            throws IOException {
        Stretch read = new Stretch(channel);
        long last = channel.size() / blockSize + 1;
        long next = 1;
        int tries = 0;
        while (next <= last && tries < TRIES) {
            long to = Math.min(last, next + window - 1);
            for (long block = next; block <= to; block++) {
                transfer.send(
                        (int) (block % TftpPacket.BLOCK_NUMBERS),
                        read.block((block - 1) * blockSize, blockSize));
            }
            long acknowledged = acknowledged(transfer, next, to);
            if (acknowledged == FAILED) {
                return;
            }
            if (acknowledged >= next) {
                copy.sends(
                        Math.min(channel.size(), acknowledged * blockSize)
                                - (next - 1) * blockSize);
            }
            tries = acknowledged >= next ? 0 : tries + 1;
            next = Math.max(next, acknowledged + 1);
        }
    }

    /** Reads ahead, so that not each block is a call to the disk. */
    private static final class Stretch {
        private static final int AHEAD = 1 << 18;

        private final FileChannel channel;
        private final ByteBuffer bytes = ByteBuffer.allocateDirect(AHEAD);
        private long begins;

        Stretch(FileChannel channel) {
            this.channel = channel;
            bytes.limit(0);
        }

        /**
         * @return shorter than asked for at the file's end, and empty behind it
         */
        ByteBuffer block(long position, int blockSize) throws IOException {
            if (position < begins || position + blockSize > begins + bytes.limit()) {
                begins = position;
                bytes.clear();
                while (bytes.hasRemaining()
                        && channel.read(bytes, begins + bytes.position()) >= 0) {}

                bytes.flip();
            }
            int at = (int) Math.min(position - begins, bytes.limit());
            return bytes.slice(at, Math.min(blockSize, bytes.limit() - at));
        }
    }

    /**
     * The last block of a window that the device has; the one before the window when it stays
     * silent or misses the first; {@value #FAILED} when it gives up.
     */
    private static long acknowledged(TftpLine transfer, long from, long to) throws IOException {
        while (true) {
            Optional<TftpPacket> heard = transfer.heard();
            if (heard.isEmpty()) {
                LOG.debug("No acknowledgement of blocks {} to {} from {}", from, to, transfer);
                return from - 1;
            }
            switch (heard.get()) {
                case Acknowledged(int number) -> {
                    long block = absolute(number, from, to);
                    // With one block in flight an old acknowledgement is ignored, never answered
                    // (RFC 1123, 4.2.3.1: else each block would go twice).
                    if (block >= from || (block == from - 1 && to > from)) {
                        return block;
                    }
                }
                case Failed _ -> {
                    return FAILED;
                }
                default -> {}
            }
        }
    }

    /**
     * A block's number counts to 65,535 and begins anew; which one is meant is told by the window.
     */
    private static long absolute(int number, long from, long to) {
        for (long block = to; block >= from - 1; block--) {
            if (block % TftpPacket.BLOCK_NUMBERS == number) {
                return block;
            }
        }
        return -1;
    }

    private static Optional<Integer> number(
            Map<String, String> options, String key, int least, int most) {
        try {
            return Optional.ofNullable(options.get(key))
                    .map(Integer::parseInt)
                    .filter(n -> n >= least)
                    .map(n -> Math.min(n, most));
        } catch (NumberFormatException notANumber) {
            return Optional.empty();
        }
    }

    /** Whether the device takes what was granted: it acknowledges block 0. */
    private static boolean agreed(TftpLine transfer, Options granted) throws IOException {
        for (int tries = 0; tries < TRIES; tries++) {
            transfer.send(granted);
            for (Optional<TftpPacket> heard = transfer.heard();
                    heard.isPresent();
                    heard = transfer.heard()) {
                switch (heard.get()) {
                    case Acknowledged(int block) when block == 0 -> {
                        return true;
                    }
                    case Failed _ -> {
                        return false;
                    }
                    default -> {}
                }
            }
            LOG.debug("No word about options from {}", transfer);
        }
        return false;
    }
}
