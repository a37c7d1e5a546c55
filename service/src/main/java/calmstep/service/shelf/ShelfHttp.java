package calmstep.service.shelf;

import calmstep.service.Settings;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Serves images to devices over HTTP: GET and HEAD of plain names, nothing else. */
@Component
class ShelfHttp {
    private static final Logger LOG = LoggerFactory.getLogger(ShelfHttp.class);

    private final Shelf shelf;
    private final HttpServer server;

    ShelfHttp(Shelf shelf, Settings settings) throws IOException {
        this.shelf = shelf;
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
            } else if (head) {
                exchange.getResponseHeaders().set("Content-Length", String.valueOf(Files.size(file.get())));
                exchange.sendResponseHeaders(200, -1);
            } else {
                exchange.getResponseHeaders().set("Content-Type", "application/octet-stream");
                exchange.sendResponseHeaders(200, Files.size(file.get()));
                Files.copy(file.get(), exchange.getResponseBody());
            }
        }
    }
}
