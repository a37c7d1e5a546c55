package calmstep.cli;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
import calmstep.core.order.Outage;
import calmstep.core.order.RollingOrder;
import calmstep.core.order.UnitOrder;
import calmstep.core.path.Hop;
import calmstep.core.path.Obstacle;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import calmstep.core.select.DeviceTexts;
import calmstep.core.select.Selection;
import calmstep.core.text.RejectedText;
import calmstep.core.version.Version;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Path questions without a service: catalogues and an inventory as files, the same computation, the
 * same answers.
 */
final class PathsFromFiles {
    private final Map<String, Catalogue> catalogues;
    private final Inventory inventory;
    private final String target;
    private final PathBook book;

    private PathsFromFiles(
            Map<String, Catalogue> catalogues, Inventory inventory, String target, PathBook book) {
        this.catalogues = catalogues;
        this.inventory = inventory;
        this.target = target;
        this.book = book;
    }

    static PathsFromFiles read(List<Path> files, String target, String prefer) {
        return orProblem(
                () -> {
                    Map<String, Catalogue> catalogues = new LinkedHashMap<>();
                    files.stream()
                            .map(file -> CatalogueText.read(file.toString(), GivenFile.read(file)))
                            .forEach(c -> catalogues.put(c.family(), c));
                    return new PathsFromFiles(
                            catalogues,
                            new Inventory(List.of(), List.of()),
                            target,
                            new PathBook(
                                    Preference.parse(prefer), LocalDate.now(Clock.systemUTC())));
                });
    }

    /** About the devices of an inventory. */
    PathsFromFiles with(Path file) {
        return orProblem(
                () ->
                        new PathsFromFiles(
                                catalogues,
                                InventoryText.read(
                                        file.toString(),
                                        GivenFile.read(file),
                                        InventoryText.Format.of(file.toString()),
                                        catalogues.values().stream()
                                                .collect(
                                                        Collectors.toMap(
                                                                Catalogue::family,
                                                                Catalogue::schemes))),
                                target,
                                book));
    }

    /** About hardware that nobody owns. */
    PathsFromFiles with(String family, Hardware hardware, Map<String, String> runs) {
        Device device = new Device("", family, hardware, "", "", "", "", 0, 0, "", true, runs, "");
        return new PathsFromFiles(
                catalogues, new Inventory(List.of(), List.of(device)), target, book);
    }

