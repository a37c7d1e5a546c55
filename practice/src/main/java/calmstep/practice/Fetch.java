package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.HttpURLConnection;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.Arrays;
import java.util.Optional;

/** The machine pulls a file itself, over HTTP or TFTP, from its own address, byte by byte into its storage. */
final class Fetch {
    private static final int TIMEOUT_MS = 3000;
    private static final int BLOCK = 1428;

    private final Machine machine;

    Fetch(Machine machine) {
        this.machine = machine;
    }

    /** Why the source is not reached; empty when it answers and has the file. */
    Optional<String> whyNotReached(URI source) {
        if (machine.has(Fault.REACHES_NOTHING)) {
            return Optional.of("no answer from " + source.getHost() + " port " + source.getPort());
        }
        try {
            if (source.getScheme().equals("tftp")) {
                return Optional.empty();
            }
            HttpURLConnection connection = open(source);
            connection.setRequestMethod("HEAD");
            int status = connection.getResponseCode();
            connection.disconnect();
            return status == 200 ? Optional.empty() : Optional.of("the source answers " + status + " for " + source.getPath());
        } catch (IOException silent) {
            return Optional.of("no answer from " + source.getHost() + " port " + source.getPort());
        }
    }

    private static HttpURLConnection open(URI source) throws IOException {
        HttpURLConnection connection = (HttpURLConnection) source.toURL().openConnection();
        connection.setConnectTimeout(TIMEOUT_MS);
        connection.setReadTimeout(TIMEOUT_MS);
        return connection;
    }

    /**
     * @return what to say: how many bytes came
     * @throws IOException with the words to say, when the copy failed; what came until then is on the storage
     */
    String fetch(URI source, String name) throws IOException {
        if (machine.has(Fault.REACHES_NOTHING)) {
            throw new ConnectException("no answer from " + source.getHost());
        }
        try (OutputStream out = new Storage(Files.newOutputStream(machine.file(name)))) {
            long bytes = source.getScheme().equals("tftp") ? overTftp(source, out) : overHttp(source, out);
            return "brought " + bytes + " bytes";
        } finally {
            damage(name);
        }
    }

    private void damage(String name) throws IOException {
        if (machine.has(Fault.DAMAGES_COPIES) || machine.takeOnce(Fault.DAMAGES_NEXT_COPY)) {
            byte[] bytes = Files.readAllBytes(machine.file(name));
            bytes[bytes.length / 2] ^= 1;
            Files.write(machine.file(name), bytes);
        }
    }

    private long overHttp(URI source, OutputStream out) throws IOException {
        HttpURLConnection connection = open(source);
        if (connection.getResponseCode() != 200) {
            throw new IOException("the source answers " + connection.getResponseCode());
        }
        long expected = connection.getContentLengthLong();
        try (InputStream in = connection.getInputStream()) {
            long bytes = in.transferTo(out);
            if (expected >= 0 && bytes != expected) {
                throw new IOException("cut after " + bytes + " of " + expected + " bytes");
            }
            return bytes;
        }
    }

    /** Read request with block size (RFC 2348) and transfer size (RFC 2349); one block in flight. */
    private static long overTftp(URI source, OutputStream out) throws IOException {
        String name = source.getPath().substring(1);
        try (DatagramSocket socket = new DatagramSocket()) {
            socket.setSoTimeout(TIMEOUT_MS);
            byte[] request = ("\0\1" + name + "\0octet\0blksize\0" + BLOCK + "\0tsize\0" + "0\0").getBytes(StandardCharsets.US_ASCII);
            byte[] sent = request;
            InetAddress host = InetAddress.getByName(source.getHost());
            int port = source.getPort();
            int block = BLOCK;
            int wanted = 1;
            long total = 0;
            while (true) {
                DatagramPacket packet = ask(socket, sent, host, port);
                port = packet.getPort();
                byte[] data = Arrays.copyOf(packet.getData(), packet.getLength());
                int code = data[1];
                int number = (data[2] & 0xff) << 8 | data[3] & 0xff;
                if (code == 5) {
                    throw new IOException("the source says: " + new String(data, 4, data.length - 5, StandardCharsets.US_ASCII));
                }
                if (code == 6) {
                    sent = new byte[] {0, 4, 0, 0};
                } else if (code == 3 && number == (wanted & 0xffff)) {
                    block = total == 0 && sent == request ? 512 : block;
                    out.write(data, 4, data.length - 4);
                    total += data.length - 4;
                    sent = new byte[] {0, 4, data[2], data[3]};
                    wanted++;
                    if (data.length - 4 < block) {
                        socket.send(new DatagramPacket(sent, sent.length, new InetSocketAddress(host, port)));
                        return total;
                    }
                }
            }
        }
    }

    private static DatagramPacket ask(DatagramSocket socket, byte[] bytes, InetAddress host, int port) throws IOException {
        for (int tries = 0; tries < 5; tries++) {
            socket.send(new DatagramPacket(bytes, bytes.length, host, port));
            try {
                DatagramPacket answer = new DatagramPacket(new byte[BLOCK + 16], BLOCK + 16);
                socket.receive(answer);
                return answer;
            } catch (SocketTimeoutException again) {
                continue;
            }
        }
        throw new IOException("no answer from " + host.getHostAddress() + " port " + port);
    }

    /** Storage that is full when it is full, slow as the machine is slow, and cut where a fault cuts it. */
    private final class Storage extends java.io.FilterOutputStream {
        private static final int PIECE = 65_536;
        private long free = machine.freeBytes();
        private long written;
        private final long cutAfter = machine.takeOnce(Fault.CUTS_NEXT_COPY) ? 300_000 : Long.MAX_VALUE;

        Storage(OutputStream out) {
            super(out);
        }

        @Override
        public void write(byte[] bytes, int offset, int length) throws IOException {
            for (int done = 0; done < length; done += PIECE) {
                int piece = Math.min(PIECE, length - done);
                free -= piece;
                if (free < 0) {
                    throw new IOException("no room left");
                }
                if (written > cutAfter) {
                    throw new IOException("the line was cut after " + written + " bytes");
                }
                if (machine.power() != Machine.Power.RUNNING) {
                    throw new IOException("going down");
                }
                out.write(bytes, offset + done, piece);
                written += piece;
                pause(machine.copyTime(piece).toNanos());
            }
        }

        private static void pause(long nanos) throws IOException {
            try {
                Thread.sleep(nanos / 1_000_000, (int) (nanos % 1_000_000));
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                throw new IOException("stopped", stopped);
            }
        }
    }
}
