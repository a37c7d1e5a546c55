package calmstep.service.notices;

import calmstep.service.json.Json;
import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.util.HexFormat;
import java.util.Optional;
import java.util.function.UnaryOperator;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.springframework.stereotype.Component;

/** Brings one notice to one address. */
@Component
class Postman {
    private static final Duration WITHIN = Duration.ofSeconds(5);

    /** Facility local0, RFC 5424 section 6.2.1. */
    private static final int FACILITY = 16;

    private static final int WARNING = 4;
    private static final int NOTICE = 5;

    private final HttpClient client =
            HttpClient.newBuilder()
                    .connectTimeout(WITHIN)
                    .followRedirects(HttpClient.Redirect.NEVER)
                    .build();
    private final Json json;

    Postman(Json json) {
        this.json = json;
    }

    /**
     * @throws IOException with words for people, when it was not taken
     */
    void bring(Notice notice, URI address, Optional<String> secret) throws IOException {
        switch (address.getScheme()) {
            case "udp" -> overUdp(syslog(notice), address);
            case "tcp" -> overTcp(syslog(notice), address);
            default -> post(notice, address, secret);
        }
    }

    private void post(Notice notice, URI address, Optional<String> secret) throws IOException {
        int status =
                send(
                        "POST",
                        address,
                        json.write(notice),
                        secret,
                        request -> request.header("Idempotency-Key", String.valueOf(notice.id())));
        if (status < 200 || status > 299) {
            throw new IOException("it answers %s; expected 200 to 299".formatted(status));
        }
    }

    /**
     * Asks another system, whatever it says.
     *
     * @param body written as JSON; empty for none
     * @return the status of its answer
     * @throws IOException with words for people, when nobody answers
     */
    int ask(String method, URI address, Optional<? extends Object> body, Optional<String> secret)
            throws IOException {
        return send(method, address, body.map(json::write).orElse(""), secret, request -> request);
    }

    private int send(
            String method,
            URI address,
            String body,
            Optional<String> secret,
            UnaryOperator<HttpRequest.Builder> more)
            throws IOException {
        HttpRequest.Builder request = request(more, address, method, body, secret);
        try {
            return client.send(request.build(), HttpResponse.BodyHandlers.discarding())
                    .statusCode();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw new IOException("we were told to stop", stop);
        } catch (java.net.ConnectException refused) {
            throw new IOException("nobody answers there", refused);
        }
    }

    private static HttpRequest.Builder request(
            UnaryOperator<HttpRequest.Builder> more,
            URI address,
            String method,
            String body,
            Optional<String> secret) {
        HttpRequest.Builder request =
                more.apply(
                        HttpRequest.newBuilder(address)
                                .timeout(WITHIN)
                                .header("Content-Type", "application/json")
                                .method(
                                        method,
                                        body.isEmpty()
                                                ? HttpRequest.BodyPublishers.noBody()
                                                : HttpRequest.BodyPublishers.ofString(body)));
        secret.ifPresent(
                shared ->
                        request.header("Calm-Step-Signature", "sha256=" + signature(shared, body)));
        return request;
    }

    /** HMAC (RFC 2104) with SHA-256 over the body. */
    static String signature(String secret, String body) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
            return HexFormat.of().formatHex(mac.doFinal(body.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException impossible) {
            throw new IllegalStateException("Every Java runtime has HmacSHA256", impossible);
        }
    }

    /**
     * One message as RFC 5424 has it; the structured element stands under the number that is kept
     * for documentation (RFC 5612).
     */
    static String syslog(Notice notice) {
        String run = notice.run() == null ? "" : " run=\"%s\"".formatted(quoted(notice.run()));
        return "<%s>1 %s %s calm-step - %s [calmstep@32473 id=\"%s\" subject=\"%s\"%s who=\"%s\"%s] \uFEFF%s"
                .formatted(
                        FACILITY * 8 + (notice.isUrgent() ? WARNING : NOTICE),
                        notice.at().truncatedTo(ChronoUnit.MICROS),
                        host(),
                        notice.kind(),
                        notice.id(),
                        quoted(notice.subject()),
                        run,
                        quoted(notice.who()),
                        notice.hash().isEmpty() ? "" : " hash=\"%s\"".formatted(notice.hash()),
                        notice.text().replace('\n', ' '));
    }

    /** Section 6.3.3: three characters are escaped in a parameter's value. */
    private static String quoted(String text) {
        return text.replace("\\", "\\\\").replace("\"", "\\\"").replace("]", "\\]");
    }

    private static String host() {
        try {
            return InetAddress.getLocalHost().getHostName();
        } catch (IOException nameless) {
            return "-";
        }
    }

    private static void overUdp(String message, URI address) throws IOException {
        byte[] bytes = message.getBytes(StandardCharsets.UTF_8);
        try (DatagramSocket socket = new DatagramSocket()) {
            socket.send(
                    new DatagramPacket(
                            bytes,
                            bytes.length,
                            new InetSocketAddress(
                                    InetAddress.getByName(address.getHost()), address.getPort())));
        }
    }

    /**
     * With its length before it (RFC 6587, section 3.4.1), so that a text of several lines stays
     * one message.
     */
    private static void overTcp(String message, URI address) throws IOException {
        byte[] bytes = message.getBytes(StandardCharsets.UTF_8);
        try (Socket socket = new Socket()) {
            socket.connect(
                    new InetSocketAddress(
                            InetAddress.getByName(address.getHost()), address.getPort()),
                    (int) WITHIN.toMillis());
            socket.getOutputStream()
                    .write("%s ".formatted(bytes.length).getBytes(StandardCharsets.US_ASCII));
            socket.getOutputStream().write(bytes);
        } catch (java.net.ConnectException refused) {
            throw new IOException("nobody answers there", refused);
        }
    }
}
