package calmstep.cli;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Components;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "path",
        description =
                "How does a device get to a release? Hops, each with its reason. Asks about one"
                        + " device, a selection, or hardware that nobody owns.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples, on the demo:",
            "  calmstep path rt-dunmere-1 --to 2.8.2",
            "  calmstep path --where family:brannoch-b2 --to clears:NF-26-03",
            "  calmstep path --family osmer-r6 --model R6-4 --revision B --runs 2.4.0",
            "Without a service, from files (with --inventory, or with --family …):",
            "  calmstep path rt-dunmere-1 --catalogue demo/catalogue/*.yaml --inventory"
                    + " demo/northmere.yaml"
        })
final class PathCommand implements Callable<Integer> {
    @Mixin Common common = new Common();

    @Parameters(paramLabel = "DEVICE", arity = "0..1")
    String name = "";

    @Option(
            names = "--where",
            paramLabel = "SELECTION",
            description = "many devices at once: " + FleetCommands.WHERE)
    Optional<String> where = Optional.empty();

    @Option(
            names = "--to",
            paramLabel = "TARGET",
            description =
                    "recommended, newest-general, one-behind, aged-90 (days), clears:ADVISORY, or a"
                            + " release (default: recommended)",
            defaultValue = "recommended")
    String target = "recommended";

    @Option(
            names = "--prefer",
            description = "fewest-restarts, shortest-dark or proven (default: fewest-restarts)",
            defaultValue = "fewest-restarts")
    String prefer = "fewest-restarts";

    @Option(names = "--family", description = "hardware that nobody owns: its family …")
    String family = "";

    @Option(names = "--model")
    String model = "";

    @Option(names = "--revision")
    String revision = "";

    @Option(names = "--region")
    String region = "";

    @Option(names = "--brand")
    String brand = "";

    @Option(names = "--features", split = ",", paramLabel = "FEATURE")
    List<String> features = List.of();

    @Option(
            names = "--runs",
            paramLabel = "RELEASES",
            description = "… and what it runs, as 2.4.0 or system:2.4.0,board:1.12")
    String runs = "";

    @Option(
            names = "--catalogue",
            paramLabel = "FILE",
            arity = "1..*",
            description = "work without a service, from these catalogues …")
    List<Path> catalogues = List.of();

    @Option(names = "--inventory", paramLabel = "FILE", description = "… and this inventory")
    Optional<Path> inventory = Optional.empty();

