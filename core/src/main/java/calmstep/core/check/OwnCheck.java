package calmstep.core.check;

import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import java.net.URI;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A check of one's own.
 *
 * @param name what it is called in the account of a run
 */
public record OwnCheck(String name, Expectation expectation) {
    /** The kind of fact that it leaves. */
    public static final String KIND = "check";

    /** What is seen where it holds. */
    public static final String OK = "ok";

    private static final Pattern LINE = Pattern.compile("([^:]{1,60}): *(\\w+) +(.+)");
    private static final Pattern PORT = Pattern.compile("(\\S+):(\\d{1,5})");
    private static final Pattern PAGE = Pattern.compile("(https?://\\S+)(?: +shows +(.+))?");
    private static final Pattern ADDRESS = Pattern.compile("\\w+://\\S+");
    private static final Pattern NAME = Pattern.compile("(\\S+)(?: +is +(\\S+))?(?: +at +(\\S+))?");
    private static final Pattern COUNT =
            Pattern.compile("(\\S+)(?: +(.+?))? +at least +(\\d{1,6})");

    /** What is expected. */
    public sealed interface Expectation {
        /** This address answers an echo request. */
        record Answers(String address) implements Expectation {}

        /** This TCP port takes a connection. */
        record Accepts(String address, int port) implements Expectation {}

        /**
         * This page loads, and holds a text.
         *
         * @param shows empty where any page will do
         */
        record Loads(URI page, Optional<String> shows) implements Expectation {}

        /**
         * This name resolves.
         *
         * @param address that it resolves to; empty where any will do
         * @param server that is asked, with or without a port; empty for the one that this machine
         *     uses
         */
        record Resolves(String host, Optional<String> address, Optional<String> server)
                implements Expectation {}

        /** The device itself reaches this address, as it would a source of images: it is asked. */
        record Reaches(URI address) implements Expectation {}

        /**
         * The device shows at least so many of something.
         *
         * @param value in which state; empty for any
         */
        record Counts(String kind, Optional<String> value, int atLeast) implements Expectation {}
    }

    /**
     * @throws IllegalArgumentException with what is expected, when it is no check
     */
    public static OwnCheck parse(String line) {
        Matcher parts = LINE.matcher(line.strip());
        if (parts.matches()) {
            Optional<Expectation> expectation = expectation(parts.group(2), parts.group(3).strip());
            if (expectation.isPresent()) {
                return new OwnCheck(parts.group(1).strip(), expectation.get());
            }
        }
        throw new IllegalArgumentException(
                ("Expected \"NAME: ping ADDRESS\", \"NAME: port ADDRESS:PORT\", \"NAME: page URL"
                     + " shows TEXT\", \"NAME: name HOST is ADDRESS at SERVER\", \"NAME: reach"
                     + " URL\" (the device is asked) or \"NAME: count KIND STATE at least NUMBER\";"
                     + " saw \"%s\".")
                        .formatted(line));
    }

    private static Optional<Expectation> expectation(String word, String rest) {
        return switch (word) {
            case "ping" ->
                    rest.contains(" ")
                            ? Optional.empty()
                            : Optional.of(new Expectation.Answers(rest));
            case "port" ->
                    matched(PORT, rest)
                            .filter(m -> isPort(m.group(2)))
                            .map(
                                    m ->
                                            new Expectation.Accepts(
                                                    m.group(1), Integer.parseInt(m.group(2))));
            case "page" ->
                    matched(PAGE, rest)
                            .filter(m -> isAddress(m.group(1)))
                            .map(
                                    m ->
                                            new Expectation.Loads(
                                                    URI.create(m.group(1)),
                                                    Optional.ofNullable(m.group(2))));
            case "reach" ->
                    matched(ADDRESS, rest)
                            .filter(m -> isAddress(m.group()))
                            .map(m -> new Expectation.Reaches(URI.create(m.group())));
            case "name" ->
                    matched(NAME, rest)
                            .map(
                                    m ->
                                            new Expectation.Resolves(
                                                    m.group(1),
                                                    Optional.ofNullable(m.group(2)),
                                                    Optional.ofNullable(m.group(3))));
            case "count" ->
                    matched(COUNT, rest)
                            .map(
                                    m ->
                                            new Expectation.Counts(
                                                    m.group(1),
                                                    Optional.ofNullable(m.group(2)),
                                                    Integer.parseInt(m.group(3))));
            default -> Optional.empty();
        };
    }

    private static Optional<Matcher> matched(Pattern pattern, String text) {
        return Optional.of(pattern.matcher(text)).filter(Matcher::matches);
    }

    private static boolean isPort(String text) {
        int port = Integer.parseInt(text);
        return port > 0 && port < 65_536;
    }

    private static boolean isAddress(String text) {
        try {
            return URI.create(text).getHost() != null;
        } catch (IllegalArgumentException unreadable) {
            return false;
        }
    }

    /** The check as a line, as it is read. */
    public String line() {
        return name
                + ": "
                + switch (expectation) {
                    case Expectation.Answers(String address) -> "ping " + address;
                    case Expectation.Accepts(String address, int port) ->
                            "port %s:%s".formatted(address, port);
                    case Expectation.Loads(URI page, Optional<String> shows) ->
                            "page " + page + shows.map(" shows "::concat).orElse("");
                    case Expectation.Resolves(
                                    String host,
                                    Optional<String> address,
                                    Optional<String> server) ->
                            "name "
                                    + host
                                    + address.map(" is "::concat).orElse("")
                                    + server.map(" at "::concat).orElse("");
                    case Expectation.Reaches(URI address) -> "reach " + address;
                    case Expectation.Counts(String kind, Optional<String> value, int atLeast) ->
                            "count %s%s at least %s"
                                    .formatted(kind, value.map(" "::concat).orElse(""), atLeast);
                };
    }

    /**
     * What was seen, as a fact.
     *
     * @param seen {@value #OK}, or what was seen instead
     */
    public Fact fact(String seen) {
        return new Fact(KIND, name, seen);
    }

    /** Counts in a reading: its facts, and its parts by their kind and state. */
    public static String counted(Expectation.Counts wanted, Reading reading) {
        long count =
                Stream.concat(reading.facts().stream(), parts(reading))
                        .filter(
                                fact ->
                                        fact.kind().equals(wanted.kind())
                                                && wanted.value().stream()
                                                        .allMatch(fact.value()::equals))
                        .count();
        return count >= wanted.atLeast() ? OK : "%s, not %s".formatted(count, wanted.atLeast());
    }

    private static Stream<Fact> parts(Reading reading) {
        return reading.parts().stream()
                .map(part -> new Fact(part.part().kind().toString(), part.name(), part.state()));
    }
}
