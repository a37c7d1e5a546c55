package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A screen and its keys, as a shell of a stand-in sees them: it echoes, turns pages and asks back.
 */
final class Terminal {
    private final InputStream in;
    private final OutputStream out;
    private final int page;
    private final More more;

    /**
     * What stands between two pages.
     *
     * @param stops the key that ends a long answer; any other one goes on
     */
    record More(MoreText text, char stops) {}

    /** The text at the end of a page: how many lines were shown, of how many. */
    interface MoreText {
        String after(int shown, int all);
    }

    /**
     * @param page lines of a page
     */
    Terminal(InputStream in, OutputStream out, int page, More more) {
        this.in = in;
        this.out = out;
        this.page = page;
        this.more = more;
    }

    /** A long answer, a page at a time. */
    void show(String text) throws IOException {
        List<String> lines = text.lines().toList();
        for (int i = 0; i < lines.size(); i++) {
            if (i > 0 && i % page == 0) {
                String stop = more.text().after(i, lines.size());
                write(stop);
                int key = in.read();
                write("\r" + " ".repeat(stop.length()) + "\r");
                if (key == more.stops() || key < 0) {
                    return;
                }
            }
            write(lines.get(i) + "\n");
        }
    }

    /** Whether the caller gives the one answer that means yes. */
    boolean confirmed(String question, String yes) throws IOException {
        write(question);
        return readLine().filter(yes::equals).isPresent();
    }

    /** One line, echoed; empty when the caller has gone. Control-C clears it. */
    Optional<String> readLine() throws IOException {
        StringBuilder line = new StringBuilder();
        while (true) {
            int c = in.read();
            if (c < 0) {
                return Optional.empty();
            }
            if (c == 3) {
                write("\n");
                return Optional.of("");
            }
            if (c == '\r' || c == '\n') {
                write("\n");
                return Optional.of(line.toString());
            }
            line.append((char) c);
            out.write(c);
            out.flush();
        }
    }

    /**
     * Lines up to one that is the end mark; empty when the caller went before it. White space at
     * their beginning belongs to them.
     */
    Optional<List<String>> readLines(String end) throws IOException {
        List<String> lines = new ArrayList<>();
        while (true) {
            Optional<String> line = readLine();
            if (line.isEmpty() || line.get().equals(end)) {
                return line.map(_ -> lines);
            }
            lines.add(line.get());
        }
    }

    /** Does nothing for a while, as a machine that is at work. */
    static void pause(Duration time) throws IOException {
        try {
            Thread.sleep(time);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped", stopped);
        }
    }

    void write(String text) throws IOException {
        out.write(text.replace("\n", "\r\n").getBytes(StandardCharsets.UTF_8));
        out.flush();
    }
}
