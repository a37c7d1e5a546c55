package calmstep.dialect;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.ImageSource;
import calmstep.core.fleet.Reading;
import calmstep.core.known.Known;
import calmstep.core.step.Digests;
import calmstep.dialect.Dialect.ActCommand;
import calmstep.dialect.Dialect.ConfigurationCommand;
import calmstep.dialect.Dialect.ReadCommand;
import calmstep.dialect.Dialect.What;
import calmstep.dialect.RequestExchange.Upload;
import java.net.URI;
import java.time.Duration;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** A session with a device whose family a dialect describes. */
final class DialectSession implements DeviceSession {
    /** Before the value of an object; it tells a person nothing. */
    private static final Pattern NUMBER = Pattern.compile("^[\\d.]+ = ");

    /**
     * A device that was told nothing meanwhile shows the same for so long: a step that looks right
     * behind the one that proved does not ask everything once more.
     */
    private static final Duration FRESH = Duration.ofSeconds(5);

    /** What asks only. */
    private static final Set<String> QUESTIONS =
            Set.of(
                    "digest",
                    "reach",
                    "fetching",
                    "channel",
                    "missing",
                    "pre-loaded",
                    "drained",
                    "undrained");

    private final Dialect dialect;
    private final Exchange exchange;
    private final ActPlay acts;
    private final InstantSource clock;
    private Optional<Read> fresh = Optional.empty();

    /**
     * @param running its running configuration, as it was pulled off for the reading
     */
    private record Read(Reading reading, String running) {}

    DialectSession(Dialect dialect, Exchange exchange, InstantSource clock) {
        this.dialect = dialect;
        this.exchange = exchange;
        this.acts = new ActPlay(dialect, exchange, clock);
        this.clock = clock;
    }

    @Override
    public Reading read() {
        if (fresh().isEmpty()) {
            fresh = Optional.of(readAnew());
        }
        return fresh.orElseThrow().reading();
    }

    @Override
    public Reading readNow() {
        fresh = Optional.empty();
        return read();
    }

    private Optional<Read> fresh() {
        return fresh.filter(
                read ->
                        Duration.between(read.reading().takenAt(), clock.instant()).compareTo(FRESH)
                                < 0);
    }

    private Read readAnew() {
        Answers answers = new Answers(dialect, exchange);
        dialect.readings().forEach(answers::ask);
        String running = pullOffAnew(BackupKind.RUNNING);
        String settings =
                String.join(
                        "\n", ConfigurationComparison.linesOf(running, dialect.volatileLines()));
        return new Read(answers.reading(clock.instant(), Digests.sha256(settings)), running);
    }

    /**
     * Asks everything that a reading and a backup ask, whatever the answers are worth.
     *
     * @param heard takes each command and its answer; when the line fails, what was heard until
     *     then
     */
    void hear(List<DialectCheck.Recorded> heard) {
        Stream.concat(
                        dialect.readings().stream().map(ReadCommand::send),
                        dialect.configurations().values().stream().map(ConfigurationCommand::send))
                .forEach(send -> hearAlsoARefusal(heard, send));
    }

    private void hearAlsoARefusal(List<DialectCheck.Recorded> heard, String send) {
        try {
            hearOne(heard, send);
        } catch (DeviceTrouble trouble) {
            if (trouble.kind() != Kind.REFUSED_BY_DEVICE) {
                throw trouble;
            }
            heard.add(
                    new DialectCheck.Recorded(
                            send, String.join("\n", trouble.trouble().lastLines()) + "\n"));
        }
    }

    private void hearOne(List<DialectCheck.Recorded> heard, String send) {
        heard.add(
                new DialectCheck.Recorded(
                        send,
                        exchange.command(
                                        send,
                                        List.of(),
                                        dialect.answersWithin().multipliedBy(4),
                                        false)
                                .text()));
    }

    @Override
    public String bootMark() {
        Answers answers = new Answers(dialect, exchange);
        ReadCommand command =
                dialect.readings().stream()
                        .filter(r -> r.finds().stream().anyMatch(f -> f.what() == What.BOOT_MARK))
                        .findFirst()
                        .orElseThrow();
        answers.ask(command);
        return answers.text(What.BOOT_MARK);
    }

