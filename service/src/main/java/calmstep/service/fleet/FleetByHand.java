package calmstep.service.fleet;

import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
import calmstep.core.text.CsvText;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** What a person changes of the inventory without a file, and takes back. */
@Component
class FleetByHand {
    private static final TypeReference<Set<String>> WORDS = new TypeReference<>() {};
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    private final Fleet fleet;
    private final DeviceRows devices;
    private final SiteRows sites;
    private final InventoryImport imports;
    private final InventoryChanges changes;
    private final Events events;
    private final Json json;
    private final Clock clock;

    FleetByHand(
            Fleet fleet,
            DeviceRows devices,
            SiteRows sites,
            InventoryImport imports,
            InventoryChanges changes,
            Events events,
            Json json,
            Clock clock) {
        this.fleet = fleet;
        this.devices = devices;
        this.sites = sites;
        this.imports = imports;
        this.changes = changes;
        this.events = events;
        this.json = json;
        this.clock = clock;
    }

    /**
     * Sets fields of a device, through the same checks as a table of one line.
     *
     * @param fields by the columns of a table; an empty value empties
     */
    @Transactional
    Fleet.Imported set(String device, Map<String, String> fields, String who) {
        fleet.require(device);
        mustBeSettable(fields);
        Map<String, String> cells = new LinkedHashMap<>();
        cells.put("name", device);
        cells.putAll(new TreeMap<>(fields));
        return imports.take(
                "%s by hand".formatted(device),
                line(cells.keySet().stream()) + line(cells.values().stream()),
                InventoryText.Format.CSV,
                false,
                who);
    }

    private static void mustBeSettable(Map<String, String> fields) {
        if (fields.isEmpty() || fields.containsKey("name")) {
            throw Refusal.wrong(
                    fields.isEmpty()
                            ? "Expected fields to set, such as site or serial; saw none."
                            : "A name is not a field to set; rename the device.");
        }
    }

    private static String line(Stream<String> cells) {
        return cells.map(CsvText::written).collect(Collectors.joining(",")) + "\r\n";
    }

    /**
     * Sets what is known of a site, or makes a new one.
     *
     * @param fields title, zone, contacts; what is not there stays
     */
    @Transactional
    Fleet.Imported setSite(String name, Map<String, Object> fields, String who) {
        Optional.ofNullable(fleet.sitesByAnyName().get(name))
                .filter(site -> !site.name().equals(name))
                .ifPresent(
                        site -> {
                            throw Refusal.conflict(
                                    "The site %s is called %s now; what names it so means that one."
                                            .formatted(name, site.name()));
                        });
        Map<String, Object> site = new LinkedHashMap<>();
        site.put("name", name);
        sites.findById(name)
                .map(SiteRow::site)
                .ifPresent(
                        known -> {
                            site.put("title", known.title());
                            site.put("zone", known.zone().getId());
                            site.put("contacts", known.contacts());
                        });
        site.putAll(fields);
        return imports.take(
                "site %s by hand".formatted(name),
                json.write(Map.of("inventory", 1, "sites", List.of(site), "devices", List.of())),
                InventoryText.Format.YAML,
                false,
                who);
    }

    /** Takes the newest change of the inventory back; what it added is retired. */
    @Transactional
    Fleet.Imported undo(String who) {
        InventoryChanges.Newest newest =
                changes.takeBack()
                        .orElseThrow(
                                () ->
                                        Refusal.conflict(
                                                "Nobody has changed the inventory, or all of it was"
                                                        + " taken back."));
        List<String> gone = new ArrayList<>();
        for (String name : newest.added()) {
            devices.findByName(name)
                    .ifPresent(
                            row -> {
                                mustBeFree(row);
                                row.retiredAt = clock.instant();
                                gone.add(name);
                            });
        }
        devices.flush();
        Fleet.Imported back = imports.takeBack(newest, who);
        if (!gone.isEmpty()) {
            events.append(
                    Optional.empty(),
                    newest.what(),
                    "fleet",
                    who,
                    "Taken back, so not of the fleet any more: %s."
                            .formatted(String.join(", ", gone)));
        }
        return back;
    }

