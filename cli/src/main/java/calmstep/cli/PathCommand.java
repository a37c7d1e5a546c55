package calmstep.cli;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.InventoryText;
import calmstep.core.path.Hop;
import calmstep.core.path.Obstacle;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import calmstep.core.text.RejectedText;
import calmstep.core.version.Version;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

@Command(name = "path", description = "How does a device get to a release? Hops, each with its reason.", mixinStandardHelpOptions = true,
        footer = {"", "Examples, on the demo:", "  calmstep path rt-dunmere-1 --to 2.8.2", "Without a service, from files:",
            "  calmstep path rt-dunmere-1 --to recommended --catalogue demo/catalogue/osmer-r6.yaml --inventory demo/inventory.yaml"})
final class PathCommand implements Callable<Integer> {
    @Mixin
    Common common = new Common();

    @Parameters(paramLabel = "DEVICE")
    String name = "";

    @Option(names = "--to", paramLabel = "TARGET", description = "recommended, newest-general, one-behind, aged-90 (days), clears:ADVISORY, or a release (default: recommended)",
            defaultValue = "recommended")
    String target = "recommended";

    @Option(names = "--prefer", description = "fewest-restarts, shortest-dark or proven (default: fewest-restarts)", defaultValue = "fewest-restarts")
    String prefer = "fewest-restarts";

    @Option(names = "--catalogue", paramLabel = "FILE", description = "work without a service, from this catalogue …")
    Optional<Path> catalogue = Optional.empty();

    @Option(names = "--inventory", paramLabel = "FILE", description = "… and this inventory")
    Optional<Path> inventory = Optional.empty();

    @Override
    public Integer call() {
        if (catalogue.isPresent() != inventory.isPresent()) {
            throw new Problem(Problem.WRONG_CALL, "Without a service both files are needed: --catalogue and --inventory.");
        }
        JsonNode answer = catalogue.isPresent() ? fromFiles(catalogue.get(), inventory.orElseThrow())
                : common.service().get("/api/paths?device=%s&to=%s&prefer=%s".formatted(Service.encode(name), Service.encode(target), Service.encode(prefer)));
        common.out().print(answer, words(answer));
        return answer.path("outcome").asString().equals("refused") ? Problem.STOPS : 0;
    }

    private JsonNode fromFiles(Path catalogueFile, Path inventoryFile) {
        try {
            Catalogue read = CatalogueText.read(catalogueFile.toString(), GivenFile.read(catalogueFile));
            Device device = InventoryText.read(inventoryFile.toString(), GivenFile.read(inventoryFile), InventoryText.Format.of(inventoryFile.toString()), Map.of(read.family(), read.schemes())).find(name)
                    .orElseThrow(() -> new Problem(Problem.WRONG_CALL, "There is no device \"%s\" in %s.".formatted(name, inventoryFile)));
            if (device.runs().isEmpty()) {
                throw new Problem(Problem.WRONG_CALL, "The inventory does not say what %s runs; add \"runs: { system: … }\" to it.".formatted(name));
            }
            PathBook.Entry entry = new PathBook(preference(), LocalDate.now(Clock.systemUTC())).look(device, device.runs(), read, Target.parse(target));
            PathAnswer answer = entry.answer().orElseThrow(() -> new Problem(Problem.WRONG_CALL, "The catalogue has no release for \"%s\".".formatted(target)));
            return asData(read, device, entry.wanted().map(Version::text).orElse(target), answer);
        } catch (RejectedText rejected) {
            throw new Problem(Problem.WRONG_CALL, "The file was refused:", rejected.complaints().stream().map(Object::toString).toList());
        } catch (IllegalArgumentException malformed) {
            throw new Problem(Problem.WRONG_CALL, String.valueOf(malformed.getMessage()));
        }
    }

    private Preference preference() {
        return switch (prefer) {
            case "fewest-restarts" -> Preference.FEWEST_RESTARTS;
            case "shortest-dark" -> Preference.SHORTEST_DARK;
            case "proven" -> Preference.PROVEN;
            default -> throw new Problem(Problem.WRONG_CALL, "Expected --prefer fewest-restarts, shortest-dark or proven, saw \"%s\".".formatted(prefer));
        };
    }

    /** In the shape that the service answers. */
    private JsonNode asData(Catalogue read, Device device, String wanted, PathAnswer answer) {
        ObjectNode data = JsonMapper.shared().createObjectNode();
        data.put("device", name).put("title", read.title()).put("revision", device.hardware().revision()).put("site", device.site())
                .put("runs", device.runs().getOrDefault("system", "")).put("wanted", wanted).put("policy", target).putNull("readAt");
        switch (answer) {
            case PathAnswer.Found(var best, var alternatives) -> {
                data.put("outcome", "found").set("best", pathData(best));
                alternatives.forEach(alternative -> data.withArray("alternatives").add(pathData(alternative)));
            }
            case PathAnswer.AlreadyThere _ -> data.put("outcome", "already-there");
            case PathAnswer.Refused(List<Obstacle> obstacles, Optional<String> highest) -> {
                data.put("outcome", "refused");
                obstacles.forEach(o -> data.withArray("obstacles").add(o.sentence()));
                highest.ifPresent(h -> data.put("highestReachable", h));
            }
        }
        return data;
    }

