package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.ImageSource;
import calmstep.dialect.Dialect.Answer;
import calmstep.dialect.Dialect.SignIn;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.HttpURLConnection;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.net.ssl.HttpsURLConnection;

/**
 * Requests over HTTPS. A command is a method, a path and, where there is one, a body: {@code PUT
 * /start {"next": "a.bin"}}. The answer is the body; where the device does not answer with success,
 * its status goes before it, so that the dialect's patterns can tell one refusal from another.
 */
final class RequestExchange implements Exchange {
    private static final Pattern COMMAND =
            Pattern.compile("(?<method>[A-Z]+) (?<path>/\\S*)(?: (?<body>.*))?", Pattern.DOTALL);
    private static final int PIECE = 64 * 1024;
    private static final int ANSWER_AT_MOST = 16 * 1024 * 1024;
    private static final int UNAUTHORISED = 401;

    private final Dialect dialect;
    private final String origin;
    private final PinnedCertificate certificate;
    private final Talk talk;
    private final String device;
    private final Wording wording;
    private Optional<String> header = Optional.empty();

    /**
     * @param origin {@code https://address:port}
     */
    RequestExchange(
            Dialect dialect,
            String origin,
            PinnedCertificate certificate,
            Talk talk,
            String device) {
        this.dialect = dialect;
        this.origin = origin;
        this.certificate = certificate;
        this.talk = talk;
        this.device = device;
        wording = new Wording(dialect);
    }

    /**
     * @throws DeviceTrouble when the device does not let the user in
     */
    void signIn(SignIn how, String user, String password) {
        String command =
                how.send().replace("{user}", quoted(user)).replace("{password}", quoted(password));
        talk.typed(how.send().replace("{user}", user).replace("{password}", Dialect.MASK));
        Got got = ask(command, Optional.empty(), dialect.answersWithin(), false);
        Optional<String> token =
                how.token().in(got.body()).stream().findFirst().map(row -> row.text("value"));
        talk.answered(
                token.map(word -> got.text().replace(word, Dialect.MASK))
                        .orElse(dialect.masked(got.text())));
        if (!got.isGood() || token.isEmpty()) {
            throw notLetIn(got, user);
        }
        header = Optional.of(how.header().replace("{token}", token.get()));
    }

    private DeviceTrouble notLetIn(Got got, String user) {
        return trouble(
                got.status() == UNAUTHORISED || got.status() == 403
                        ? Kind.SIGN_IN_REFUSED
                        : Kind.UNREADABLE_ANSWER,
                "%s lets \"%s\" in".formatted(device, user),
                got.isGood()
                        ? "an answer without a token"
                        : "it answers %s".formatted(got.status()),
                "Correct the login's user and password.",
                "");
    }

    private static String quoted(String text) {
        return text.replace("\\", "\\\\").replace("\"", "\\\"");
    }

    @Override
    public Said command(String command, List<Answer> answers, Duration within, boolean endsLine) {
        return said(command, Optional.empty(), within, endsLine);
    }

    /** A command whose body is a file, sent as it is. */
    Said send(String command, Upload file, Duration within) {
        return said(command, Optional.of(file), within, false);
    }

    /** A file to be sent. */
    record Upload(ImageSource.Opened file, long sizeBytes) {}

    private Said said(String command, Optional<Upload> file, Duration within, boolean endsLine) {
        talk.typed(
                dialect.masked(command)
                        + file.map(f -> String.format(Locale.ROOT, " (%,d bytes)", f.sizeBytes()))
                                .orElse(""));
        Got got = ask(command, file, within, endsLine);
        talk.answered(dialect.masked(got.text()));
        wording.mustNotBeRefused(command, got.text());
        return new Said(got.text(), got.dropped());
    }

    /**
     * @param dropped whether the device went away instead of answering
     */
    private record Got(int status, String body, boolean dropped) {
        boolean isGood() {
            return status >= 200 && status < 300;
        }

        String text() {
            return isGood() || dropped ? body : "%s %s".formatted(status, body);
        }
    }

