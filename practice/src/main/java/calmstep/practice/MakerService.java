package calmstep.practice;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A stand-in for the download service of a maker: HTTPS with a certificate of its own, a sign-in, a
 * numbered list of what was published, and files that can be asked for from the middle on. What it
 * publishes are catalogue texts and image files that lie in folders.
 */
public final class MakerService implements AutoCloseable {
    private static final Pattern FIELD =
            Pattern.compile("\"(user|password)\"\\s*:\\s*\"([^\"]*)\"");
    private static final Pattern RANGE = Pattern.compile("bytes=(\\d+)-");
    private static final Pattern FAMILY = Pattern.compile("(?m)^family: *(\\S+)");

    private final HttpsServer server;
    private final Map<String, String> people;
    private final List<Item> items = new ArrayList<>();
    private final Set<String> tokens = ConcurrentHashMap.newKeySet();
    private final Map<String, Integer> cutAtPercent = new ConcurrentHashMap<>();
    private final Set<String> damaged = ConcurrentHashMap.newKeySet();
    private final List<String> asked = java.util.Collections.synchronizedList(new ArrayList<>());

    private record Item(
            int number, String kind, String family, Path file, long sizeBytes, String sha256) {
        String json() {
            return "{\"number\":%s,\"kind\":\"%s\",\"family\":\"%s\",\"file\":\"%s\",\"sizeBytes\":%s,\"sha256\":\"%s\"}"
                    .formatted(number, kind, family, file.getFileName(), sizeBytes, sha256);
        }
    }

    private MakerService(HttpsServer server, Map<String, String> people) {
        this.server = server;
        this.people = Map.copyOf(people);
    }

    /**
     * Opens the service; it publishes nothing yet.
     *
     * @param certificate where its certificate is written, for whoever is to trust it
     * @param people names and passwords
     */
    public static MakerService open(
            String address, int port, Path certificate, Map<String, String> people)
            throws IOException, GeneralSecurityException {
        HttpsServer server =
                HttpsServer.create(new InetSocketAddress(InetAddress.getByName(address), port), 16);
        server.setHttpsConfigurator(
                new HttpsConfigurator(OwnCertificate.contextFor(address, certificate)));
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        MakerService maker = new MakerService(server, people);
        server.createContext("/sign-in", exchange -> maker.answer(exchange, maker::signIn));
        server.createContext("/published", exchange -> maker.answer(exchange, maker::published));
        server.createContext("/files/", exchange -> maker.answer(exchange, maker::file));
        server.start();
        return maker;
    }

    /** Publishes a catalogue text ({@code .yaml}) or an image. */
    public synchronized MakerService publish(Path file) throws IOException {
        boolean catalogue = file.toString().endsWith(".yaml");
        Matcher family = FAMILY.matcher(catalogue ? Files.readString(file) : "");
        items.add(
                new Item(
                        items.size() + 1,
                        catalogue ? "catalogue" : "image",
                        family.find() ? family.group(1) : "",
                        file,
                        Files.size(file),
                        Flash.sha256(file).orElseThrow()));
        return this;
    }

    /** The next answer with this file ends in the middle. */
    public void cutNext(String file, int atPercent) {
        cutAtPercent.put(file, atPercent);
    }

    /** Every answer with this file has one wrong byte in it. */
    public void damage(String file) {
        damaged.add(file);
    }

    /** Nobody is signed in any more. */
    public void expireTokens() {
        tokens.clear();
    }

    /** What was asked for, as {@code name from byte}. */
    public List<String> asked() {
        return List.copyOf(asked);
    }

    private interface Answers {
        void to(HttpExchange exchange) throws IOException;
    }

    private void answer(HttpExchange exchange, Answers answers) {
        try (exchange) {
            boolean open =
                    exchange.getRequestURI().getPath().equals("/sign-in")
                            || Optional.ofNullable(
                                            exchange.getRequestHeaders().getFirst("Authorization"))
                                    .filter(a -> tokens.contains(a.replace("Bearer ", "")))
                                    .isPresent();
            if (open) {
                answers.to(exchange);
            } else {
                text(exchange, 401, "{\"says\":\"sign in first\"}");
            }
        } catch (IOException gone) {
            // The caller hung up, or we cut the answer off: nobody is left to be told.
        }
    }

