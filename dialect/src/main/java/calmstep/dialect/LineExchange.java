package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.UnknownQuestion;
import calmstep.dialect.Dialect.Answer;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Plays commands over a line, one at a time: types, turns pages, answers the questions that are
 * foreseen, stops at one that is not, and returns the answer without echo, pager and prompt.
 */
final class LineExchange implements Exchange {
    private static final int LOOKED_AT = 1024;
    private static final int ANSWER_AT_MOST = 8_000_000;
    private static final Pattern WRITTEN_OVER = Pattern.compile("\r +\r");

    private final Dialect dialect;
    private final Pattern prompt;
    private final Line line;
    private final Talk talk;
    private final String device;
    private final Wording wording;

    LineExchange(Dialect dialect, Line line, Talk talk, String device) {
        this(dialect, dialect.prompt(), line, talk, device);
    }

    /**
     * @param prompt what is shown there when a command is waited for
     */
    LineExchange(Dialect dialect, Pattern prompt, Line line, Talk talk, String device) {
        this.dialect = dialect;
        this.prompt = prompt;
        this.line = line;
        this.talk = talk;
        this.device = device;
        wording = new Wording(dialect);
    }

    /** Waits for the first prompt. */
    void greet() {
        play("", List.of(), dialect.answersWithin(), Last.PROMPT);
    }

    /** What ends an answer. */
    private sealed interface Last {
        Last PROMPT = new Prompt(false);

        /**
         * @param orLineEnd whether the end of the line does as well
         */
        record Prompt(boolean orLineEnd) implements Last {}

        /** Words behind which nothing is asked any more: who said them is on its way. */
        record Words(Pattern shows) implements Last {}
    }

    /**
     * Says a command behind which the line stays open and prompts no more. @return what came up to
     * the words that show that it was taken
     */
    Said lastCommand(String command, Duration within, Pattern shows) {
        return said(command, List.of(), within, new Last.Words(shows));
    }

    @Override
    public Said command(String command, List<Answer> answers, Duration within, boolean endsLine) {
        return said(command, answers, within, new Last.Prompt(endsLine));
    }

    private Said said(String command, List<Answer> answers, Duration within, Last last) {
        talk.typed(dialect.masked(command));
        send(command + "\n");
        Said said = play(command, answers, within, last);
        wording.mustNotBeRefused(command, said.text());
        return said;
    }

    private void send(String text) {
        try {
            line.send(text);
        } catch (Line.LineEnded lost) {
            throw lost("");
        }
    }

    private Said play(String command, List<Answer> answers, Duration within, Last last) {
        StringBuilder received = new StringBuilder();
        StringBuilder whole = new StringBuilder();
        String page = "";
        long deadline = System.nanoTime() + within.toNanos();
        try {
            while (true) {
                String more = receive(deadline);
                if (more.isEmpty()) {
                    throw late(command, within, whole + page);
                }
                received.append(more);
                putBy(received, whole);
                page = clean(received);
                if (turnPage(page, whole)
                        || answerQuestion(page, whole, answers)
                        || answerOnce(page, whole)) {
                    received.setLength(0);
                    page = "";
                } else if (last instanceof Last.Words(Pattern shows)
                        && shows.matcher(page).find()) {
                    return new Said(withoutEchoAndPrompt(prompt, command, whole + page), true);
                } else if (endsWith(prompt, page)) {
                    return new Said(withoutEchoAndPrompt(prompt, command, whole + page), false);
                } else {
                    stopAtUnknownQuestion(page, whole);
                    mustEnd(command, received, whole);
                }
            }
        } catch (Line.LineEnded ended) {
            if (last.equals(new Last.Prompt(true))) {
                return new Said(withoutEchoAndPrompt(prompt, command, whole + page), true);
            }
            throw lost(whole + page);
        } finally {
            talk.answered(dialect.masked(whole + page));
        }
    }

    private String receive(long deadline) {
        long left = deadline - System.nanoTime();
        return left <= 0 ? "" : line.receive(Duration.ofNanos(left));
    }

    private DeviceTrouble late(String command, Duration within, String soFar) {
        return trouble(
                Kind.TIMED_OUT,
                "an answer to \"%s\" within %s s"
                        .formatted(dialect.masked(command), within.toSeconds()),
                soFar.isBlank() ? "nothing" : "an answer that does not end in a prompt",
                "The device may be busy. Look at its last lines and try again.",
                soFar);
    }

    /**
     * What lies far behind is put by: prompts, pagers and questions stand at the end, and a long
     * answer is not gone through again with each piece that comes.
     */
    private static void putBy(StringBuilder received, StringBuilder whole) {
        if (received.length() > 2 * LOOKED_AT) {
            int line = received.lastIndexOf("\n", received.length() - LOOKED_AT) + 1;
            int cut = line > 0 ? line : received.length() - LOOKED_AT;
            whole.append(clean(received.substring(0, cut)));
            received.delete(0, cut);
        }
    }