    private Got ask(String command, Optional<Upload> file, Duration within, boolean endsLine) {
        Matcher parts = COMMAND.matcher(command);
        if (!parts.matches()) {
            throw trouble(
                    Kind.REFUSED_BY_DEVICE,
                    "a command of the form METHOD /path body",
                    dialect.masked(command),
                    "Mend the dialect.",
                    "");
        }
        try {
            HttpURLConnection connection =
                    connection(parts.group("method"), parts.group("path"), within);
            if (file.isPresent()) {
                connection.setRequestProperty("Content-Type", "application/octet-stream");
                send(connection, file.get());
            } else if (parts.group("body") != null) {
                connection.setRequestProperty(
                        "Content-Type",
                        parts.group("body").startsWith("{")
                                ? "application/json"
                                : "text/plain; charset=utf-8");
                connection.setDoOutput(true);
                connection
                        .getOutputStream()
                        .write(parts.group("body").getBytes(StandardCharsets.UTF_8));
            }
            int status = connection.getResponseCode();
            try (InputStream in =
                    status < 400 ? connection.getInputStream() : connection.getErrorStream()) {
                return new Got(
                        status,
                        in == null
                                ? ""
                                : new String(in.readNBytes(ANSWER_AT_MOST), StandardCharsets.UTF_8),
                        false);
            }
        } catch (IOException failed) {
            if (endsLine && !(failed instanceof ConnectException)) {
                return new Got(0, "", true);
            }
            throw lost(command, within, failed);
        }
    }

    private HttpURLConnection connection(String method, String path, Duration within)
            throws IOException {
        HttpsURLConnection connection =
                (HttpsURLConnection)
                        URI.create(origin + path).toURL().openConnection(java.net.Proxy.NO_PROXY);
        connection.setSSLSocketFactory(certificate.sockets());
        // Which key a device shows is what counts; the name in its own certificate is whatever it
        // was made with.
        connection.setHostnameVerifier((_, _) -> true);
        connection.setInstanceFollowRedirects(false);
        connection.setConnectTimeout((int) Math.min(within.toMillis(), 5000));
        connection.setReadTimeout((int) Math.min(within.toMillis(), Integer.MAX_VALUE));
        connection.setRequestMethod(method);
        addHeader(connection);
        return connection;
    }

    private void addHeader(HttpsURLConnection connection) {
        header.ifPresent(
                line ->
                        connection.setRequestProperty(
                                line.substring(0, line.indexOf(':')),
                                line.substring(line.indexOf(':') + 1).strip()));
    }

    private static void send(HttpURLConnection connection, Upload body) throws IOException {
        connection.setDoOutput(true);
        connection.setFixedLengthStreamingMode(body.sizeBytes());
        try (OutputStream out = connection.getOutputStream()) {
            byte[] piece = new byte[PIECE];
            for (int count = body.file().next(piece); count >= 0; count = body.file().next(piece)) {
                out.write(piece, 0, count);
            }
        }
    }

    private DeviceTrouble lost(String command, Duration within, IOException failed) {
        if (certificate.isAnother()) {
            return trouble(
                    Kind.HOST_KEY_CHANGED,
                    "%s shows the certificate %s, as last time"
                            .formatted(device, certificate.expected()),
                    "the certificate %s".formatted(certificate.seen()),
                    "Somebody may stand in between, or the device was replaced. Nothing was sent."
                            + " If it was replaced, forget its old certificate.",
                    "");
        }
        if (failed instanceof SocketTimeoutException) {
            return trouble(
                    Kind.TIMED_OUT,
                    "an answer to \"%s\" within %s s"
                            .formatted(dialect.masked(command), within.toSeconds()),
                    "nothing",
                    "The device may be busy. Try again.",
                    "");
        }
        boolean silent = failed instanceof ConnectException;
        return trouble(
                silent ? Kind.NO_ANSWER : Kind.LINK_LOST,
                silent
                        ? "%s answers over HTTPS".formatted(device)
                        : "the line to %s stays open".formatted(device),
                String.valueOf(failed.getMessage()),
                silent
                        ? "Look whether it has power and whether this network reaches it."
                        : "If the device restarts, wait for it; else look at the link.",
                "");
    }

    @Override
    public DeviceTrouble trouble(
            Kind kind, String expected, String seen, String remedy, String lastTalk) {
        return wording.trouble(kind, expected, seen, remedy, lastTalk);
    }

    @Override
    public void close() {
        header = Optional.empty();
    }
}