    @Override
    public List<BackupKind> kinds() {
        return dialect.kinds();
    }

    @Override
    public String pullOff(BackupKind kind) {
        return fresh().filter(_ -> kind.equals(BackupKind.RUNNING))
                .map(Read::running)
                .orElseGet(() -> pullOffAnew(kind));
    }

    private String pullOffAnew(BackupKind kind) {
        ConfigurationCommand command =
                Optional.ofNullable(dialect.configurations().get(kind.name()))
                        .orElseThrow(
                                () ->
                                        new IllegalArgumentException(
                                                "The dialect of %s tells nothing of %s"
                                                        .formatted(dialect.title(), kind)));
        String said =
                exchange.command(
                                command.send(),
                                List.of(),
                                dialect.answersWithin().multipliedBy(4),
                                false)
                        .text();
        String answer =
                command.sight()
                        .map(
                                sight ->
                                        sight.in(said).stream()
                                                .map(row -> row.text("value"))
                                                .collect(Collectors.joining("\n")))
                        .orElse(said);
        Matcher end = command.endMark().matcher(answer);
        if (!end.find()) {
            throw exchange.trouble(
                    Kind.UNREADABLE_ANSWER,
                    "the %s up to its end mark".formatted(kind.words()),
                    "%s characters without one".formatted(answer.length()),
                    "The answer was cut. Try again.",
                    answer);
        }
        return answer.substring(0, end.end()) + "\n";
    }

    @Override
    public void save() {
        act("save", Map.of());
    }

    @Override
    public void putBack(BackupKind kind, String text) {
        String settings =
                String.join(
                        "\n", ConfigurationComparison.settingsOf(text, dialect.volatileLines()));
        carry(
                "put-back",
                told(dialect.puttingBack(kind), "how its %s is put back".formatted(kind.words())),
                Map.of(kind.isConfiguration() ? "settings" : "kept", settings));
    }

    @Override
    public Optional<String> whyNotReached(URI source) {
        return whyNot(Known.known(dialect.acts(), "reach"), Map.of("source", source.toString()));
    }

    /** What a device says where it does not show what is expected; empty where it does. */
    private Optional<String> whyNot(List<ActCommand> commands, Map<String, String> values) {
        for (ActCommand command : commands) {
            String answer = acts.play(command, values).text();
            if (!command.expect().matcher(answer).find()) {
                return Optional.of(
                        dialect.masked(answer.strip()).lines().collect(Collectors.joining("; ")));
            }
        }
        return Optional.empty();
    }

    @Override
    public boolean takesPush() {
        return Known.known(dialect.acts(), "fetch").stream().anyMatch(ActCommand::uploads);
    }

    @Override
    public void fetch(URI source, String fileName) {
        act("fetch", Map.of("source", source.toString(), "file", fileName));
    }

    @Override
    public Optional<String> fetching() {
        return dialect.acts().containsKey("fetching")
                ? act("fetching", Map.of())
                : Optional.empty();
    }

    @Override
    public void awaitFetch(String fileName) {
        carry(
                "fetch",
                Known.known(dialect.acts(), "fetch").stream()
                        .filter(command -> command.until().isPresent())
                        .toList(),
                Map.of("file", fileName));
    }

    @Override
    public boolean takeFrom(String medium, String fileName) {
        List<ActCommand> commands = dialect.acts().getOrDefault("take-from", List.of());
        fresh = Optional.empty();
        for (ActCommand command : commands) {
            String answer = acts.play(command, Map.of("medium", medium, "file", fileName)).text();
            if (!command.expect().matcher(answer).find()) {
                return false;
            }
        }
        return !commands.isEmpty();
    }

    @Override
    public Channel channel() {
        boolean free = true;
        String says = "";
        for (ActCommand command :
                known(dialect.acts(), "channel", "how to ask what it sends on to others")) {
            String answer = acts.play(command, Map.of()).text().strip();
            free &= command.expect().matcher(answer).find();
            says = dialect.masked(NUMBER.matcher(answer).replaceFirst(""));
        }
        return new Channel(free, says);
    }

    @Override
    public void sendToAll(URI source, String fileName) {
        carry(
                "send-to-all",
                known(dialect.acts(), "send-to-all", "how it sends a file to all"),
                Map.of("source", source.toString(), "file", fileName));
    }

