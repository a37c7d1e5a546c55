package calmstep.practice;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/**
 * The machine pulls a file itself, over HTTP or TFTP, from its own address, byte by byte into its
 * storage.
 */
final class Fetch {
    private static final int TIMEOUT_MS = 3000;
    private static final long UNKNOWN = -1;
    private static final int BLOCK = 1428;

    private final Machine machine;

    /** Bytes that were announced. */
    private long expected = UNKNOWN;

    Fetch(Machine machine) {
        this.machine = machine;
    }

    /** Why the source is not reached; empty when it answers and has the file. */
    Optional<String> whyNotReached(URI source) {
        if (machine.has(Fault.REACHES_NOTHING)) {
            return Optional.of("no answer from " + source.getHost() + " port " + source.getPort());
        }
        if (source.getScheme().equals("tftp")) {
            return Optional.empty();
        }
        try (Socket socket = connect(source)) {
            int status = ask(socket, "HEAD", source).status();
            return status == 200
                    ? Optional.empty()
                    : Optional.of("the source answers " + status + " for " + source.getPath());
        } catch (IOException silent) {
            return Optional.of("no answer from " + source.getHost() + " port " + source.getPort());
        }
    }

    private Socket connect(URI source) throws IOException {
        Socket socket = new Socket();
        try {
            socket.bind(new InetSocketAddress(machine.description().address(), 0));
            socket.connect(new InetSocketAddress(source.getHost(), source.getPort()), TIMEOUT_MS);
            socket.setSoTimeout(TIMEOUT_MS);
            return socket;
        } catch (IOException refused) {
            socket.close();
            throw refused;
        }
    }

    /** The head of an HTTP answer; the body follows on {@code body}. */
    private record Answer(int status, long length, InputStream body) {}

    private static Answer ask(Socket socket, String method, URI source) throws IOException {
        String request =
                "%s %s HTTP/1.1\r\nHost: %s:%s\r\nConnection: close\r\n\r\n"
                        .formatted(method, source.getRawPath(), source.getHost(), source.getPort());
        socket.getOutputStream().write(request.getBytes(StandardCharsets.US_ASCII));
        InputStream in = new BufferedInputStream(socket.getInputStream());
        String status = line(in);
        long length = -1;
        for (String header = line(in); !header.isEmpty(); header = line(in)) {
            if (header.toLowerCase(Locale.ROOT).startsWith("content-length:")) {
                length = Long.parseLong(header.substring(15).strip());
            }
        }
        return new Answer(Integer.parseInt(status.split(" ")[1]), length, in);
    }

    private static String line(InputStream in) throws IOException {
        StringBuilder line = new StringBuilder();
        for (int c = in.read(); c != '\n'; c = in.read()) {
            if (c < 0) {
                throw new IOException("the source closed the line");
            }
            line.append((char) c);
        }
        return line.toString().strip();
    }

    /**
     * @return what to say: how many bytes came
     * @throws IOException with the words to say, when the copy failed; what came until then is on
     *     the storage
     */
    String fetch(URI source, String name) throws IOException {
        if (machine.has(Fault.REACHES_NOTHING)) {
            throw new ConnectException("no answer from " + source.getHost());
        }
        machine.copies(true);
        try (OutputStream out = new Storage(Files.newOutputStream(machine.flash().file(name)))) {
            long bytes =
                    source.getScheme().equals("tftp")
                            ? overTftp(source, out)
                            : overHttp(source, out);
            return "brought " + bytes + " bytes";
        } finally {
            machine.copies(false);
            damage(name);
        }
    }

    /** Brings a file into its working memory, at its own rate. */
    byte[] bring(URI source) throws IOException {
        if (machine.has(Fault.REACHES_NOTHING)) {
            throw new ConnectException("no answer from " + source.getHost());
        }
        ByteArrayOutputStream memory = new ByteArrayOutputStream();
        long bytes =
                source.getScheme().equals("tftp")
                        ? overTftp(source, memory)
                        : overHttp(source, memory);
        pause(machine.copyTime(bytes).toNanos());
        return machine.takeOnce(Fault.DAMAGES_NEXT_COPY)
                ? oneByteWrong(memory.toByteArray())
                : memory.toByteArray();
    }

    static void pause(long nanos) throws IOException {
        try {
            Thread.sleep(nanos / 1_000_000, (int) (nanos % 1_000_000));
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped", stopped);
        }
    }

    /**
     * Takes a file that is sent to it.
     *
     * @param length how many bytes were announced; negative where nobody said
     */
    long receive(InputStream in, String name, long length) throws IOException {
        machine.copies(true);
        try (OutputStream out = new Storage(Files.newOutputStream(machine.flash().file(name)))) {
            expected = length;
            long bytes = in.transferTo(out);
            if (length >= 0 && bytes != length) {
                throw new IOException("cut after " + bytes + " of " + length + " bytes");
            }
            return bytes;
        } finally {
            machine.copies(false);
            damage(name);
        }
    }

