package calmstep.dialect;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.ConfigurationKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.fleet.Reading;
import calmstep.core.step.Digests;
import calmstep.dialect.Dialect.ActCommand;
import calmstep.dialect.Dialect.ConfigurationCommand;
import calmstep.dialect.Dialect.ReadCommand;
import calmstep.dialect.Dialect.What;
import java.net.URI;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.stream.Stream;

/** A session with a device whose family a dialect describes. */
final class DialectSession implements DeviceSession {
    private final Dialect dialect;
    private final Line line;
    private final Exchange exchange;
    private final InstantSource clock;

    DialectSession(Dialect dialect, Line line, Exchange exchange, InstantSource clock) {
        this.dialect = dialect;
        this.line = line;
        this.exchange = exchange;
        this.clock = clock;
    }

    @Override
    public Reading read() {
        Answers answers = new Answers(dialect, exchange);
        dialect.readings().forEach(answers::ask);
        String settings = String.join("\n", ConfigurationComparison.linesOf(configuration(ConfigurationKind.RUNNING), dialect.volatileLines()));
        return answers.reading(clock.instant(), Digests.sha256(settings));
    }

    /**
     * Asks everything that a reading and a backup ask, whatever the answers are worth.
     *
     * @param heard takes each command and its answer; when the line fails, what was heard until then
     */
    void hear(List<DialectCheck.Recorded> heard) {
        Stream.concat(dialect.readings().stream().map(ReadCommand::send), dialect.configurations().values().stream().map(ConfigurationCommand::send)).forEach(send -> {
            try {
                heard.add(new DialectCheck.Recorded(send, exchange.command(send, List.of(), dialect.answersWithin().multipliedBy(4), false).text()));
            } catch (DeviceTrouble trouble) {
                if (trouble.kind() != Kind.REFUSED_BY_DEVICE) {
                    throw trouble;
                }
                heard.add(new DialectCheck.Recorded(send, String.join("\n", trouble.trouble().lastLines()) + "\n"));
            }
        });
    }

    @Override
    public String bootMark() {
        Answers answers = new Answers(dialect, exchange);
        ReadCommand command = dialect.readings().stream()
                .filter(r -> r.finds().stream().anyMatch(f -> f.what() == What.BOOT_MARK))
                .findFirst()
                .orElseThrow();
        answers.ask(command);
        return answers.text(What.BOOT_MARK);
    }

    @Override
    public String configuration(ConfigurationKind kind) {
        ConfigurationCommand command = dialect.configurations().get(kind.toString());
        String answer = exchange.command(command.send(), List.of(), dialect.answersWithin().multipliedBy(4), false).text();
        Matcher end = command.endMark().matcher(answer);
        if (!end.find()) {
            throw exchange.trouble(Kind.UNREADABLE_ANSWER, "the %s configuration up to its end mark".formatted(kind),
                    "%d characters without one".formatted(answer.length()), "The answer was cut. Try again.", answer);
        }
        return answer.substring(0, end.end()) + "\n";
    }

    @Override
    public void save() {
        act("save", Map.of());
    }

    @Override
    public Optional<String> whyNotReached(URI source) {
        for (ActCommand command : dialect.acts().get("reach")) {
            String answer = play(command, Map.of("source", source.toString())).text();
            if (!command.expect().matcher(answer).find()) {
                return Optional.of(dialect.masked(answer.strip()));
            }
        }
        return Optional.empty();
    }

    @Override
    public void fetch(URI source, String fileName) {
        act("fetch", Map.of("source", source.toString(), "file", fileName));
    }

    @Override
    public Optional<String> sha256Of(String fileName) {
        return act("digest", Map.of("file", fileName));
    }

    @Override
    public void delete(String fileName) {
        act("delete", Map.of("file", fileName));
    }

    @Override
    public void choose(String next, String fallback) {
        act("choose", Map.of("file", next, "fallback", fallback));
    }

    @Override
    public void install(String component, String fileName) {
        carry("install " + component, known(dialect.installs(), component, "how a file is handed to its " + component), Map.of("file", fileName));
    }

    @Override
    public void restart() {
        act("restart", Map.of());
    }

    @Override
    public void restartMember(String member) {
        carry("restart-member", known(dialect.acts(), "restart-member", "how one member restarts"), Map.of("member", member));
    }

    @Override
    public void handOver(String member) {
        carry("hand-over", known(dialect.acts(), "hand-over", "how a member hands over"), Map.of("member", member));
    }

    private List<ActCommand> known(Map<String, List<ActCommand>> acts, String name, String what) {
        return Optional.ofNullable(acts.get(name)).orElseThrow(() -> exchange.trouble(Kind.REFUSED_BY_DEVICE, "the dialect of %s tells %s".formatted(dialect.title(), what), "it does not",
                "Add it to the dialect, or do this step by hand and try again.", ""));
    }

    @Override
    public void close() {
        line.close();
    }

    private Exchange.Said play(ActCommand command, Map<String, String> values) {
        String text = command.send();
        for (Map.Entry<String, String> value : values.entrySet()) {
            text = text.replace("{" + value.getKey() + "}", value.getValue());
        }
        return exchange.command(text, command.answers(), command.within(), command.endsLine());
    }

    /** The value that the last command's answer shows; several members' values, where they differ, as a list; empty when it shows that there is none. */
    private Optional<String> act(String name, Map<String, String> values) {
        return carry(name, known(dialect.acts(), name, name), values);
    }

    private Optional<String> carry(String name, List<ActCommand> commands, Map<String, String> values) {
        Optional<String> result = Optional.empty();
        for (ActCommand command : commands) {
            Exchange.Said said = play(command, values);
            String answer = said.text();
            if (command.absent().isPresent() && command.absent().get().matcher(answer).find()) {
                return Optional.empty();
            }
            Matcher expected = command.expect().matcher(answer);
            if (!expected.find()) {
                if (said.lineEnded()) {
                    // The device may have dropped the line before its confirmation came through; whoever looks next sees what became of it.
                    return Optional.empty();
                }
                throw exchange.trouble(Kind.UNREADABLE_ANSWER, "an answer to \"%s\" that shows \"%s\"".formatted(name, command.expect()),
                        answer.isBlank() ? "an empty answer" : "\"%s\"".formatted(dialect.masked(answer.strip().lines().reduce((_, b) -> b).orElse(""))),
                        "The device did not confirm. Look at its last lines before trying again.", answer);
            }
            result = command.expect().namedGroups().containsKey("value") ? Optional.of(values(expected)) : Optional.empty();
        }
        return result;
    }

    /** The value of a match and of those behind it; several members that say the same say one thing. */
    private static String values(Matcher match) {
        TreeSet<String> values = new TreeSet<>();
        do {
            values.add(match.group("value"));
        } while (match.find());
        return String.join(", ", values);
    }
}
