package calmstep.dialect;

import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.dialect.Dialect.ActCommand;
import calmstep.dialect.RequestExchange.Upload;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.regex.Matcher;

/** Plays the commands of an act, and looks for what each has to show. */
final class ActPlay {
    private static final Duration ASKED_AGAIN_AFTER = Duration.ofMillis(500);

    private final Dialect dialect;
    private final Exchange exchange;
    private final InstantSource clock;

    ActPlay(Dialect dialect, Exchange exchange, InstantSource clock) {
        this.dialect = dialect;
        this.exchange = exchange;
        this.clock = clock;
    }

    /**
     * @param file that is sent where a command uploads one
     * @return the value that the last command's answer shows
     */
    Optional<String> carry(
            String name,
            List<ActCommand> commands,
            Map<String, String> values,
            Optional<Upload> file) {
        Optional<String> result = Optional.empty();
        for (ActCommand command : commands) {
            Exchange.Said said = play(command, values, file);
            String answer = said.text();
            if (command.absent().isPresent() && command.absent().get().matcher(answer).find()) {
                return Optional.empty();
            }
            Matcher expected = command.expect().matcher(answer);
            if (!expected.find()) {
                if (said.lineEnded()) {
                    // The device may have dropped the line before its confirmation came through;
                    // whoever looks next sees what became of it.
                    return Optional.empty();
                }
                throw exchange.trouble(
                        Kind.UNREADABLE_ANSWER,
                        "an answer to \"%s\" that shows \"%s\"".formatted(name, command.expect()),
                        answer.isBlank()
                                ? "an empty answer"
                                : "\"%s\""
                                        .formatted(
                                                dialect.masked(
                                                        answer.strip()
                                                                .lines()
                                                                .reduce((_, b) -> b)
                                                                .orElse(""))),
                        "The device did not confirm. Look at its last lines before trying again.",
                        answer);
            }
            result =
                    command.expect().namedGroups().containsKey("value")
                            ? Optional.of(values(expected))
                            : Optional.empty();
        }
        return result;
    }

    Exchange.Said play(ActCommand command, Map<String, String> values) {
        return play(command, values, Optional.empty());
    }

    /** A command that begins something is followed by one that is said again until that is over. */
    private Exchange.Said play(
            ActCommand command, Map<String, String> values, Optional<Upload> file) {
        String text = command.send();
        for (Map.Entry<String, String> value : values.entrySet()) {
            text = text.replace("{" + value.getKey() + "}", value.getValue());
        }
        if (command.uploads() && exchange instanceof RequestExchange requests) {
            return requests.send(text, file.orElseThrow(), command.within());
        }
        Instant deadline = clock.instant().plus(command.within());
        while (true) {
            Exchange.Said said =
                    exchange.command(
                            text,
                            command.answers(),
                            command.until().isPresent()
                                    ? dialect.answersWithin()
                                    : command.within(),
                            command.endsLine());
            if (command.until().isEmpty() || command.until().get().matcher(said.text()).find()) {
                return said;
            }
            if (clock.instant().isAfter(deadline)) {
                throw exchange.trouble(
                        Kind.TIMED_OUT,
                        "\"%s\" shows \"%s\" within %s min"
                                .formatted(
                                        text, command.until().get(), command.within().toMinutes()),
                        dialect.masked(said.text().strip()),
                        "The device is still at it, or has given up. Look at it before trying"
                                + " again.",
                        said.text());
            }
            pause(text, said);
        }
    }

    private void pause(String command, Exchange.Said said) {
        try {
            Thread.sleep(ASKED_AGAIN_AFTER);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw exchange.trouble(
                    Kind.LINK_LOST,
                    "\"%s\" is watched to its end".formatted(command),
                    "we were told to stop",
                    "The device goes on by itself; the next look shows how far it came.",
                    said.text());
        }
    }

    /**
     * The value of a match and of those behind it; several members that say the same say one thing.
     */
    private static String values(Matcher match) {
        TreeSet<String> values = new TreeSet<>();
        do {
            values.add(match.group("value"));
        } while (match.find());
        return String.join(", ", values);
    }
}
