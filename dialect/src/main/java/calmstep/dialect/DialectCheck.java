package calmstep.dialect;

import static calmstep.core.known.Known.known;

import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.dialect.Dialect.ActCommand;
import calmstep.dialect.Dialect.Find;
import calmstep.dialect.Dialect.What;
import calmstep.dialect.Sight.Row;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Tries a dialect on what a device really said, recorded or live: what each of its patterns takes
 * from each answer, and what it leaves.
 */
public final class DialectCheck {
    /**
     * A recorded line that was typed begins with this; what follows, up to the next one, is what
     * came.
     */
    public static final String TYPED = ">> ";

    private final Dialect dialect;
    private final Map<String, String> answers = new LinkedHashMap<>();
    private final TreeSet<String> used = new TreeSet<>();

    private DialectCheck(Dialect dialect, List<Recorded> session) {
        this.dialect = dialect;
        session.forEach(
                recorded ->
                        answers.merge(
                                recorded.typed(),
                                LineExchange.withoutEchoAndPrompt(
                                        dialect.prompt(), recorded.typed(), recorded.answer()),
                                (first, _) -> first));
    }

    /** One command of a session and what came. */
    public record Recorded(String typed, String answer) {}

    /**
     * What one pattern took.
     *
     * @param what what it tells, with its kind
     * @param values each match, in words; secrets masked
     * @param missing whether a run needs it and nothing was found
     */
    public record Taken(String what, List<String> values, boolean missing) {
        public Taken {
            values = List.copyOf(values);
        }
    }

    /**
     * One command of the dialect.
     *
     * @param use what it is for: {@code reading}, {@code running configuration}, {@code act digest}
     *     …
     * @param send what the dialect sends
     * @param recorded whether the session has it
     * @param refused in the words of the dialect, where the answer is an error; empty where it is
     *     none
     */
    public record Command(
            String use, String send, boolean recorded, String refused, List<Taken> taken) {
        public Command {
            taken = List.copyOf(taken);
        }

        /** Whether it was tried and works. */
        public boolean isGood() {
            return !recorded || (refused.isEmpty() && taken.stream().noneMatch(Taken::missing));
        }
    }

    /**
     * What came of it.
     *
     * @param unknown what was typed in the session and nothing of the dialect sends
     * @param trouble why a live session ended before its time; empty where it did not
     */
    public record Result(List<Command> commands, List<String> unknown, Optional<Trouble> trouble) {
        public Result {
            commands = List.copyOf(commands);
            unknown = List.copyOf(unknown);
        }

        /** Whether everything that was tried works. */
        public boolean isGood() {
            return trouble.isEmpty() && commands.stream().allMatch(Command::isGood);
        }
    }

    /**
     * A recorded session as a text, see {@link #TYPED}. Lines before the first typed one are left
     * out.
     */
    public static List<Recorded> session(String text) {
        List<Recorded> session = new ArrayList<>();
        Optional<String> typed = Optional.empty();
        StringBuilder answer = new StringBuilder();
        for (String line : text.lines().toList()) {
            if (line.startsWith(TYPED)) {
                typed.ifPresent(command -> session.add(new Recorded(command, answer.toString())));
                typed = Optional.of(line.substring(TYPED.length()).strip());
                answer.setLength(0);
            } else {
                answer.append(line).append('\n');
            }
        }
        typed.ifPresent(command -> session.add(new Recorded(command, answer.toString())));
        return session;
    }

    /** Tries a dialect on a recorded session. */
    public static Result of(Dialect dialect, List<Recorded> session) {
        return new DialectCheck(dialect, session).result(Optional.empty());
    }

    /**
     * Asks a device everything that the door's dialect reads, and tries the dialect on its answers.
     * Nothing is changed on it.
     */
    public static Result of(Door door) {
        List<Recorded> heard = new ArrayList<>();
        Optional<Trouble> trouble = Optional.empty();
        try {
            if (door.session() instanceof DialectSession session) {
                session.hear(heard);
            }
        } catch (DeviceTrouble ended) {
            trouble = Optional.of(ended.trouble());
        }
        return new DialectCheck(door.dialect(), heard).result(trouble);
    }

    private Result result(Optional<Trouble> trouble) {
        List<Command> commands = new ArrayList<>();
        dialect.readings()
                .forEach(
                        command ->
                                commands.add(
                                        command(
                                                "reading",
                                                command.send(),
                                                answer ->
                                                        command.finds().stream()
                                                                .map(find -> taken(find, answer))
                                                                .toList())));
        dialect.configurations()
                .forEach(
                        (kind, command) ->
                                commands.add(
                                        command(
                                                new BackupKind(kind).words(),
                                                command.send(),
                                                answer ->
                                                        List.of(
                                                                ending(
                                                                        command.endMark(),
                                                                        answer)))));
        dialect.acts()
                .forEach(
                        (act, parts) ->
                                parts.forEach(part -> commands.add(act("act " + act, part))));
        dialect.installs()
                .forEach(
                        (component, parts) ->
                                parts.forEach(
                                        part -> commands.add(act("install " + component, part))));
        return new Result(
                commands,
                answers.keySet().stream().filter(typed -> !used.contains(typed)).toList(),
                trouble);
    }

