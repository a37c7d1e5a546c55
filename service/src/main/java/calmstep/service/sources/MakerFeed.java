package calmstep.service.sources;

import calmstep.service.problems.Refusal;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Authenticator;
import java.net.InetSocketAddress;
import java.net.PasswordAuthentication;
import java.net.ProxySelector;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.LongConsumer;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The line to a maker's download service: signs in, asks what was published, downloads, and goes on
 * where a download was cut.
 */
final class MakerFeed implements AutoCloseable {
    private static final Duration CONNECTS_WITHIN = Duration.ofSeconds(10);
    private static final Duration ANSWERS_WITHIN = Duration.ofSeconds(60);
    private static final int UNAUTHORIZED = 401;

    /**
     * How a source is reached.
     *
     * @param certificate PEM of the certificate, or of the authority, that is trusted for it alone;
     *     empty trusts what the JDK trusts
     * @param proxy {@code host:port}; empty for none
     */
    record Reached(
            String name,
            URI url,
            String user,
            String password,
            String certificate,
            String proxy,
            String proxyUser,
            String proxyPassword) {}

    /** A published file. */
    record Published(
            int number, String kind, String family, String file, long sizeBytes, String sha256) {
        /**
         * Names and digests become names of our own files: only what is plainly one is believed.
         */
        boolean isPlain() {
            return sizeBytes > 0
                    && sha256.matches("[0-9a-f]{64}")
                    && file.matches("[A-Za-z0-9][A-Za-z0-9._+-]*");
        }
    }

    private final Reached reached;
    private final HttpClient http;
    private final JsonMapper json = JsonMapper.shared();
    private String token = "";

    MakerFeed(Reached reached) {
        this.reached = reached;
        HttpClient.Builder builder =
                HttpClient.newBuilder()
                        .connectTimeout(CONNECTS_WITHIN)
                        .version(HttpClient.Version.HTTP_1_1)
                        .followRedirects(HttpClient.Redirect.NEVER);
        if (!reached.certificate().isEmpty()) {
            builder.sslContext(trusting(reached.certificate()));
        }
        if (!reached.proxy().isEmpty()) {
            String[] parts = reached.proxy().split(":");
            builder.proxy(
                    ProxySelector.of(
                            InetSocketAddress.createUnresolved(
                                    parts[0], Integer.parseInt(parts[1]))));
        }
        if (!reached.proxyUser().isEmpty()) {
            builder.authenticator(
                    new Authenticator() {
                        @Override
                        protected PasswordAuthentication getPasswordAuthentication() {
                            return getRequestorType() == RequestorType.PROXY
                                    ? new PasswordAuthentication(
                                            reached.proxyUser(),
                                            reached.proxyPassword().toCharArray())
                                    : new PasswordAuthentication("", new char[0]);
                        }
                    });
        }
        http = builder.build();
    }