    /** What its faults do to a copy that has come. */
    void damage(String name) throws IOException {
        if (machine.has(Fault.DAMAGES_COPIES) || machine.takeOnce(Fault.DAMAGES_NEXT_COPY)) {
            Files.write(
                    machine.flash().file(name),
                    oneByteWrong(Files.readAllBytes(machine.flash().file(name))));
        }
    }

    private static byte[] oneByteWrong(byte[] bytes) {
        if (bytes.length > 0) {
            bytes[bytes.length / 2] ^= 1;
        }
        return bytes;
    }

    private long overHttp(URI source, OutputStream out) throws IOException {
        try (Socket socket = connect(source)) {
            Answer answer = ask(socket, "GET", source);
            if (answer.status() != 200) {
                throw new IOException("the source answers " + answer.status());
            }
            expected = answer.length();
            long bytes = answer.body().transferTo(out);
            if (bytes != answer.length()) {
                throw new IOException("cut after " + bytes + " of " + answer.length() + " bytes");
            }
            return bytes;
        }
    }

    /**
     * Read request with block size (RFC 2348) and transfer size (RFC 2349); one block in flight.
     */
    private long overTftp(URI source, OutputStream out) throws IOException {
        String name = source.getPath().substring(1);
        try (DatagramSocket socket =
                new DatagramSocket(new InetSocketAddress(machine.description().address(), 0))) {
            socket.setSoTimeout(TIMEOUT_MS);
            byte[] request =
                    ("\0\1" + name + "\0octet\0blksize\0" + BLOCK + "\0tsize\0" + "0\0")
                            .getBytes(StandardCharsets.US_ASCII);
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
                int number = (data[2] & 0xff) << 8 | (data[3] & 0xff);
                if (code == 5) {
                    throw new IOException(
                            "the source says: "
                                    + new String(
                                            data, 4, data.length - 5, StandardCharsets.US_ASCII));
                }
                if (code == 6) {
                    expected =
                            size(
                                    new String(data, 2, data.length - 2, StandardCharsets.US_ASCII)
                                            .split("\0"));
                    sent = new byte[] {0, 4, 0, 0};
                } else if (code == 3 && number == (wanted & 0xffff)) {
                    block = total == 0 && sent == request ? 512 : block;
                    out.write(data, 4, data.length - 4);
                    total += data.length - 4;
                    sent = new byte[] {0, 4, data[2], data[3]};
                    wanted++;
                    if (data.length - 4 < block) {
                        socket.send(
                                new DatagramPacket(
                                        sent, sent.length, new InetSocketAddress(host, port)));
                        return total;
                    }
                }
            }
        }
    }

    /** What the source says of the size among its options (RFC 2349). */
    private static long size(String[] options) {
        for (int at = 0; at + 1 < options.length; at += 2) {
            if (options[at].equalsIgnoreCase("tsize")) {
                return Long.parseLong(options[at + 1]);
            }
        }
        return UNKNOWN;
    }

    private static DatagramPacket ask(
            DatagramSocket socket, byte[] bytes, InetAddress host, int port) throws IOException {
        for (int tries = 0; tries < 5; tries++) {
            socket.send(new DatagramPacket(bytes, bytes.length, host, port));
            try {
                DatagramPacket answer = new DatagramPacket(new byte[BLOCK + 16], BLOCK + 16);
                socket.receive(answer);
                return answer;
            } catch (SocketTimeoutException again) {
                // It is asked once more.
            }
        }
        throw new IOException("no answer from " + host.getHostAddress() + " port " + port);
    }

    /**
     * Storage that is full when it is full, slow as the machine is slow, and cut where a fault cuts
     * it.
     */
    private final class Storage extends java.io.FilterOutputStream {
        private static final int PIECE = 65_536;
        private static final long SOME_WAY = 100_000;
        private long free = machine.flash().freeBytes();
        private long written;
        private final boolean cut = machine.takeOnce(Fault.CUTS_NEXT_COPY);
        private final boolean full = machine.takeOnce(Fault.RUNS_OUT_OF_ROOM);
        private boolean goesDown = machine.takeOnce(Fault.RESTARTS_IN_A_COPY);

        Storage(OutputStream out) {
            super(out);
        }

        @Override
        public void write(byte[] bytes, int offset, int length) throws IOException {
            for (int done = 0; done < length; done += PIECE) {
                int piece = Math.min(PIECE, length - done);
                free -= piece;
                boolean there =
                        written >= (expected > 0 ? expected * machine.troubleAt() / 100 : SOME_WAY);
                strike(there);
                out.write(bytes, offset + done, piece);
                written += piece;
                pause(machine.copyTime(piece).toNanos());
            }
        }

        private void strike(boolean there) throws IOException {
            if (free < 0 || (full && there)) {
                throw new IOException("no room left");
            }
            if (cut && there) {
                throw new IOException("the line was cut after " + written + " bytes");
            }
            if (goesDown && there) {
                goesDown = false;
                machine.powerCycle();
            }
            if (machine.power() != Machine.Power.RUNNING) {
                throw new IOException("going down");
            }
        }
    }
}