    /** Gives a device another name; whoever is joined with it or fed by it knows it by that one. */
    @Transactional
    Fleet.Known rename(String name, String to, String who) {
        DeviceRow row = require(name);
        mustBeFree(row);
        mustBeName(to);
        if (devices.isTaken(to)) {
            throw Refusal.conflict(
                    "There is or was a device %s; choose another name.".formatted(to));
        }
        row.name = to;
        List<String> former = new ArrayList<>(json.read(row.formerNames, NAMES));
        former.add(name);
        row.formerNames = json.write(former);
        devices.findAll().forEach(other -> joinAnew(other, name, to));
        devices.flush();
        devices.renameChecks(name, to);
        events.append(
                Optional.empty(),
                to,
                "fleet",
                who,
                "%s is called %s from now on. Plans that name it are to be worked out again."
                        .formatted(name, to));
        return fleet.require(to);
    }

    private static void mustBeName(String to) {
        if (!InventoryText.isName(to)) {
            throw Refusal.wrong(
                    "Expected a name of small letters, digits, dots and dashes, saw \"%s\"."
                            .formatted(to));
        }
    }

    private void joinAnew(DeviceRow other, String name, String to) {
        Set<String> links = new HashSet<>(json.read(other.links, WORDS));
        if (links.remove(name)) {
            links.add(to);
            other.links = json.write(links);
        }
        if (other.fedBy.equals(name)) {
            other.fedBy = to;
        }
    }

    /** A device that is not there any more. What was done to it stays, and its name. */
    @Transactional
    void retire(String name, String why, String who) {
        Reason.of(why, "the device is retired");
        DeviceRow row = require(name);
        mustBeFree(row);
        row.retiredAt = clock.instant();
        events.append(
                Optional.empty(), name, "fleet", who, "%s is retired: %s".formatted(name, why));
    }

    /**
     * Gives a site another name; whatever stands there moves with it, and windows and plans that
     * name it by a former one still mean it.
     */
    @Transactional
    void renameSite(String name, String to, String who) {
        SiteRow row = sites.findById(name).orElseThrow(() -> Refusal.notFound("site", name));
        mustBeFree(row);
        mustBeName(to);
        if (fleet.sitesByAnyName().containsKey(to)) {
            throw Refusal.conflict("There is or was a site %s; choose another name.".formatted(to));
        }
        SiteRow renamed = new SiteRow();
        renamed.name = to;
        renamed.title = row.title;
        renamed.zone = row.zone;
        renamed.contacts = row.contacts;
        renamed.formerNames = (row.formerNames + " " + name).strip();
        sites.saveAndFlush(renamed);
        sites.moveAll(name, to);
        sites.deleteById(name);
        events.append(
                Optional.empty(),
                to,
                "fleet",
                who,
                "The site %s is called %s from now on.".formatted(name, to));
    }

    private void mustBeFree(SiteRow row) {
        sites.inUnfinishedRun(row.name)
                .ifPresent(
                        run -> {
                            throw Refusal.conflict(
                                    "The run %s, which is not finished, has units of %s. End that run first."
                                            .formatted(run, row.name));
                        });
    }

    /** A site that nothing stands at any more. */
    @Transactional
    void retireSite(String name, String who) {
        SiteRow row = sites.findById(name).orElseThrow(() -> Refusal.notFound("site", name));
        List<String> there =
                devices.findAll().stream()
                        .filter(device -> device.site.equals(name))
                        .map(device -> device.name)
                        .sorted()
                        .toList();
        if (!there.isEmpty()) {
            throw Refusal.conflict(
                    "%s devices are at %s, among them %s. Move or retire them first."
                            .formatted(there.size(), name, there.getFirst()));
        }
        mustBeFree(row);
        Site site = row.site();
        changes.keep("site %s by hand".formatted(name), who, List.of(), List.of(site), List.of());
        sites.delete(row);
        events.append(
                Optional.empty(), name, "fleet", who, "The site %s is retired.".formatted(name));
    }

    private DeviceRow require(String name) {
        return devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
    }

    private void mustBeFree(DeviceRow row) {
        devices.inUnfinishedRun(row.id())
                .ifPresent(
                        run -> {
                            throw Refusal.conflict(
                                    "%s is in the run %s, which is not finished. End that run first."
                                            .formatted(row.name, run));
                        });
    }
}