    /** What the patterns of a command take from its answer. */
    private interface Patterns {
        List<Taken> of(String answer);
    }

    private Command command(String use, String send, Patterns patterns) {
        Optional<String> answer = Optional.ofNullable(answers.get(send));
        answer.ifPresent(_ -> used.add(send));
        String refused = answer.map(this::refusal).orElse("");
        return new Command(
                use,
                send,
                answer.isPresent(),
                refused,
                answer.filter(_ -> refused.isEmpty()).map(patterns::of).orElse(List.of()));
    }

    /** An act's command holds places; the session has it with what stood there. */
    private Command act(String use, ActCommand part) {
        Pattern shape =
                Pattern.compile(
                        Stream.of(part.send().split("\\{[a-z]+}", -1))
                                .map(Pattern::quote)
                                .collect(Collectors.joining("\\S*")));
        List<String> typed =
                answers.keySet().stream().filter(one -> shape.matcher(one).matches()).toList();
        used.addAll(typed);
        if (typed.isEmpty()) {
            return new Command(use, part.send(), false, "", List.of());
        }
        String answer = known(answers, typed.getFirst());
        if (part.absent().filter(absent -> absent.matcher(answer).find()).isPresent()) {
            return new Command(
                    use,
                    part.send(),
                    true,
                    "",
                    List.of(new Taken("absent", List.of("there is no such thing"), false)));
        }
        String refused = refusal(answer);
        Matcher expected = part.expect().matcher(answer);
        boolean found = expected.find();
        List<String> value =
                !found
                        ? List.of()
                        : List.of(
                                part.expect().namedGroups().containsKey("value")
                                        ? expected.group("value")
                                        : expected.group().strip());
        return new Command(
                use,
                part.send(),
                true,
                refused,
                refused.isEmpty()
                        ? List.of(
                                new Taken(
                                        "expect",
                                        value.stream().map(dialect::masked).toList(),
                                        !found))
                        : List.of());
    }

    private String refusal(String answer) {
        return dialect.errors().stream()
                .flatMap(
                        error -> {
                            Matcher matcher = error.shows().matcher(answer);
                            return matcher.find()
                                    ? Stream.of(
                                            "%s: %s"
                                                    .formatted(
                                                            error.means(),
                                                            dialect.masked(
                                                                    matcher.group().strip())))
                                    : Stream.empty();
                        })
                .findFirst()
                .orElse("");
    }

    private static Taken ending(Pattern endMark, String answer) {
        Matcher matcher = endMark.matcher(answer);
        boolean found = matcher.find();
        return new Taken(
                "end mark",
                found
                        ? List.of(
                                "%s, after %s lines"
                                        .formatted(
                                                matcher.group().strip(),
                                                answer.substring(0, matcher.start())
                                                        .lines()
                                                        .count()))
                        : List.of(),
                !found);
    }

    private Taken taken(Find find, String answer) {
        List<String> values =
                find.sight().in(answer).stream()
                        .map(row -> dialect.masked(value(find, row)))
                        .toList();
        String what = word(find.what()) + (find.kind().isEmpty() ? "" : " " + find.kind());
        return switch (find.what()) {
            case SAVED, UNSAVED -> new Taken(what, List.of(values.isEmpty() ? "no" : "yes"), false);
            case FILE, FACT, FEATURE, PART, WAITING -> new Taken(what, values, false);
            case HOST_NAME,
                    MODEL,
                    REVISION,
                    REGION,
                    BRAND,
                    SERIAL,
                    BOOT_MARK,
                    RELEASE,
                    RUNNING,
                    NEXT,
                    FALLBACK,
                    VOLUME ->
                    new Taken(what, values, values.isEmpty() && !find.optional());
        };
    }

    private static String value(Find find, Row row) {
        return switch (find.what()) {
            case HOST_NAME,
                    MODEL,
                    REVISION,
                    REGION,
                    BRAND,
                    SERIAL,
                    BOOT_MARK,
                    RELEASE,
                    RUNNING,
                    NEXT,
                    FALLBACK,
                    FEATURE,
                    WAITING ->
                    row.text("value");
            case SAVED, UNSAVED -> "yes";
            case VOLUME ->
                    "%s: %s bytes, %s free"
                            .formatted(row.text("name"), row.text("size"), row.text("free"));
            case FILE -> "%s, %s bytes".formatted(row.text("name"), row.text("size"));
            case FACT -> "%s is %s".formatted(row.text("name"), find.said(row, "value"));
            case PART ->
                    Stream.concat(
                                    Stream.of("name", "role", "state", "model", "serial")
                                            .map(name -> find.said(row, name)),
                                    find.releases(row).entrySet().stream()
                                            .map(
                                                    release ->
                                                            "%s %s"
                                                                    .formatted(
                                                                            release.getKey(),
                                                                            release.getValue())))
                            .filter(text -> !text.isBlank())
                            .collect(Collectors.joining(", "));
        };
    }

    private static String word(What what) {
        return what.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
