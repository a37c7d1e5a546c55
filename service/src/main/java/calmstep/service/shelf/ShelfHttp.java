package calmstep.service.shelf;

import calmstep.service.Settings;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.regex.Pattern;
import java.util.regex.Matcher;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Serves images to devices over HTTP: GET and HEAD of plain names, whole or from the middle on, nothing else. */
@Component
class ShelfHttp {
    private static final int PIECE = 256 * 1024;
    private static final Logger LOG = LoggerFactory.getLogger(ShelfHttp.class);

    private final Shelf shelf;
    private final Copies copies;
    private final HttpServer server;

    ShelfHttp(Shelf shelf, Copies copies, Settings settings) throws IOException {
        this.shelf = shelf;
        this.copies = copies;
        InetSocketAddress address = new InetSocketAddress(settings.shelf().address(), settings.shelf().httpPort());
        try {
            server = HttpServer.create(address, 64);
        } catch (IOException taken) {
            throw new IOException("The shelf cannot listen on %s: %s. Another program has the port, or the address is not of this machine."
                    .formatted(address, taken.getMessage()), taken);
        }
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server.createContext("/", this::serve);
    }

    @EventListener(ApplicationReadyEvent.class)
    void start() {
        server.start();
    }

    @PreDestroy
    void stop() {
        server.stop(0);
    }

    private void serve(HttpExchange exchange) throws IOException {
        String device = exchange.getRemoteAddress().getAddress().getHostAddress();
        try (exchange) {
            boolean head = exchange.getRequestMethod().equals("HEAD");
            if (!head && !exchange.getRequestMethod().equals("GET")) {
                exchange.sendResponseHeaders(405, -1);
                return;
            }
            Optional<Path> file = shelf.servable(exchange.getRequestURI().getPath().substring(1), device);
            if (file.isEmpty()) {
                LOG.warn("{} asked the shelf for {} and was refused", device, exchange.getRequestURI().getPath());
                exchange.sendResponseHeaders(404, -1);
            } else {
                send(exchange, device, file.get(), head);
            }
        }
    }

    /** A device that was cut off may ask for the rest alone: one stretch of bytes (RFC 9110, section 14). What is asked otherwise gets the whole file. */
    private void send(HttpExchange exchange, String device, Path file, boolean head) throws IOException {
        long size = Files.size(file);
        exchange.getResponseHeaders().set("Content-Type", "application/octet-stream");
        exchange.getResponseHeaders().set("Accept-Ranges", "bytes");
        Optional<Stretch> asked = Optional.ofNullable(exchange.getRequestHeaders().getFirst("Range")).flatMap(text -> Stretch.of(text, size));
        if (asked.isPresent() && asked.get().length() <= 0) {
            exchange.getResponseHeaders().set("Content-Range", "bytes */" + size);
            exchange.sendResponseHeaders(416, -1);
            return;
        }
        Stretch stretch = asked.orElse(new Stretch(0, size));
        if (asked.isPresent()) {
            exchange.getResponseHeaders().set("Content-Range", "bytes %d-%d/%d".formatted(stretch.from(), stretch.from() + stretch.length() - 1, size));
        }
        int status = asked.isPresent() ? 206 : 200;
        if (head) {
            exchange.getResponseHeaders().set("Content-Length", String.valueOf(stretch.length()));
            exchange.sendResponseHeaders(status, -1);
            return;
        }
        exchange.sendResponseHeaders(status, stretch.length() == 0 ? -1 : stretch.length());
        try (Copy copy = copies.begin(file.getFileName().toString(), device, "http", stretch.from(), stretch.from() + stretch.length()); FileChannel channel = FileChannel.open(file); OutputStream out = exchange.getResponseBody()) {
            channel.position(stretch.from());
            ByteBuffer piece = ByteBuffer.allocate(copy.pieceOf(PIECE));
            for (long left = stretch.length(); left > 0 && channel.read(piece.clear().limit((int) Math.min(piece.capacity(), left))) > 0; left -= piece.position()) {
                copy.sends(piece.position());
                out.write(piece.array(), 0, piece.position());
            }
        }
    }

    /** @param length zero or less where the file has no such bytes */
    private record Stretch(long from, long length) {
        private static final Pattern ONE = Pattern.compile("bytes=(\\d{0,18})-(\\d{0,18})");

        static Optional<Stretch> of(String asked, long size) {
            Matcher one = ONE.matcher(asked.strip());
            if (!one.matches() || one.group(1).isEmpty() && one.group(2).isEmpty()) {
                return Optional.empty();
            }
            if (one.group(1).isEmpty()) {
                long last = Math.min(size, Long.parseLong(one.group(2)));
                return Optional.of(new Stretch(size - last, last));
            }
            long from = Long.parseLong(one.group(1));
            long to = one.group(2).isEmpty() ? size - 1 : Math.min(size - 1, Long.parseLong(one.group(2)));
            return Optional.of(new Stretch(from, to - from + 1));
        }
    }
}
