package calmstep.dialect;

import calmstep.core.patience.GrowingPause;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Somebody who listens to a console line while its device restarts, and types nothing there. What
 * the device says is taken down line by line, secrets masked, up to a bound; a line that was lost
 * is opened again.
 */
public final class ConsoleWatch implements AutoCloseable {
    static final int MOST_KEPT = 64_000;
    static final int LONGEST_LINE = 2_000;
    private static final int LOOKED_AT = 8_000;
    private static final Duration A_WHILE = Duration.ofMillis(300);
    private static final GrowingPause BETWEEN_TRIES =
            new GrowingPause(Duration.ofSeconds(1), Duration.ofSeconds(30));

    /** Somewhat over ten minutes: then nobody is there. */
    private static final int MOST_IN_VAIN = 25;

    /** A device that says something all the while does not keep who pressed return waiting. */
    private static final int PRESSES_LAST = 3;

    private final Supplier<Optional<Line>> opener;
    private final Dialect dialect;
    private final Talk talk;
    private final long until;
    private final CountDownLatch over = new CountDownLatch(1);
    private final CountDownLatch tried = new CountDownLatch(1);
    private final CountDownLatch ended = new CountDownLatch(1);
    private final StringBuilder line = new StringBuilder();
    private final StringBuilder sincePressed = new StringBuilder();
    private Optional<Line> open = Optional.empty();
    private boolean lost;
    private boolean givenAway;
    private int kept;
    private long heard;

    ConsoleWatch(Supplier<Optional<Line>> opener, Dialect dialect, Talk talk, Duration atMost) {
        this.opener = opener;
        this.dialect = dialect;
        this.talk = talk;
        until = System.nanoTime() + atMost.toNanos();
    }

    /** Returns when the line is open, or was tried in vain. */
    void begin(Runnable atTheEnd) {
        Thread.ofVirtual().name("console-watch").start(() -> listenToTheEnd(atTheEnd));
        try {
            tried.await();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    private void listenToTheEnd(Runnable atTheEnd) {
        try {
            listen();
        } finally {
            tried.countDown();
            atTheEnd.run();
            ended.countDown();
        }
    }

    private void listen() {
        int vain = 0;
        while (vain < MOST_IN_VAIN
                && goesOn(vain == 0 ? Duration.ZERO : BETWEEN_TRIES.behind(vain))) {
            Optional<Line> opened = opener.get();
            opened.ifPresent(this::isThere);
            if (opened.isEmpty()) {
                isAway();
                vain++;
            } else {
                hear(opened.get());
                vain = 1;
            }
        }
        endLine();
    }

    /** Whether the watch is not over after a pause. */
    private boolean goesOn(Duration pause) {
        try {
            return !over.await(pause.toMillis(), TimeUnit.MILLISECONDS)
                    && System.nanoTime() - until < 0;
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private synchronized void isThere(Line opened) {
        open = Optional.of(opened);
        if (lost) {
            note("(its console line answers again; what it said meanwhile was not heard)");
        }
        lost = false;
        tried.countDown();
    }

    private synchronized void isAway() {
        open = Optional.empty();
        if (!lost) {
            note("(its console line does not answer: what it says there is not heard)");
        }
        lost = true;
        tried.countDown();
    }

    private void hear(Line there) {
        try {
            while (goesOn(Duration.ZERO)) {
                String came = there.receive(A_WHILE);
                if (!came.isEmpty()) {
                    take(came);
                }
            }
        } catch (Line.LineEnded gone) {
            if (over.getCount() > 0) {
                isAway();
            }
        } finally {
            leave(there);
        }
    }

    private synchronized void leave(Line there) {
        open = Optional.empty();
        if (!givenAway) {
            there.close();
        }
    }

    private synchronized void take(String came) {
        heard += came.length();
        sincePressed.append(came.replace("\r", ""));
        if (sincePressed.length() > 2 * LOOKED_AT) {
            sincePressed.delete(0, sincePressed.length() - LOOKED_AT);
        }
        notifyAll();
        List<String> whole = new ArrayList<>();
        int at = 0;
        for (int end = came.indexOf('\n'); end >= 0; end = came.indexOf('\n', at)) {
            begun(came.substring(at, end));
            whole.add(ended());
            at = end + 1;
        }
        begun(came.substring(at));
        keep(whole);
    }

    /** One character more than is kept shows that it is too long; what follows is not looked at. */
    private void begun(String piece) {
        int room = LONGEST_LINE + 1 - line.length();
        line.append(piece, 0, Math.min(piece.length(), room));
    }

    /**
     * What is kept of the line that is whole now. A secret may come in several pieces, so none is
     * kept before; and it is masked as it was said, before anything is put behind it.
     */
    private String ended() {
        String said = line.toString();
        line.setLength(0);
        return said.length() > LONGEST_LINE
                ? shown(said.substring(0, LONGEST_LINE)) + " …"
                : shown(said);
    }

    private String shown(String said) {
        return dialect.masked(LineExchange.clean(said)).stripTrailing();
    }

    private synchronized void endLine() {
        keep(List.of(ended()));
    }

    private void keep(List<String> lines) {
        String said =
                lines.stream().filter(one -> !one.isBlank()).collect(Collectors.joining("\n"));
        if (said.isEmpty() || kept > MOST_KEPT) {
            return;
        }
        kept += said.length();
        talk.overheard(said);
        if (kept > MOST_KEPT) {
            note(
                    String.format(
                            Locale.ROOT,
                            "(it said more than %,d characters; what follows is not kept)",
                            MOST_KEPT));
        }
    }

    private void note(String words) {
        talk.overheard(words);
    }

    /** Whether nobody listens any more: it was closed, or its time is over. */
    public boolean isOver() {
        return over.getCount() == 0 || ended.getCount() == 0;
    }

    synchronized boolean isOpen() {
        return open.isPresent();
    }

    /**
     * Presses return.
     *
     * @param quiet after which nothing more is expected
     * @return what came since, where the prompt is among it; else empty
     */
    synchronized Optional<String> pressed(Pattern prompt, Duration quiet) {
        if (open.isEmpty()) {
            return Optional.empty();
        }
        sincePressed.setLength(0);
        try {
            open.get().send("\n");
            long last = System.nanoTime() + quiet.toNanos() * PRESSES_LAST;
            long before = -1;
            while (!prompt.matcher(sincePressed).find()) {
                if (heard == before || System.nanoTime() - last > 0) {
                    return Optional.empty();
                }
                before = heard;
                wait(quiet.toMillis());
            }
            return Optional.of(sincePressed.toString());
        } catch (Line.LineEnded gone) {
            return Optional.empty();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            return Optional.empty();
        }
    }

    /**
     * Ends, and gives the line to whoever talks there, open as it is: who hangs up first may find
     * it taken.
     *
     * @return empty where it is not open
     */
    Optional<Line> giveAway() {
        Optional<Line> held;
        synchronized (this) {
            held = open;
            givenAway = held.isPresent();
        }
        over.countDown();
        try {
            ended.await();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
        return held;
    }

    /** Lets go of the line. */
    @Override
    public void close() {
        over.countDown();
        Optional<Line> held;
        synchronized (this) {
            held = open;
        }
        held.ifPresent(Line::close);
    }
}