    private void signIn(HttpExchange exchange) throws IOException {
        Map<String, String> said = new ConcurrentHashMap<>();
        FIELD.matcher(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8))
                .results()
                .forEach(m -> said.put(m.group(1), m.group(2)));
        String password = people.get(said.getOrDefault("user", ""));
        if (password == null || !password.equals(said.get("password"))) {
            text(exchange, 401, "{\"says\":\"this user and password are not known\"}");
            return;
        }
        String token = UUID.randomUUID().toString();
        tokens.add(token);
        text(exchange, 200, "{\"token\":\"%s\"}".formatted(token));
    }

    private synchronized void published(HttpExchange exchange) throws IOException {
        String query = Optional.ofNullable(exchange.getRequestURI().getQuery()).orElse("after=0");
        int after = Integer.parseInt(query.replaceAll("\\D", "0"));
        List<String> newer =
                items.stream().filter(i -> i.number() > after).map(Item::json).toList();
        text(
                exchange,
                200,
                "{\"newest\":%s,\"items\":[%s]}".formatted(items.size(), String.join(",", newer)));
    }

    private synchronized Optional<Item> find(String name) {
        return items.reversed().stream()
                .filter(i -> i.file().getFileName().toString().equals(name))
                .findFirst();
    }

    private void file(HttpExchange exchange) throws IOException {
        String name =
                URLDecoder.decode(
                        exchange.getRequestURI().getRawPath().substring("/files/".length()),
                        StandardCharsets.UTF_8);
        Optional<Item> found = find(name);
        if (found.isEmpty()) {
            text(exchange, 404, "{\"says\":\"no such file\"}");
            return;
        }
        Item item = found.get();
        String mark = "\"" + item.sha256() + "\"";
        Matcher range =
                RANGE.matcher(
                        Optional.ofNullable(exchange.getRequestHeaders().getFirst("Range"))
                                .orElse(""));
        boolean same =
                Optional.ofNullable(exchange.getRequestHeaders().getFirst("If-Range"))
                        .map(mark::equals)
                        .orElse(true);
        long from =
                range.matches() && same
                        ? Math.min(Long.parseLong(range.group(1)), item.sizeBytes())
                        : 0;
        asked.add("%s from %s".formatted(name, from));
        exchange.getResponseHeaders().set("ETag", mark);
        if (from > 0) {
            exchange.getResponseHeaders()
                    .set(
                            "Content-Range",
                            "bytes %s-%s/%s"
                                    .formatted(from, item.sizeBytes() - 1, item.sizeBytes()));
        }
        exchange.sendResponseHeaders(
                from > 0 ? 206 : 200, item.sizeBytes() == from ? -1 : item.sizeBytes() - from);
        send(exchange.getResponseBody(), item, from);
    }

    private void send(OutputStream out, Item item, long from) throws IOException {
        String name = item.file().getFileName().toString();
        byte[] bytes = Files.readAllBytes(item.file());
        if (damaged.contains(name)) {
            bytes[bytes.length / 2] ^= 1;
        }
        Integer cut = cutAtPercent.remove(name);
        int end = cut == null ? bytes.length : (int) (bytes.length * (long) cut / 100);
        out.write(bytes, (int) from, Math.max(0, end - (int) from));
        out.flush();
        if (cut != null) {
            throw new IOException("cut off, as asked for");
        }
    }

    private static void text(HttpExchange exchange, int status, String json) throws IOException {
        byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
        exchange.getResponseHeaders().set("Content-Type", "application/json");
        exchange.sendResponseHeaders(status, bytes.length);
        exchange.getResponseBody().write(bytes);
    }

    @Override
    public void close() {
        server.stop(0);
    }

    /**
     * {@code ADDRESS PORT CERTIFICATE USER PASSWORD FOLDER…}: publishes every catalogue and image
     * of the folders until the process is ended.
     */
    public static void main(String[] arguments) throws Exception {
        if (arguments.length < 6) {
            System.err.println("usage: ADDRESS PORT CERTIFICATE USER PASSWORD FOLDER…");
            System.exit(2);
        }
        MakerService maker =
                open(
                        arguments[0],
                        Integer.parseInt(arguments[1]),
                        Path.of(arguments[2]),
                        Map.of(arguments[3], arguments[4]));
        publishAll(arguments, maker);
        System.out.printf("The maker's service publishes %s files.%n", maker.items.size());
        Thread.currentThread().join();
    }

    private static void publishAll(String[] arguments, MakerService maker) throws IOException {
        for (int i = 5; i < arguments.length; i++) {
            try (var files = Files.list(Path.of(arguments[i]))) {
                for (Path file : files.filter(Files::isRegularFile).sorted().toList()) {
                    maker.publish(file);
                }
            }
        }
    }
}