    private static <T> T orProblem(Supplier<T> work) {
        try {
            return work.get();
        } catch (RejectedText rejected) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "The file was refused:",
                    rejected.complaints().stream().map(Object::toString).toList());
        } catch (IllegalArgumentException malformed) {
            throw new Problem(Problem.WRONG_CALL, String.valueOf(malformed.getMessage()));
        }
    }

    /** The answer for one device, in the shape that the service answers. */
    ObjectNode one(String name) {
        Device device =
                inventory
                        .find(name)
                        .orElseThrow(
                                () ->
                                        new Problem(
                                                Problem.WRONG_CALL,
                                                "There is no device \"%s\" in the inventory."
                                                        .formatted(name)));
        return orProblem(
                () -> {
                    Catalogue catalogue =
                            Optional.ofNullable(catalogues.get(device.family()))
                                    .orElseThrow(
                                            () ->
                                                    new Problem(
                                                            Problem.WRONG_CALL,
                                                            "None of the catalogues is of the family \"%s\"; they are of %s."
                                                                    .formatted(
                                                                            device.family(),
                                                                            catalogues.keySet())));
                    if (device.runs().isEmpty()) {
                        throw new Problem(
                                Problem.WRONG_CALL,
                                "Nothing says what %s runs; say it with \"runs: { system: … }\" in the inventory, or --runs."
                                        .formatted(name.isEmpty() ? "it" : name));
                    }
                    PathBook.Entry entry =
                            book.look(device, device.runs(), catalogue, Target.parse(target));
                    if (entry.answer().isEmpty()) {
                        throw new Problem(
                                Problem.WRONG_CALL,
                                "The catalogue of %s has no release for \"%s\"."
                                        .formatted(catalogue.title(), target));
                    }
                    return data(catalogue, device, entry);
                });
    }

    /**
     * The answers for a selection; devices of whose releases nothing is known are left out, as the
     * service does.
     */
    ArrayNode many(String where) {
        if (where.matches("(?s).*\\b(standing|exposed|wanted):.*")) {
            throw new Problem(
                    Problem.WRONG_CALL,
                    "Standing, exposure and what is wanted are the service's to tell; from files,"
                            + " select by name, family, hardware, site, role, tag or runs.");
        }
        Selection selection = orProblem(() -> Selection.parse(where));
        ArrayNode answers = JsonMapper.shared().createArrayNode();
        inventory.devices().stream()
                .filter(d -> !d.runs().isEmpty() && catalogues.containsKey(d.family()))
                .filter(
                        d ->
                                selection.holds(
                                        Selection.shown(
                                                DeviceTexts.of(
                                                        d,
                                                        known(catalogues, d.family()).title(),
                                                        inventory.sites().stream()
                                                                .filter(
                                                                        s ->
                                                                                s.name()
                                                                                        .equals(
                                                                                                d
                                                                                                        .site()))
                                                                .map(Site::title)
                                                                .findFirst()
                                                                .orElse(d.site()),
                                                        d.runs()))))
                .map(d -> one(d.name()))
                .forEach(answers::add);
        return answers;
    }

    private ObjectNode data(Catalogue catalogue, Device device, PathBook.Entry entry) {
        ObjectNode data = JsonMapper.shared().createObjectNode();
        data.put("device", device.name().isEmpty() ? device.hardware().model() : device.name())
                .put("title", catalogue.title())
                .put("revision", device.hardware().revision())
                .put("site", device.site())
                .put("runs", device.runs().getOrDefault(Catalogue.SYSTEM, ""))
                .put("wanted", entry.wanted().map(Version::text).orElse(target))
                .put("policy", target)
                .putNull("readAt");
        data.putArray("obstacles");
        switch (entry.answer().orElseThrow()) {
            case PathAnswer.Found(var best, var alternatives) -> {
                data.put("outcome", "found").set("best", pathData(best, device, catalogue));
                alternatives.forEach(
                        alternative ->
                                data.withArray("alternatives")
                                        .add(pathData(alternative, device, catalogue)));
                UnitOrder.of(device, catalogue, best)
                        .ifPresent(order -> data.set("order", orderData(order)));
                book.byOlderOnes(device, device.runs(), catalogue, entry, PathBook.OLDER_DAYS)
                        .ifPresent(
                                older ->
                                        data.putObject("byOlderOnes")
                                                .put("days", older.days())
                                                .put(
                                                        "endsAt",
                                                        older.endsAt()
                                                                .map(Version::text)
                                                                .orElse(null)));
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

    private static ObjectNode orderData(RollingOrder order) {
        ObjectNode data = JsonMapper.shared().createObjectNode();
        data.put("darkSeconds", order.dark().toSeconds())
                .put("takesSeconds", order.takes().toSeconds());
        order.moves()
                .forEach(
                        m ->
                                data.withArray("moves")
                                        .addObject()
                                        .put("sentence", m.sentence())
                                        .put("darkSeconds", m.dark().toSeconds())
                                        .put("takesSeconds", m.takes().toSeconds()));
        order.barred().forEach(b -> data.withArray("barred").add(b.sentence()));
        return data;
    }

    private static ObjectNode pathData(
            calmstep.core.path.Path path, Device device, Catalogue catalogue) {
        List<Duration> dark = Outage.ofEach(device, catalogue, path);
        ObjectNode data = JsonMapper.shared().createObjectNode();
        data.put("restarts", path.cost().restarts())
                .put("darkSeconds", Outage.together(dark).toSeconds())
                .put("bytes", path.cost().bytes());
        for (int at = 0; at < path.hops().size(); at++) {
            Hop hop = path.hops().get(at);
            ObjectNode h = data.withArray("hops").addObject();
            h.put("component", hop.component())
                    .put("from", hop.from())
                    .put("to", hop.to())
                    .put("restarts", hop.restarts())
                    .put("darkSeconds", dark.get(at).toSeconds())
                    .put("mayRest", hop.mayRest());
            hop.images()
                    .forEach(
                            image ->
                                    h.withArray("images")
                                            .addObject()
                                            .put("fileName", image.fileName())
                                            .put("sizeBytes", image.sizeBytes()));
            hop.lookAlikes().forEach(other -> h.withArray("lookAlikes").add(other));
            hop.brings().forEach(brought -> h.withArray("brings").add(brought));
            hop.toKnow().forEach(text -> h.withArray("toKnow").add(text));
            hop.why()
                    .forEach(
                            why ->
                                    h.withArray("why")
                                            .addObject()
                                            .put("rule", why.rule())
                                            .put("sentence", why.sentence())
                                            .put("source", why.source()));
        }
        return data;
    }
}
