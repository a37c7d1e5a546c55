package calmstep.practice;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;

/**
 * Faults by hand while a fleet plays, over HTTP on loopback: {@code GET /} tells the machines and
 * the faults that there are, {@code POST /MACHINE/FAULT} asks for one, {@code POST /MACHINE/none}
 * ends all of it, {@code POST /MACHINE/power} pulls the plug and puts it back, {@code POST
 * /MACHINE/leaves/FILE/BYTES} has somebody leave a file there. {@code GET /mail} shows what came to
 * the mailbox.
 */
final class ByHand implements AutoCloseable {
    private final PracticeFleet fleet;
    private final Optional<Mailbox> mailbox;
    private final HttpServer server;

    private ByHand(PracticeFleet fleet, Optional<Mailbox> mailbox, HttpServer server) {
        this.fleet = fleet;
        this.mailbox = mailbox;
        this.server = server;
    }

    static ByHand open(PracticeFleet fleet, Optional<Mailbox> mailbox, int port)
            throws IOException {
        HttpServer server =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 8);
        ByHand byHand = new ByHand(fleet, mailbox, server);
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server.createContext("/", byHand::answer);
        server.start();
        return byHand;
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            int status = 200;
            String text;
            try {
                text = textFor(exchange);
            } catch (IllegalArgumentException wrong) {
                status = 400;
                text = "%s%nFaults: %s%n".formatted(wrong.getMessage(), faults());
            }
            byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, bytes.length);
            try (OutputStream out = exchange.getResponseBody()) {
                out.write(bytes);
            }
        }
    }

    private String textFor(HttpExchange exchange) {
        String path = exchange.getRequestURI().getPath();
        return exchange.getRequestMethod().equals("POST")
                ? obey(path.split("/"))
                : path.equals("/mail") ? mail() : overview();
    }

    private String obey(String[] path) {
        if (path.length == 5 && path[2].equals("replace")) {
            fleet.replace(path[1], path[3], path[4]);
            return "%s: %s stands there now%n".formatted(path[1], path[3]);
        }
        if (path.length == 6 && path[2].equals("replace")) {
            fleet.replaceMember(path[1], member(path[3]), path[4], path[5]);
            return "%s: member %s is %s now%n".formatted(path[1], path[3], path[4]);
        }
        if (path.length == 5 && path[2].equals("leaves")) {
            fleet.leave(path[1], path[3], bytes(path[4]));
            return "%s: %s lies there now%n".formatted(path[1], path[3]);
        }
        if (path.length != 3 && path.length != 4) {
            throw new IllegalArgumentException(
                    "Expected POST /MACHINE/FAULT, /MACHINE/FAULT/PERCENT (of a copy),"
                        + " /MACHINE/none, /MACHINE/power, /MACHINE/colleague (who saves a line),"
                        + " /MACHINE/leaves/FILE/BYTES (so does a colleague),"
                        + " /MACHINE/replace/SERIAL/IMAGE or"
                        + " /MACHINE/replace/MEMBER/SERIAL/IMAGE.");
        }
        fleet.machine(path[1]);
        if (path.length == 4) {
            fleet.troubleAt(path[1], percent(path[3]));
        }
        obeyWord(path);
        return "%s: %s%n".formatted(path[1], path[2]);
    }

    private void obeyWord(String[] path) {
        switch (path[2]) {
            case "none" -> fleet.clearFaults(path[1]);
            case "power" -> fleet.machine(path[1]).powerCycle();
            case "colleague" -> {
                fleet.machine(path[1]).changeSettings("note \"seen to by a colleague\"");
                fleet.machine(path[1]).keepSettings();
            }
            default -> fleet.add(path[1], Fault.parse(path[2]));
        }
    }

    private static long bytes(String text) {
        if (!text.matches("\\d{1,12}")) {
            throw new IllegalArgumentException(
                    "Expected a number of bytes, saw \"%s\".".formatted(text));
        }
        return Long.parseLong(text);
    }

    private static int member(String text) {
        if (!text.matches("\\d{1,2}")) {
            throw new IllegalArgumentException(
                    "Expected a member's number, counted from 1; saw \"%s\".".formatted(text));
        }
        return Integer.parseInt(text);
    }

    private static int percent(String text) {
        if (!text.matches("\\d{1,2}")) {
            throw new IllegalArgumentException(
                    "Expected how far the copy comes, from 0 to 99 percent; saw \"%s\"."
                            .formatted(text));
        }
        return Integer.parseInt(text);
    }

    private String mail() {
        return mailbox.map(Mailbox::mails).orElse(List.of()).stream()
                .map(mail -> "to %s%n%s%n".formatted(String.join(", ", mail.to()), mail.text()))
                .collect(Collectors.joining());
    }

    private String overview() {
        return fleet.names().stream()
                        .map(
                                name ->
                                        "%-22s %-18s %s%n"
                                                .formatted(
                                                        name,
                                                        fleet.machine(name).release(),
                                                        fleet.machine(name).power()))
                        .collect(Collectors.joining())
                + "faults: "
                + faults()
                + "\n";
    }

    private static String faults() {
        return Arrays.stream(Fault.values()).map(Fault::toString).collect(Collectors.joining(", "));
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