    @Override
    public Integer call() {
        if (Stream.of(!name.isEmpty(), where.isPresent(), !family.isEmpty())
                        .filter(asked -> asked)
                        .count()
                != 1) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "Expected one of: the name of a device, --where SELECTION, or --family with"
                            + " --runs.");
        }
        if ((catalogues.isEmpty() && inventory.isPresent())
                || (!catalogues.isEmpty() && inventory.isPresent() == !family.isEmpty())) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "Without a service expected --catalogue and --inventory, or --catalogue and"
                            + " --family.");
        }
        if (where.isPresent()) {
            return many();
        }
        JsonNode answer =
                catalogues.isEmpty()
                        ? common.service()
                                .get(
                                        "/api/paths?to=%s&prefer=%s%s"
                                                .formatted(
                                                        Service.encode(target),
                                                        Service.encode(prefer),
                                                        whom()))
                        : fromFiles().one(name);
        common.out().print(answer, words(answer));
        return answer.path("outcome").asString().equals("refused") ? Problem.STOPS : 0;
    }

    private String whom() {
        return family.isEmpty()
                ? "&device=" + Service.encode(name)
                : "&family=%s&model=%s&revision=%s&region=%s&brand=%s&features=%s&runs=%s"
                        .formatted(
                                Service.encode(family),
                                Service.encode(model),
                                Service.encode(revision),
                                Service.encode(region),
                                Service.encode(brand),
                                Service.encode(String.join(",", features)),
                                Service.encode(runs));
    }

    private PathsFromFiles fromFiles() {
        PathsFromFiles files = PathsFromFiles.read(catalogues, target, prefer);
        return family.isEmpty()
                ? files.with(inventory.orElseThrow())
                : files.with(
                        family,
                        new Hardware(model, revision, region, brand, Set.copyOf(features)),
                        Components.parse(runs));
    }

    private int many() {
        JsonNode answers =
                catalogues.isEmpty()
                        ? common.service()
                                .get(
                                        "/api/paths/selected?where=%s&to=%s&prefer=%s"
                                                .formatted(
                                                        Service.encode(where.orElseThrow()),
                                                        Service.encode(target),
                                                        Service.encode(prefer)))
                        : fromFiles().many(where.orElseThrow());
        Table table =
                new Table()
                        .column("device", 0)
                        .column("runs", 1)
                        .column("way", 0)
                        .column("restarts", 2)
                        .column("dark", 2)
                        .column("to bring", 3)
                        .column("read", 2)
                        .column("in the way", 9)
                        .told("in the way");
        answers.forEach(
                a -> {
                    JsonNode best = a.path("best");
                    boolean found = a.path("outcome").asString().equals("found");
                    table.row(
                            a.path("device").asString(),
                            a.path("runs").asString(),
                            found
                                    ? best.path("hops")
                                            .valueStream()
                                            .map(PathCommand::step)
                                            .collect(Collectors.joining(" > "))
                                    : a.path("outcome").asString().equals("refused")
                                            ? "none"
                                            : "there",
                            found ? best.path("restarts").asInt() : "",
                            found ? Output.minutes(best.path("darkSeconds").asLong()) : "",
                            found ? Output.bytes(best.path("bytes").asLong()) : "",
                            Ago.of(a.path("readAt")),
                            a.path("obstacles")
                                    .valueStream()
                                    .map(JsonNode::asString)
                                    .collect(Collectors.joining("; ")));
                });
        common.out()
                .print(
                        answers,
                        table,
                        "No device whose releases are known is meant by \"%s\"."
                                .formatted(where.orElseThrow()));
        return answers.valueStream().anyMatch(a -> a.path("outcome").asString().equals("refused"))
                ? Problem.STOPS
                : 0;
    }

    private static String step(JsonNode hop) {
        String component = hop.path("component").asString();
        return (component.equals("system") ? "" : component + " ") + hop.path("to").asString();
    }

    private static String words(JsonNode a) {
        String revision =
                a.path("revision").asString("").isEmpty()
                        ? ""
                        : ", revision " + a.path("revision").asString();
        String site = a.path("site").asString("").isEmpty() ? "" : ", " + a.path("site").asString();
        String known =
                !a.path("readAt").isNull()
                        ? "read " + Ago.of(a.path("readAt"))
                        : site.isEmpty() ? "nobody owns it" : "as the inventory says";
        StringBuilder text = head(a, revision, site, known);
        return switch (a.path("outcome").asString()) {
            case "already-there" ->
                    text.append("Nothing to do: it runs the wanted release already.").toString();
            case "refused" -> refused(a, text);
            default -> found(a, text);
        };
    }

    private static StringBuilder head(JsonNode a, String revision, String site, String known) {
        StringBuilder text =
                new StringBuilder(
                        "%s  %s%s%s   runs %s   wanted %s   %s%n%n"
                                .formatted(
                                        a.path("device").asString(),
                                        a.path("title").asString(),
                                        revision,
                                        site,
                                        a.path("runs").asString(),
                                        a.path("wanted").asString(),
                                        known));
        String chosenBy =
                a.path("chosenBy")
                        .valueStream()
                        .map(
                                fact ->
                                        "%s %s (%s)"
                                                .formatted(
                                                        fact.path("what").asString(),
                                                        fact.path("value").asString(),
                                                        fact.path("source")
                                                                        .asString()
                                                                        .equals("shown")
                                                                ? "the device says so"
                                                                : "the inventory says so"))
                        .collect(Collectors.joining(", "));
        return chosenBy.isEmpty()
                ? text
                : text.append(Output.paragraph("  Images for ", chosenBy + ".")).append('\n');
    }

    private static String refused(JsonNode a, StringBuilder text) {
        int count = a.path("obstacles").size();
        text.append(
                "There is no path. %s in the way:%n"
                        .formatted(count == 1 ? "One thing stands" : count + " things stand"));
        a.path("obstacles").forEach(o -> text.append(Output.paragraph("  - ", o.asString() + ".")));
        String highest = a.path("highestReachable").asString("");
        return text.append(
                        highest.isEmpty()
                                ? "Nothing newer can be reached today."
                                : "It can reach %s today.".formatted(highest))
                .toString();
    }

    private static String images(JsonNode hop) {
        return hop.path("images")
                .valueStream()
                .map(i -> i.path("fileName").asString())
                .collect(Collectors.joining(" + "));
    }

    private static String found(JsonNode a, StringBuilder text) {
        List<JsonNode> hops = a.path("best").path("hops").valueStream().toList();
        boolean several =
                hops.stream().map(hop -> hop.path("component").asString()).distinct().count() > 1;
        Table table =
                new Table()
                        .column("hop", 0)
                        .column(several ? "what" : "", 0)
                        .column("from", 1)
                        .column("to", 0)
                        .column("restarts", 2)
                        .column("dark", 3)
                        .column("image", 4)
                        .column("to rest", 5);
        int number = 0;
        for (JsonNode hop : hops) {
            table.row(
                    ++number,
                    several ? hop.path("component").asString() : "",
                    hop.path("from").asString(),
                    hop.path("to").asString(),
                    hop.path("restarts").asInt(),
                    Output.minutes(hop.path("darkSeconds").asLong()),
                    images(hop),
                    hop.path("mayRest").asBoolean() ? "may rest here" : "not here");
        }
        table.text().lines().forEach(line -> text.append("  ").append(line).append('\n'));
        number = 0;
        for (JsonNode hop : hops) {
            number++;
            Optional<String> next =
                    hops.stream()
                            .skip(number)
                            .filter(later -> later.path("component").equals(hop.path("component")))
                            .map(later -> later.path("to").asString())
                            .findFirst();
            addWhy(hop, text, number, next);
            addNotes(hop, text, number);
        }
        text.append(order(a.path("order")));
        String others = others(a);
        text.append('\n')
                .append(
                        Output.paragraph(
                                "  Alternatives: ", (others.isEmpty() ? "none" : others) + "."));
        addOlder(a, text);
        return text.toString();
    }

    private static void addOlder(JsonNode a, StringBuilder text) {
        JsonNode older = a.path("byOlderOnes");
        if (older.isObject()) {
            text.append(
                    Output.paragraph(
                            "  Proven only:  ",
                            "with releases older than %s days only, %s."
                                    .formatted(
                                            older.path("days").asInt(),
                                            older.path("endsAt").asString("").isEmpty()
                                                    ? "there is no way"
                                                    : "the path ends at "
                                                            + older.path("endsAt").asString())));
        }
    }

    private static String others(JsonNode a) {
        String others =
                a.path("alternatives")
                        .valueStream()
                        .map(
                                p ->
                                        "%s (%s restarts, %s dark)"
                                                .formatted(
                                                        p.path("hops")
                                                                .valueStream()
                                                                .map(h -> h.path("to").asString())
                                                                .collect(Collectors.joining(" > ")),
                                                        p.path("restarts").asInt(),
                                                        Output.minutes(
                                                                p.path("darkSeconds").asLong())))
                        .collect(Collectors.joining("; "));
        return others;
    }

    private static void addNotes(JsonNode hop, StringBuilder text, int number) {
        for (JsonNode other : hop.path("lookAlikes")) {
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  Not for hop %s: ".formatted(number),
                                    other.asString() + "."));
        }
        for (JsonNode brought : hop.path("brings")) {
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  With hop %s: ".formatted(number),
                                    "%s comes in the same file.".formatted(brought.asString())));
        }
        addToKnow(hop, text);
    }

    private static void addToKnow(JsonNode hop, StringBuilder text) {
        for (JsonNode know : hop.path("toKnow")) {
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  To know of %s: ".formatted(hop.path("to").asString()),
                                    know.asString() + "."));
        }
    }

    private static void addWhy(
            JsonNode hop, StringBuilder text, int number, Optional<String> next) {
        for (JsonNode why : hop.path("why")) {
            String reason =
                    "%s (%s, from %s)"
                            .formatted(
                                    why.path("sentence").asString(),
                                    why.path("rule").asString(),
                                    why.path("source").asString());
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  Why hop %s: ".formatted(number),
                                    next.map(
                                                    to ->
                                                            "%s cannot be reached from %s directly: %s; %s is the stepping stone."
                                                                    .formatted(
                                                                            to,
                                                                            hop.path("from")
                                                                                    .asString(),
                                                                            reason,
                                                                            hop.path("to")
                                                                                    .asString()))
                                            .orElse(reason + ".")));
        }
    }

    /** The order inside a unit of several members; nothing for a single device. */
    private static String order(JsonNode order) {
        if (!order.isObject()) {
            return "";
        }
        StringBuilder text =
                new StringBuilder(
                        "%n  Inside the unit, %s without service in %s:%n"
                                .formatted(
                                        Output.minutes(order.path("darkSeconds").asLong()),
                                        Output.minutes(order.path("takesSeconds").asLong())));
        int number = 0;
        for (JsonNode move : order.path("moves")) {
            long dark = move.path("darkSeconds").asLong();
            text.append(
                    Output.paragraph(
                            "  %2s  ".formatted(++number),
                            "%s%s."
                                    .formatted(
                                            move.path("sentence").asString(),
                                            dark == 0
                                                    ? ""
                                                    : ", %s dark"
                                                            .formatted(Output.minutes(dark)))));
        }
        order.path("barred")
                .forEach(
                        b ->
                                text.append(
                                        Output.paragraph(
                                                "      ",
                                                "Not member by member: %s."
                                                        .formatted(b.asString()))));
        return text.toString();
    }
}