    private void mustEnd(String command, StringBuilder received, StringBuilder whole) {
        if (whole.length() > ANSWER_AT_MOST) {
            String last = clean(received);
            whole.setLength(LOOKED_AT);
            line.close();
            throw trouble(
                    Kind.UNREADABLE_ANSWER,
                    String.format(
                            Locale.ROOT,
                            "an answer to \"%s\" of at most %,d characters",
                            dialect.masked(command),
                            ANSWER_AT_MOST),
                    "more than that, and no end of it",
                    "The device does not stop. The line was closed; look at it by hand.",
                    last);
        }
    }

    /** Without what only a screen needs: colours, and what was written over. */
    static String clean(CharSequence received) {
        String kept = received.toString();
        if (kept.contains("\r ")) {
            kept = WRITTEN_OVER.matcher(kept).replaceAll("");
        }
        StringBuilder clean = new StringBuilder(kept.length());
        int at = 0;
        while (at < kept.length()) {
            int behind = behindControl(kept, at);
            if (behind == at) {
                clean.append(kept.charAt(at));
                at++;
            } else {
                at = behind;
            }
        }
        return clean.toString();
    }

    /** Where it goes on behind what moves a cursor or colours it; where it is, if nothing does. */
    private static int behindControl(String text, int at) {
        return switch (text.charAt(at)) {
            case '\r', '\0', '\u0007', '\b' -> at + 1;
            case '\u001b' -> behindSequence(text, at);
            default -> at;
        };
    }

    private static int behindSequence(String text, int at) {
        int end = at + 1;
        if (end == text.length() || text.charAt(end) != '[') {
            return at;
        }
        do {
            end++;
        } while (end < text.length() && "0123456789;?".indexOf(text.charAt(end)) >= 0);
        boolean letter =
                end < text.length()
                        && ((text.charAt(end) >= 'a' && text.charAt(end) <= 'z')
                                || (text.charAt(end) >= 'A' && text.charAt(end) <= 'Z'));
        return letter ? end + 1 : at;
    }

    private boolean turnPage(String page, StringBuilder whole) {
        if (dialect.pager().isEmpty() || !endsWith(dialect.pager().get().shows(), page)) {
            return false;
        }
        Matcher shown = dialect.pager().get().shows().matcher(page);
        int cut = page.length();
        while (shown.find()) {
            cut = shown.start();
        }
        whole.append(page, 0, cut);
        send(dialect.pager().get().press());
        return true;
    }

    private boolean answerQuestion(String page, StringBuilder whole, List<Answer> answers) {
        for (Answer answer : answers) {
            if (endsWith(answer.shows(), page)) {
                whole.append(page);
                send(answer.say() + "\n");
                return true;
            }
        }
        return false;
    }

    /** A person decided about this one question. */
    private boolean answerOnce(String page, StringBuilder whole) {
        Optional<String> say =
                isUnknownQuestion(page)
                        ? talk.answerTo(dialect.masked(questionIn(page)))
                        : Optional.empty();
        say.ifPresent(
                words -> {
                    whole.append(page);
                    talk.typed(dialect.masked(words));
                    send(words + "\n");
                });
        return say.isPresent();
    }

    private boolean isUnknownQuestion(String page) {
        return !endsWith(prompt, page) && endsWith(dialect.question(), page);
    }

    private static String questionIn(String page) {
        return page.substring(page.lastIndexOf("\n") + 1).strip();
    }

    private void stopAtUnknownQuestion(String page, StringBuilder whole) {
        if (endsWith(dialect.question(), page)) {
            String asked = questionIn(page);
            send(dialect.backOut());
            throw trouble(
                    Kind.UNKNOWN_QUESTION,
                    "a prompt, or a question that the dialect of %s knows"
                            .formatted(dialect.title()),
                    UnknownQuestion.seen(dialect.masked(asked)),
                    "Nothing was answered. Say what to answer, once; add the question and its"
                            + " answer to the dialect; or do this step by hand and try again.",
                    whole + page);
        }
    }

    private static boolean endsWith(Pattern pattern, CharSequence text) {
        Matcher matcher = pattern.matcher(text);
        int end = -1;
        while (matcher.find()) {
            end = matcher.end();
        }
        return end == text.length() && end >= 0;
    }

    static String withoutEchoAndPrompt(Pattern shows, String command, String answer) {
        String body =
                !command.isEmpty() && answer.startsWith(command)
                        ? answer.substring(command.length()).replaceFirst("^\\n", "")
                        : answer;
        Matcher prompt = shows.matcher(body);
        int start = body.length();
        while (prompt.find()) {
            if (prompt.end() == body.length()) {
                start = prompt.start();
            }
        }
        return body.substring(0, start);
    }

    private DeviceTrouble lost(String soFar) {
        return trouble(
                Kind.LINK_LOST,
                "the line to %s stays open".formatted(device),
                "the device closed it",
                "If the device restarts, wait for it; else look at the link.",
                soFar);
    }

    @Override
    public DeviceTrouble trouble(
            Kind kind, String expected, String seen, String remedy, String lastTalk) {
        return wording.trouble(kind, expected, seen, remedy, lastTalk);
    }

    @Override
    public void close() {
        line.close();
    }
}