    private static ObjectNode pathData(calmstep.core.path.Path path) {
        ObjectNode data = JsonMapper.shared().createObjectNode();
        data.put("restarts", path.cost().restarts()).put("darkSeconds", path.cost().darkSeconds()).put("bytes", path.cost().bytes());
        for (Hop hop : path.hops()) {
            ObjectNode h = data.withArray("hops").addObject();
            h.put("component", hop.component()).put("from", hop.from()).put("to", hop.to()).put("restarts", hop.restarts()).put("darkSeconds", hop.dark().toSeconds()).put("mayRest", hop.mayRest());
            hop.images().forEach(image -> h.withArray("images").addObject().put("fileName", image.fileName()).put("sizeBytes", image.sizeBytes()));
            hop.brings().forEach(brought -> h.withArray("brings").add(brought));
            hop.toKnow().forEach(text -> h.withArray("toKnow").add(text));
            hop.why().forEach(why -> h.withArray("why").addObject().put("rule", why.rule()).put("sentence", why.sentence()).put("source", why.source()));
        }
        return data;
    }

    private static String words(JsonNode a) {
        String revision = a.path("revision").asString("").isEmpty() ? "" : ", revision " + a.path("revision").asString();
        StringBuilder text = new StringBuilder("%s  %s%s, %s   runs %s   wanted %s   %s%n%n".formatted(a.path("device").asString(), a.path("title").asString(), revision, a.path("site").asString(),
                a.path("runs").asString(), a.path("wanted").asString(), a.path("readAt").isNull() ? "as the inventory says" : "read " + Ago.of(a.path("readAt"))));
        return switch (a.path("outcome").asString()) {
            case "already-there" -> text.append("Nothing to do: it runs the wanted release already.").toString();
            case "refused" -> refused(a, text);
            default -> found(a, text);
        };
    }

    private static String refused(JsonNode a, StringBuilder text) {
        int count = a.path("obstacles").size();
        text.append("There is no path. %s in the way:%n".formatted(count == 1 ? "One thing stands" : count + " things stand"));
        a.path("obstacles").forEach(o -> text.append(Output.paragraph("  - ", o.asString() + ".")));
        String highest = a.path("highestReachable").asString("");
        return text.append(highest.isEmpty() ? "Nothing newer can be reached today." : "It can reach %s today.".formatted(highest)).toString();
    }

    private static String images(JsonNode hop) {
        return hop.path("images").valueStream().map(i -> i.path("fileName").asString()).collect(Collectors.joining(" + "));
    }

    private static String found(JsonNode a, StringBuilder text) {
        List<JsonNode> hops = a.path("best").path("hops").valueStream().toList();
        boolean several = hops.stream().map(hop -> hop.path("component").asString()).distinct().count() > 1;
        Table table = new Table().column("hop", 0).column(several ? "what" : "", 0).column("from", 1).column("to", 0).column("restarts", 2).column("dark", 3).column("image", 4).column("to rest", 5);
        int number = 0;
        for (JsonNode hop : hops) {
            table.row(++number, several ? hop.path("component").asString() : "", hop.path("from").asString(), hop.path("to").asString(), hop.path("restarts").asInt(), Output.minutes(hop.path("darkSeconds").asLong()),
                    images(hop), hop.path("mayRest").asBoolean() ? "may rest here" : "not here");
        }
        table.text().lines().forEach(line -> text.append("  ").append(line).append('\n'));
        number = 0;
        for (JsonNode hop : hops) {
            number++;
            Optional<String> next = hops.stream().skip(number).filter(later -> later.path("component").equals(hop.path("component"))).map(later -> later.path("to").asString()).findFirst();
            for (JsonNode why : hop.path("why")) {
                String reason = "%s (%s, from %s)".formatted(why.path("sentence").asString(), why.path("rule").asString(), why.path("source").asString());
                text.append('\n').append(Output.paragraph("  Why hop %d: ".formatted(number), next.map(to -> "%s cannot be reached from %s directly: %s; %s is the stepping stone.".formatted(
                        to, hop.path("from").asString(), reason, hop.path("to").asString())).orElse(reason + ".")));
            }
            for (JsonNode brought : hop.path("brings")) {
                text.append('\n').append(Output.paragraph("  With hop %d: ".formatted(number), "%s comes in the same file.".formatted(brought.asString())));
            }
            for (JsonNode know : hop.path("toKnow")) {
                text.append('\n').append(Output.paragraph("  To know of %s: ".formatted(hop.path("to").asString()), know.asString() + "."));
            }
        }
        String others = a.path("alternatives").valueStream().map(p -> "%s (%d restarts, %s dark)".formatted(
                p.path("hops").valueStream().map(h -> h.path("to").asString()).collect(Collectors.joining(" > ")), p.path("restarts").asInt(), Output.minutes(p.path("darkSeconds").asLong())))
                .collect(Collectors.joining("; "));
        return text.append('\n').append(Output.paragraph("  Alternatives: ", (others.isEmpty() ? "none" : others) + ".")).toString();
    }
}
