package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Every command, with each of its options in turn, against the description of the interface:
 * whatever the client sends has to be an operation that is described there, with parameters and
 * fields that it knows, and with those that it needs.
 */
class EveryCallTest {
    private static final Duration LONGEST = Duration.ofSeconds(4);
    private static final JsonNode DESCRIBED = described();

    private record Call(String method, URI uri, String type, String body) {}

    private record Operation(String name, JsonNode described) {}

    private final List<Call> calls = Collections.synchronizedList(new ArrayList<>());
    private HttpServer service;
    private int outputs;

    @TempDir private Path folder;

    private static JsonNode described() {
        try {
            return JsonMapper.shared()
                    .readTree(Files.readString(Path.of("../console/openapi.json")));
        } catch (IOException gone) {
            throw new IllegalStateException(gone);
        }
    }

    @BeforeEach
    void start() throws IOException {
        service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        service.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        service.createContext("/", this::answer);
        service.start();
    }

    @AfterEach
    void stop() {
        service.stop(0);
    }

    /**
     * Long work is at its end whenever it is asked for; everything else has no content worth
     * reading.
     */
    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            Call call =
                    new Call(
                            exchange.getRequestMethod(),
                            exchange.getRequestURI(),
                            String.valueOf(exchange.getRequestHeaders().getFirst("Content-Type")),
                            new String(
                                    exchange.getRequestBody().readAllBytes(),
                                    StandardCharsets.UTF_8));
            calls.add(call);
            boolean list =
                    operation(call)
                            .map(operation -> operation.described().findValue("responses"))
                            .map(
                                    responses ->
                                            responses
                                                            .toString()
                                                            .contains(
                                                                    "\"type\":\"array\",\"items\"")
                                                    || responses.toString().contains("\"items\":{"))
                            .orElse(false);
            byte[] bytes =
                    (list
                                    ? "[]"
                                    : "{\"id\":1,\"job\":1,\"name\":\"x\",\"state\":\"finished\",\"done\":1,\"total\":1,\"units\":[],\"findings\":[]}")
                            .getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", "application/json");
            exchange.sendResponseHeaders(200, bytes.length);
            try (OutputStream out = exchange.getResponseBody()) {
                out.write(bytes);
            }
        }
    }

    private static Optional<Operation> operation(Call call) {
        String path = call.uri().getRawPath();
        return DESCRIBED
                .path("paths")
                .propertyStream()
                .filter(entry -> path.matches(entry.getKey().replaceAll("\\{[^}]+}", "[^/]+")))
                .filter(
                        entry ->
                                entry.getValue()
                                        .has(call.method().toLowerCase(java.util.Locale.ROOT)))
                .min(
                        java.util.Comparator.comparingInt(
                                entry -> entry.getKey().contains("{") ? 1 : 0))
                .map(
                        entry ->
                                new Operation(
                                        call.method() + " " + entry.getKey(),
                                        entry.getValue()
                                                .path(
                                                        call.method()
                                                                .toLowerCase(
                                                                        java.util.Locale.ROOT))));
    }

    @Test
    void whateverIsSentIsDescribed() throws Exception {
        Map<String, String> wrong = new TreeMap<>();
        Set<String> used = new TreeSet<>();
        for (CommandSpec command : leaves(Main.commandLine())) {
            for (List<String> words : waysToSay(command)) {
                calls.clear();
                say(words);
                for (Call call : List.copyOf(calls)) {
                    Optional<Operation> operation = operation(call);
                    operation.map(Operation::name).ifPresent(used::add);
                    String trouble =
                            operation
                                    .map(known -> trouble(call, known.described()))
                                    .orElse("no such operation");
                    if (!trouble.isEmpty()) {
                        wrong.putIfAbsent(
                                "%s %s".formatted(call.method(), call.uri()),
                                "%s: %s %s"
                                        .formatted(trouble, String.join(" ", words), call.body()));
                    }
                }
            }
        }
        assertThat(wrong).isEmpty();
        assertThat(used).as("what the client asks for").hasSizeGreaterThan(80);
    }

    private static String trouble(Call call, JsonNode operation) {
        Set<String> known = new TreeSet<>();
        operation
                .path("parameters")
                .valueStream()
                .filter(parameter -> parameter.path("in").asString().equals("query"))
                .forEach(parameter -> known.add(parameter.path("name").asString()));
        Set<String> given = new TreeSet<>();
        Optional.ofNullable(call.uri().getRawQuery()).stream()
                .flatMap(query -> Stream.of(query.split("&")))
                .forEach(
                        pair ->
                                given.add(
                                        URLDecoder.decode(
                                                pair.split("=")[0], StandardCharsets.UTF_8)));
        Set<String> needed = new TreeSet<>();
        operation
                .path("parameters")
                .valueStream()
                .filter(
                        parameter ->
                                parameter.path("in").asString().equals("query")
                                        && parameter.path("required").asBoolean())
                .forEach(parameter -> needed.add(parameter.path("name").asString()));
        String parameters = differs("parameter", given, known, needed);
        return parameters.isEmpty() ? body(call, operation.path("requestBody")) : parameters;
    }

    private static String body(Call call, JsonNode described) {
        if (!call.type().startsWith("application/json")) {
            return "";
        }
        JsonNode schema = described.path("content").path("application/json").path("schema");
        JsonNode resolved =
                schema.has("$ref")
                        ? DESCRIBED.at(schema.path("$ref").asString().substring(1))
                        : schema;
        if (!resolved.has("properties")) {
            return "";
        }
        try {
            Set<String> needed = new TreeSet<>();
            resolved.path("required").valueStream().forEach(name -> needed.add(name.asString()));
            return differs(
                    "field",
                    new TreeSet<>(JsonMapper.shared().readTree(call.body()).propertyNames()),
                    new TreeSet<>(resolved.path("properties").propertyNames()),
                    needed);
        } catch (JacksonException unreadable) {
            return "no JSON";
        }
    }

    private static String differs(
            String what, Set<String> given, Set<String> known, Set<String> needed) {
        Optional<String> unknown = given.stream().filter(name -> !known.contains(name)).findFirst();
        Optional<String> missing =
                needed.stream().filter(name -> !given.contains(name)).findFirst();
        return unknown.map(
                        name ->
                                "the %s %s is not known, these are: %s"
                                        .formatted(what, name, known))
                .or(() -> missing.map(name -> "the %s %s is missing".formatted(what, name)))
                .orElse("");
    }

    /** But for those that write down who is signed in here. */
    private static List<CommandSpec> leaves(CommandLine top) {
        List<CommandLine> all = new ArrayList<>(List.of(top));
        for (int i = 0; i < all.size(); i++) {
            all.addAll(all.get(i).getSubcommands().values());
        }
        return all.stream()
                .filter(one -> one.getSubcommands().isEmpty())
                .map(CommandLine::getCommandSpec)
                .filter(
                        spec ->
                                !Set.of(
                                                "help",
                                                "completion",
                                                "generate-completion",
                                                "sign-in",
                                                "sign-out")
                                        .contains(spec.name()))
                .distinct()
                .toList();
    }

    /** As short as it may be, and once more with each of its options. */
    private List<List<String>> waysToSay(CommandSpec command) throws IOException {
        List<String> shortest =
                new ArrayList<>(
                        Arrays.asList(command.qualifiedName(" ").split(" "))
                                .subList(1, command.qualifiedName(" ").split(" ").length));
        for (PositionalParamSpec positional : command.positionalParameters()) {
            for (int i = 0; i < Math.max(1, positional.arity().min()); i++) {
                shortest.add(value(positional));
            }
        }
        for (OptionSpec option : command.options().stream().filter(OptionSpec::required).toList()) {
            shortest.addAll(said(option));
        }
        List<List<String>> ways = new ArrayList<>(List.of(shortest));
        for (OptionSpec option : command.options()) {
            if (!option.required()
                    && !option.usageHelp()
                    && !option.versionHelp()
                    && !Set.of("--url", "--output").contains(option.longestName())) {
                ways.add(Stream.concat(shortest.stream(), said(option).stream()).toList());
            }
        }
        return ways;
    }

    private List<String> said(OptionSpec option) throws IOException {
        return option.arity().max() == 0
                ? List.of(option.longestName())
                : List.of(option.longestName(), value(option));
    }

    private String value(ArgSpec argument) throws IOException {
        if (argument.completionCandidates() != null
                && argument.completionCandidates().iterator().hasNext()) {
            return argument.completionCandidates().iterator().next();
        }
        Class<?> type =
                argument.auxiliaryTypes().length > 0
                        ? argument.auxiliaryTypes()[argument.auxiliaryTypes().length - 1]
                        : argument.type();
        return switch (type.getSimpleName()) {
            case "Path", "File" ->
                    argument.paramLabel().equals("OUT")
                                    || (argument instanceof OptionSpec option
                                            && option.longestName().equals("--to"))
                            ? folder.resolve("out-" + ++outputs).toString()
                            : given();
            case "Integer", "int", "Long", "long" -> "1";
            case "LocalDate" -> "2026-12-07";
            case "Instant" -> "2026-12-07T01:00:00Z";
            case "Duration" -> "PT5M";
            default -> argument.paramLabel().contains("FILE") ? given() : "x";
        };
    }

    private String given() throws IOException {
        Path file = folder.resolve("given.yaml");
        return (Files.exists(file) ? file : Files.writeString(file, "given: 1\n")).toString();
    }

    /** Some would follow for ever what never ends here: they are told to stop. */
    private void say(List<String> words) throws InterruptedException {
        List<String> all = new ArrayList<>(words);
        all.addAll(
                List.of("--url", "http://127.0.0.1:%s".formatted(service.getAddress().getPort())));
        PrintStream out = System.out;
        PrintStream err = System.err;
        InputStream in = System.in;
        try {
            System.setOut(new PrintStream(OutputStream.nullOutputStream()));
            System.setErr(new PrintStream(OutputStream.nullOutputStream()));
            System.setIn(
                    new ByteArrayInputStream(
                            "a-password-of-some-length\n"
                                    .repeat(4)
                                    .getBytes(StandardCharsets.UTF_8)));
            Thread saying =
                    Thread.ofPlatform()
                            .daemon()
                            .start(
                                    () ->
                                            Main.commandLine(words.toArray(String[]::new))
                                                    .execute(all.toArray(String[]::new)));
            saying.join(LONGEST);
            saying.interrupt();
            saying.join(LONGEST);
        } finally {
            System.setOut(out);
            System.setErr(err);
            System.setIn(in);
        }
    }
}
