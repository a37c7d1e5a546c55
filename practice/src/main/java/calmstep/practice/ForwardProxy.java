package calmstep.practice;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;

/**
 * A stand-in for the proxy that stands between a company and the world: opens tunnels (RFC 9110,
 * CONNECT) for whoever signs in.
 */
public final class ForwardProxy implements AutoCloseable {
    private final ServerSocket door;
    private final String expected;
    private final List<String> tunnels = Collections.synchronizedList(new ArrayList<>());

    private ForwardProxy(ServerSocket door, String expected) {
        this.door = door;
        this.expected = expected;
    }

    public static ForwardProxy open(String address, int port, String user, String password)
            throws IOException {
        String credentials =
                Base64.getEncoder()
                        .encodeToString((user + ":" + password).getBytes(StandardCharsets.UTF_8));
        ForwardProxy proxy =
                new ForwardProxy(
                        new ServerSocket(port, 16, InetAddress.getByName(address)),
                        "Proxy-Authorization: Basic " + credentials);
        Thread.ofVirtual().name("proxy").start(proxy::accept);
        return proxy;
    }

    /** Where tunnels led to, as {@code host:port}. */
    public List<String> tunnels() {
        return List.copyOf(tunnels);
    }

    private void accept() {
        while (!door.isClosed()) {
            try {
                Socket caller = door.accept();
                Thread.ofVirtual().start(() -> serve(caller));
            } catch (IOException closed) {
                return;
            }
        }
    }

    private void serve(Socket caller) {
        try (caller) {
            BufferedReader in = reader(caller);
            List<String> head = headOf(in);
            String[] words = head.isEmpty() ? new String[0] : head.getFirst().split(" ");
            if (words.length < 2 || !words[0].equals("CONNECT")) {
                say(caller, "405 Tunnels only");
            } else if (head.stream().noneMatch(expected::equalsIgnoreCase)) {
                say(caller, "407 Sign in\r\nProxy-Authenticate: Basic realm=\"practice\"");
            } else {
                tunnel(caller, words[1]);
            }
        } catch (IOException gone) {
            // One of both ends hung up; so does the tunnel.
        }
    }

    private static BufferedReader reader(Socket caller) throws IOException {
        BufferedReader in =
                new BufferedReader(
                        new InputStreamReader(caller.getInputStream(), StandardCharsets.ISO_8859_1),
                        1);
        return in;
    }

    private static List<String> headOf(BufferedReader in) throws IOException {
        List<String> head = new ArrayList<>();
        for (String line = in.readLine(); line != null && !line.isEmpty(); line = in.readLine()) {
            head.add(line);
        }
        return head;
    }

    private static void say(Socket caller, String status) throws IOException {
        caller.getOutputStream()
                .write(
                        "HTTP/1.1 %s\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
                                .formatted(status)
                                .getBytes(StandardCharsets.ISO_8859_1));
    }

    private void tunnel(Socket caller, String where) throws IOException {
        String[] parts = where.split(":");
        try (Socket far = new Socket(parts[0], Integer.parseInt(parts[1]))) {
            tunnels.add(where);
            caller.getOutputStream()
                    .write("HTTP/1.1 200 Open\r\n\r\n".getBytes(StandardCharsets.ISO_8859_1));
            Thread back = Thread.ofVirtual().start(() -> pour(far, caller));
            pour(caller, far);
            back.interrupt();
        }
    }

    private static void pour(Socket from, Socket to) {
        try {
            from.getInputStream().transferTo(to.getOutputStream());
            to.shutdownOutput();
        } catch (IOException gone) {
            // One end hung up: there is nobody left to answer.
        }
    }

    @Override
    public void close() throws IOException {
        door.close();
    }
}