    @Override
    public void sendMissing(URI source, String fileName, String receiver) {
        carry(
                "send-missing",
                known(dialect.acts(), "send-missing", "how it sends one what that one misses"),
                Map.of("source", source.toString(), "file", fileName, "receiver", receiver));
    }

    @Override
    public Optional<Long> missingOf(String fileName) {
        return carry(
                        "missing",
                        known(dialect.acts(), "missing", "how to ask what it misses of a file"),
                        Map.of("file", fileName))
                .map(this::number);
    }

    private long number(String value) {
        try {
            return Long.parseLong(value);
        } catch (NumberFormatException none) {
            throw exchange.trouble(
                    Kind.UNREADABLE_ANSWER,
                    "a number of pieces that are missing",
                    "\"%s\"".formatted(value),
                    "Look at the pattern of \"missing\" in the dialect.",
                    value);
        }
    }

    @Override
    public void push(String fileName, ImageSource.Opened file, long sizeBytes) {
        carry(
                "fetch",
                Known.known(dialect.acts(), "fetch"),
                Map.of("file", fileName),
                Optional.of(new Upload(file, sizeBytes)));
    }

    @Override
    public void preLoad(String fileName) {
        carry(
                "pre-load",
                known(dialect.acts(), "pre-load", "how dependents are brought an image ahead"),
                Map.of("file", fileName));
    }

    @Override
    public Optional<String> whyNotPreLoaded(String fileName) {
        return whyNot(
                known(dialect.acts(), "pre-loaded", "how to ask whether dependents hold an image"),
                Map.of("file", fileName));
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
        carry(
                "install " + component,
                known(dialect.installs(), component, "how a file is handed to its " + component),
                Map.of("file", fileName));
    }

    @Override
    public void restart() {
        act("restart", Map.of());
    }

    @Override
    public void restartMember(String member) {
        carry(
                "restart-member",
                known(dialect.acts(), "restart-member", "how one member restarts"),
                Map.of("member", member));
    }

    @Override
    public void handOver(String member) {
        carry(
                "hand-over",
                known(dialect.acts(), "hand-over", "how a member hands over"),
                Map.of("member", member));
    }

    @Override
    public void drain(String member) {
        carry("drain", draining("drain"), Map.of("member", member));
    }

    @Override
    public Optional<String> whyNotDrained(String member) {
        return whyNot(draining("drained"), Map.of("member", member));
    }

    @Override
    public void undrain() {
        carry("undrain", draining("undrain"), Map.of());
    }

    @Override
    public Optional<String> whyNotCarrying() {
        return whyNot(draining("undrained"), Map.of());
    }

    private List<ActCommand> draining(String act) {
        return known(dialect.acts(), act, "how its traffic is told to go another way, and back");
    }

    /**
     * Carries an act out that is not of a device that runs.
     *
     * @return its value, where it has one
     */
    Optional<String> carryOut(String act, Map<String, String> values) {
        return act(act, values);
    }

    private List<ActCommand> known(Map<String, List<ActCommand>> acts, String name, String what) {
        return told(acts.getOrDefault(name, List.of()), what);
    }

    private List<ActCommand> told(List<ActCommand> commands, String what) {
        if (commands.isEmpty()) {
            throw exchange.trouble(
                    Kind.REFUSED_BY_DEVICE,
                    "the dialect of %s tells %s".formatted(dialect.title(), what),
                    "it does not",
                    "Add it to the dialect, or do this step by hand and try again.",
                    "");
        }
        return commands;
    }

    @Override
    public void close() {
        exchange.close();
    }

    /**
     * The value that the last command's answer shows; several members' values, where they differ,
     * as a list; empty when it shows that there is none.
     */
    private Optional<String> act(String name, Map<String, String> values) {
        return carry(name, known(dialect.acts(), name, name), values);
    }

    private Optional<String> carry(
            String name, List<ActCommand> commands, Map<String, String> values) {
        return carry(name, commands, values, Optional.empty());
    }

    private Optional<String> carry(
            String name,
            List<ActCommand> commands,
            Map<String, String> values,
            Optional<Upload> file) {
        fresh = fresh.filter(_ -> QUESTIONS.contains(name));
        return acts.carry(name, commands, values, file);
    }
}