    /**
     * @throws IllegalArgumentException when the text is no certificate
     */
    static SSLContext trusting(String pem) {
        try {
            KeyStore trusted = KeyStore.getInstance("PKCS12");
            trusted.load(null, null);
            int number = 0;
            for (Certificate certificate :
                    CertificateFactory.getInstance("X.509")
                            .generateCertificates(
                                    new ByteArrayInputStream(
                                            pem.getBytes(StandardCharsets.US_ASCII)))) {
                trusted.setCertificateEntry("trusted-" + number++, certificate);
            }
            if (number == 0) {
                throw new CertificateException("there is none in it");
            }
            TrustManagerFactory managers =
                    TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            managers.init(trusted);
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, managers.getTrustManagers(), null);
            return context;
        } catch (GeneralSecurityException | IOException noCertificate) {
            throw new IllegalArgumentException(
                    "Expected a certificate as PEM, saw something else: %s."
                            .formatted(noCertificate.getMessage()),
                    noCertificate);
        }
    }

    /** What was published behind a number. */
    List<Published> publishedAfter(int number) {
        JsonNode answer = json("/published?after=" + number);
        try {
            List<Published> published =
                    answer.path("items")
                            .valueStream()
                            .map(
                                    i ->
                                            new Published(
                                                    i.path("number").asInt(),
                                                    i.path("kind").asString(),
                                                    i.path("family").asString(""),
                                                    i.path("file").asString(),
                                                    i.path("sizeBytes").asLong(),
                                                    i.path("sha256").asString()))
                            .toList();
            if (!published.stream().allMatch(Published::isPlain)) {
                throw notAFeed();
            }
            return published;
        } catch (JacksonException incomplete) {
            throw notAFeed();
        }
    }

    private JsonNode json(String path) {
        try {
            return json.readTree(text(send(path, Map.of())));
        } catch (JacksonException notJson) {
            throw notAFeed();
        }
    }

    private Refusal notAFeed() {
        return Refusal.conflict(
                "Expected a list of what was published from the source %s, got something else. Look at its address %s."
                        .formatted(reached.name(), reached.url()));
    }

    private static String text(HttpResponse<InputStream> answer) {
        try (InputStream in = answer.body()) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException cut) {
            throw Refusal.conflict(
                    "The source's answer was cut off: %s. Ask again.".formatted(cut.getMessage()));
        }
    }

    /** Signs in when it must: at first, and again when the source has forgotten us. */
    private HttpResponse<InputStream> send(String path, Map<String, String> headers) {
        if (token.isEmpty()) {
            signIn();
        }
        HttpResponse<InputStream> answer = get(path, headers);
        if (answer.statusCode() == UNAUTHORIZED) {
            close(answer);
            signIn();
            answer = get(path, headers);
        }
        if (answer.statusCode() >= 400) {
            close(answer);
            throw Refusal.conflict(
                    "The source %s answers %s to %s. Look whether it still publishes that."
                            .formatted(reached.name(), answer.statusCode(), path));
        }
        return answer;
    }

    /** What a proxy refuses may come without any body. */
    private static void close(HttpResponse<InputStream> answer) {
        try {
            InputStream body = answer.body();
            if (body != null) {
                body.close();
            }
        } catch (IOException alreadyGone) {
            // It is gone already, which is what closing is for.
        }
    }

    private void signIn() {
        HttpRequest request =
                HttpRequest.newBuilder(reached.url().resolve("/sign-in"))
                        .timeout(ANSWERS_WITHIN)
                        .header("Content-Type", "application/json")
                        .POST(
                                BodyPublishers.ofString(
                                        json.writeValueAsString(
                                                Map.of(
                                                        "user",
                                                        reached.user(),
                                                        "password",
                                                        reached.password()))))
                        .build();
        HttpResponse<InputStream> answer = exchange(request);
        if (answer.statusCode() == UNAUTHORIZED) {
            close(answer);
            throw Refusal.conflict(
                    "The source %s refuses the user \"%s\" or the password. Set them again with: calmstep shelf source %s …"
                            .formatted(reached.name(), reached.user(), reached.name()));
        }
        String said = text(answer);
        try {
            token = json.readTree(said).path("token").asString("");
        } catch (JacksonException notJson) {
            token = "";
        }
        if (token.isEmpty()) {
            throw notAFeed();
        }
    }

    private HttpResponse<InputStream> get(String path, Map<String, String> headers) {
        HttpRequest.Builder request =
                HttpRequest.newBuilder(reached.url().resolve(path))
                        .timeout(ANSWERS_WITHIN)
                        .header("Authorization", "Bearer " + token);
        headers.forEach(request::header);
        return exchange(request.build());
    }

    private HttpResponse<InputStream> exchange(HttpRequest request) {
        try {
            HttpResponse<InputStream> answer = http.send(request, BodyHandlers.ofInputStream());
            if (answer.statusCode() == 407) {
                close(answer);
                throw proxyRefuses();
            }
            return answer;
        } catch (javax.net.ssl.SSLException untrusted) {
            throw Refusal.conflict(
                    "The source %s at %s shows a certificate that is not trusted here (%s). Nothing was sent. If it is the right one, give it with --certificate."
                            .formatted(reached.name(), reached.url(), untrusted.getMessage()));
        } catch (IOException lost) {
            if (String.valueOf(lost.getMessage()).contains("407")
                    || String.valueOf(lost.getMessage())
                            .contains("too many authentication attempts")) {
                throw proxyRefuses();
            }
            throw Refusal.conflict(
                    "The source %s at %s does not answer%s: %s. Look at the line, then ask again."
                            .formatted(
                                    reached.name(),
                                    reached.url(),
                                    reached.proxy().isEmpty()
                                            ? ""
                                            : " through the proxy " + reached.proxy(),
                                    lost.getMessage() == null
                                            ? lost.getClass().getSimpleName()
                                            : lost.getMessage()));
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw Refusal.conflict("Asking the source %s was stopped.".formatted(reached.name()));
        }
    }

    private Refusal proxyRefuses() {
        return Refusal.conflict(
                "The proxy %s refuses the user \"%s\" or the password. Set them again with: calmstep shelf source %s …"
                        .formatted(reached.proxy(), reached.proxyUser(), reached.name()));
    }

    /**
     * One stretch of a download: from where {@code part} ends, as far as it comes.
     *
     * @param part what came so far; made when it is not there
     * @param told hears how many bytes are there
     * @param stopped looked at between two pieces
     * @return whether the file is whole
     * @throws IOException when the line was cut; what came until then is in {@code part}
     */
    boolean goOn(Published file, Path part, LongConsumer told, AtomicBoolean stopped)
            throws IOException {
        long have = Files.exists(part) ? Files.size(part) : 0;
        if (have >= file.sizeBytes()) {
            return true;
        }
        String path =
                "/files/"
                        + URLEncoder.encode(file.file(), StandardCharsets.UTF_8)
                                .replace("+", "%20");
        HttpResponse<InputStream> answer =
                send(
                        path,
                        have == 0
                                ? Map.of()
                                : Map.of(
                                        "Range",
                                        "bytes=%s-".formatted(have),
                                        "If-Range",
                                        "\"" + file.sha256() + "\""));
        boolean goesOn =
                answer.statusCode() == 206
                        && Optional.of(answer.headers().firstValue("Content-Range").orElse(""))
                                .filter(r -> r.startsWith("bytes %s-".formatted(have)))
                                .isPresent();
        long there = goesOn ? have : 0;
        try (InputStream in = answer.body();
                OutputStream out =
                        Files.newOutputStream(
                                part,
                                StandardOpenOption.CREATE,
                                StandardOpenOption.WRITE,
                                goesOn
                                        ? StandardOpenOption.APPEND
                                        : StandardOpenOption.TRUNCATE_EXISTING)) {
            byte[] buffer = new byte[65_536];
            for (int count = in.read(buffer);
                    count >= 0 && !stopped.get();
                    count = in.read(buffer)) {
                out.write(buffer, 0, count);
                there += count;
                told.accept(there);
                if (there > file.sizeBytes()) {
                    return true;
                }
            }
        }
        return there >= file.sizeBytes();
    }

    @Override
    public void close() {
        http.close();
    }
}
