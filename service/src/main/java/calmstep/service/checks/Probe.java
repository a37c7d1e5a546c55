package calmstep.service.checks;

import calmstep.core.check.OwnCheck;
import calmstep.core.check.OwnCheck.Expectation;
import calmstep.core.fleet.Reading;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.Arrays;
import java.util.Hashtable;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import javax.naming.Context;
import javax.naming.NamingException;
import javax.naming.directory.Attribute;
import javax.naming.directory.InitialDirContext;
import org.springframework.stereotype.Component;

/**
 * Tries one check from this machine. What is seen is told in few and steady words, since it is
 * compared before and after.
 */
@Component
class Probe {
    private static final Duration WITHIN = Duration.ofSeconds(3);
    private static final String NO_ANSWER = "no answer";

    private final HttpClient client =
            HttpClient.newBuilder()
                    .connectTimeout(WITHIN)
                    .followRedirects(HttpClient.Redirect.NORMAL)
                    .build();

    /**
     * @return {@value OwnCheck#OK}, or what was seen instead
     */
    String tried(Expectation expectation, Optional<Reading> reading) {
        try {
            return switch (expectation) {
                case Expectation.Answers(String address) ->
                        InetAddress.getByName(address).isReachable((int) WITHIN.toMillis())
                                ? OwnCheck.OK
                                : NO_ANSWER;
                case Expectation.Accepts(String address, int port) -> accepts(address, port);
                case Expectation.Loads(URI page, Optional<String> shows) -> loads(page, shows);
                case Expectation.Resolves(
                                String host,
                                Optional<String> address,
                                Optional<String> server) ->
                        resolves(host, address, server);
                case Expectation.Reaches asked ->
                        throw new IllegalArgumentException(
                                "%s is asked of the device itself".formatted(asked));
                case Expectation.Counts counts ->
                        reading.map(read -> OwnCheck.counted(counts, read)).orElse("not read");
            };
        } catch (IOException lost) {
            return NO_ANSWER;
        }
    }

    private static String accepts(String address, int port) throws IOException {
        try (Socket socket = new Socket()) {
            socket.connect(
                    new InetSocketAddress(InetAddress.getByName(address), port),
                    (int) WITHIN.toMillis());
            return OwnCheck.OK;
        }
    }

    private String loads(URI page, Optional<String> shows) throws IOException {
        try {
            HttpResponse<String> answer =
                    client.send(
                            HttpRequest.newBuilder(page).timeout(WITHIN).build(),
                            HttpResponse.BodyHandlers.ofString());
            if (answer.statusCode() != 200) {
                return "it answers %s".formatted(answer.statusCode());
            }
            return shows.stream().allMatch(answer.body()::contains) ? OwnCheck.OK : "another page";
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            return NO_ANSWER;
        }
    }

    private static String resolves(String host, Optional<String> address, Optional<String> server)
            throws IOException {
        List<String> found =
                server.isPresent()
                        ? asked(host, server.get())
                        : Arrays.stream(InetAddress.getAllByName(host))
                                .map(InetAddress::getHostAddress)
                                .toList();
        if (found.isEmpty()) {
            return NO_ANSWER;
        }
        return address.stream().allMatch(found::contains)
                ? OwnCheck.OK
                : found.stream().sorted().collect(Collectors.joining(" and "));
    }

    /**
     * Asks one server, and no other: the machine's own resolver would ask its cache. The provider
     * takes a Hashtable and nothing else.
     */
    // Only the DNS provider is named here, which makes texts of records and never an object.
    @SuppressWarnings({"BanJNDI", "JdkObsolete"})
    private static List<String> asked(String host, String server) {
        Hashtable<String, String> how = new Hashtable<>();
        how.put(Context.INITIAL_CONTEXT_FACTORY, "com.sun.jndi.dns.DnsContextFactory");
        how.put(Context.PROVIDER_URL, "dns://" + server);
        how.put("com.sun.jndi.dns.timeout.initial", String.valueOf(WITHIN.toMillis()));
        how.put("com.sun.jndi.dns.timeout.retries", "1");
        try {
            InitialDirContext asked = new InitialDirContext(how);
            try {
                return addresses(asked, host);
            } finally {
                asked.close();
            }
        } catch (NamingException nothing) {
            return List.of();
        }
    }

    @SuppressWarnings("BanJNDI") // As above: it makes texts of records.
    private static List<String> addresses(InitialDirContext asked, String host)
            throws NamingException {
        Attribute found = asked.getAttributes(host, new String[] {"A"}).get("A");
        return found == null
                ? List.of()
                : java.util.Collections.list(found.getAll()).stream().map(String::valueOf).toList();
    }
}
