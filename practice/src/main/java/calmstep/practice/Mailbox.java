package calmstep.practice;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** A mail server (SMTP, RFC 5321) on loopback that takes everything and keeps it to be read. */
public final class Mailbox implements AutoCloseable {
    /**
     * A message as it came.
     *
     * @param text header and body
     */
    public record Mail(String from, List<String> to, String text) {}

    private final ServerSocket server;
    private final List<Mail> mails = new ArrayList<>();

    private Mailbox(ServerSocket server) {
        this.server = server;
    }

    public static Mailbox open(int port) throws IOException {
        Mailbox mailbox = new Mailbox(new ServerSocket(port, 16, InetAddress.getLoopbackAddress()));
        Thread.ofVirtual().name("mailbox").start(mailbox::accept);
        return mailbox;
    }

    private void accept() {
        while (!server.isClosed()) {
            try {
                Socket caller = server.accept();
                Thread.ofVirtual().name("mailbox-caller").start(() -> serve(caller));
            } catch (IOException closed) {
                return;
            }
        }
    }

    private void serve(Socket caller) {
        try (caller) {
            BufferedReader in =
                    new BufferedReader(
                            new InputStreamReader(caller.getInputStream(), StandardCharsets.UTF_8));
            say(caller, "220 mailbox.northmere.example");
            String from = "";
            List<String> to = new ArrayList<>();
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                String word =
                        line.length() < 4 ? line : line.substring(0, 4).toUpperCase(Locale.ROOT);
                switch (word) {
                    case "EHLO", "HELO", "NOOP" -> say(caller, "250 mailbox.northmere.example");
                    case "MAIL" -> {
                        from = inBrackets(line);
                        to.clear();
                        say(caller, "250 yes");
                    }
                    case "RCPT" -> {
                        to.add(inBrackets(line));
                        say(caller, "250 yes");
                    }
                    case "DATA" -> {
                        say(caller, "354 end with a single dot");
                        keep(new Mail(from, List.copyOf(to), data(in)));
                        say(caller, "250 kept");
                    }
                    case "RSET" -> {
                        to.clear();
                        say(caller, "250 yes");
                    }
                    case "QUIT" -> {
                        say(caller, "221 until next time");
                        return;
                    }
                    default -> say(caller, "502 not here");
                }
            }
        } catch (IOException gone) {
            // The caller hung up in the middle: what came whole is kept.
        }
    }

    private static void say(Socket caller, String line) throws IOException {
        OutputStream out = caller.getOutputStream();
        out.write((line + "\r\n").getBytes(StandardCharsets.US_ASCII));
        out.flush();
    }

    private static String inBrackets(String line) {
        int from = line.indexOf('<');
        int to = line.indexOf('>', from);
        return from < 0 || to < 0 ? "" : line.substring(from + 1, to);
    }

    /** Section 4.5.2: a dot at a line's beginning was doubled. */
    private static String data(BufferedReader in) throws IOException {
        StringBuilder text = new StringBuilder();
        for (String line = in.readLine(); line != null && !line.equals("."); line = in.readLine()) {
            text.append(line.startsWith("..") ? line.substring(1) : line).append('\n');
        }
        return text.toString();
    }

    private synchronized void keep(Mail mail) {
        mails.add(mail);
    }

    /** What came, in its order. */
    public synchronized List<Mail> mails() {
        return List.copyOf(mails);
    }

    @Override
    public void close() {
        try {
            server.close();
        } catch (IOException alreadyGone) {
            // It is gone already, which is what closing is for.
        }
    }
}
