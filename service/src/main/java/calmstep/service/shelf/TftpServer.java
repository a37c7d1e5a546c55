package calmstep.service.shelf;

import calmstep.service.Settings;
import calmstep.service.shelf.TftpPacket.Acknowledged;
import calmstep.service.shelf.TftpPacket.Data;
import calmstep.service.shelf.TftpPacket.Failed;
import calmstep.service.shelf.TftpPacket.Options;
import calmstep.service.shelf.TftpPacket.Read;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.io.InputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.net.SocketTimeoutException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Serves images to devices over TFTP, read requests only: RFC 1350 with block size (RFC 2348), time-out and transfer size (RFC 2349).
 * Each transfer has a socket and a virtual thread of its own; a datagram from elsewhere gets "unknown transfer" and disturbs nothing.
 */
@Component
class TftpServer {
    private static final Logger LOG = LoggerFactory.getLogger(TftpServer.class);
    private static final int TRIES = 5;
    private static final int LARGEST_BLOCK = 65_464;

    private final Shelf shelf;
    private final InetAddress address;
    private final DatagramSocket socket;

    TftpServer(Shelf shelf, Settings settings) throws IOException {
        this.shelf = shelf;
        address = InetAddress.getByName(settings.shelf().address());
        try {
            socket = new DatagramSocket(new InetSocketAddress(address, settings.shelf().tftpPort()));
        } catch (IOException taken) {
            throw new IOException("The shelf cannot listen on %s:%d over TFTP: %s. Another program has the port, or it needs more rights."
                    .formatted(address.getHostAddress(), settings.shelf().tftpPort(), taken.getMessage()), taken);
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
                TftpPacket request = TftpPacket.decode(buffer, packet.getLength());
                SocketAddress device = packet.getSocketAddress();
                Thread.ofVirtual().name("tftp-transfer").start(() -> answer(request, (InetSocketAddress) device));
            } catch (IOException closed) {
                LOG.debug("The TFTP socket gave up a datagram", closed);
            }
        }
    }

    private void answer(TftpPacket request, InetSocketAddress device) {
        try (DatagramSocket transfer = new DatagramSocket(new InetSocketAddress(address, 0))) {
            if (!(request instanceof Read(String name, String mode, Map<String, String> options))) {
                send(transfer, device, new Failed(4, "read requests only"));
                return;
            }
            Optional<Path> file = shelf.servable(name, device.getAddress().getHostAddress());
            if (file.isEmpty()) {
                LOG.warn("{} asked the shelf for {} over TFTP and was refused", device, name);
                send(transfer, device, new Failed(1, "no such file for this device"));
            } else if (!mode.equals("octet")) {
                send(transfer, device, new Failed(0, "mode octet only, firmware is not text"));
            } else {
                serve(transfer, device, file.get(), options);
            }
        } catch (IOException | org.springframework.dao.DataAccessException broken) {
            LOG.warn("A TFTP transfer to {} ended: {}", device, broken.getMessage());
        }
    }

    private void serve(DatagramSocket transfer, InetSocketAddress device, Path file, Map<String, String> asked) throws IOException {
        int blockSize = number(asked, "blksize", 8, LARGEST_BLOCK).orElse(512);
        Optional<Integer> timeout = number(asked, "timeout", 1, 255);
        transfer.setSoTimeout(timeout.orElse(1) * 1000);
        Map<String, String> granted = new LinkedHashMap<>();
        if (asked.containsKey("blksize") && number(asked, "blksize", 8, Integer.MAX_VALUE).isPresent()) {
            granted.put("blksize", String.valueOf(blockSize));
        }
        timeout.ifPresent(seconds -> granted.put("timeout", String.valueOf(seconds)));
        if (asked.containsKey("tsize")) {
            granted.put("tsize", String.valueOf(Files.size(file)));
        }
        if (!granted.isEmpty() && !deliver(transfer, device, new Options(granted), 0)) {
            return;
        }
        try (InputStream in = Files.newInputStream(file)) {
            byte[] block;
            int number = 0;
            do {
                block = in.readNBytes(blockSize);
                number = (number + 1) % TftpPacket.BLOCK_NUMBERS;
            } while (deliver(transfer, device, new Data(number, block), number) && block.length == blockSize);
        }
    }

    private static Optional<Integer> number(Map<String, String> options, String key, int least, int most) {
        try {
            return Optional.ofNullable(options.get(key)).map(Integer::parseInt).filter(n -> n >= least).map(n -> Math.min(n, most));
        } catch (NumberFormatException notANumber) {
            return Optional.empty();
        }
    }

    /** Sends until acknowledged. An old acknowledgement is ignored, never answered (RFC 1123, 4.2.3.1: else each block would go twice). */
    private static boolean deliver(DatagramSocket transfer, InetSocketAddress device, TftpPacket packet, int block) throws IOException {
        byte[] buffer = new byte[1500];
        for (int tries = 0; tries < TRIES; tries++) {
            send(transfer, device, packet);
            try {
                while (true) {
                    DatagramPacket answer = new DatagramPacket(buffer, buffer.length);
                    transfer.receive(answer);
                    if (!answer.getSocketAddress().equals(device)) {
                        send(transfer, (InetSocketAddress) answer.getSocketAddress(), new Failed(5, "unknown transfer"));
                        continue;
                    }
                    switch (TftpPacket.decode(buffer, answer.getLength())) {
                        case Acknowledged(int acknowledged) when acknowledged == block -> {
                            return true;
                        }
                        case Failed _ -> {
                            return false;
                        }
                        default -> { }
                    }
                }
            } catch (SocketTimeoutException again) {
                LOG.debug("No acknowledgement of block {} from {}", block, device);
            }
        }
        return false;
    }

    private static void send(DatagramSocket transfer, InetSocketAddress device, TftpPacket packet) throws IOException {
        byte[] bytes = packet.encode();
        transfer.send(new DatagramPacket(bytes, bytes.length, device));
    }
}
