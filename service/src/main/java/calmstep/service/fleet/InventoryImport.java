package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.FieldChange;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
import calmstep.core.text.Nearest;
import calmstep.core.text.RejectedText;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Takes inventory files over, as a whole or not at all. */
@Component
class InventoryImport {
    private static final int MOST_TOLD = 50;

    private final DeviceRows devices;
    private final SiteRows sites;
    private final LoginRows logins;
    private final Catalogues catalogues;
    private final InventoryChanges before;
    private final Events events;
    private final Json json;

    InventoryImport(
            DeviceRows devices,
            SiteRows sites,
            LoginRows logins,
            Catalogues catalogues,
            InventoryChanges before,
            Events events,
            Json json) {
        this.devices = devices;
        this.sites = sites;
        this.logins = logins;
        this.catalogues = catalogues;
        this.before = before;
        this.events = events;
        this.json = json;
    }

    /**
     * Takes an inventory over, as a whole or not at all. Devices that the file does not name stay.
     *
     * @throws RejectedText with everything that is wrong in the text
     */
    @Transactional
    Fleet.Imported take(
            String fileName,
            String text,
            InventoryText.Format format,
            boolean preview,
            String who) {
        return take(fileName, text, format, preview, who, true);
    }

    /** Puts back what a change was before; what it added is the caller's. */
    Fleet.Imported takeBack(InventoryChanges.Newest change, String who) {
        return take(
                "%s (by %s), taken back".formatted(change.what(), change.who()),
                change.before(),
                InventoryText.Format.YAML,
                false,
                who,
                false);
    }

    private Fleet.Imported take(
            String fileName,
            String text,
            InventoryText.Format format,
            boolean preview,
            String who,
            boolean mayBeTakenBack) {
        Map<String, DeviceRow> rows = new HashMap<>();
        Map<String, String> nameAt = new HashMap<>();
        remember(rows, nameAt);
        Inventory inventory =
                InventoryText.read(
                        fileName, text, format, catalogues.families(), known(format, rows));
        Set<String> moved =
                inventory.devices().stream().map(Device::name).collect(Collectors.toSet());
        if (!preview && !moved.isEmpty() && devices.bringBack(moved) > 0) {
            rows.clear();
            remember(rows, nameAt);
        }
        List<Device> were = new ArrayList<>();
        List<String> added = new ArrayList<>();
        List<String> changed = new ArrayList<>();
        List<String> unchanged = new ArrayList<>();
        List<FieldChange> changes = new ArrayList<>();
        List<DeviceRow> written = new ArrayList<>();
        for (Device described : inventory.devices()) {
            mustBeFree(nameAt, described, moved);
            described
                    .wiring()
                    .fedBy()
                    .ifPresent(base -> mustFeed(base, described, inventory, rows));
            Optional<DeviceRow> known = Optional.ofNullable(rows.get(described.name()));
            List<FieldChange> differs =
                    known.map(row -> FieldChange.between(row.device(json), described))
                            .orElse(List.of());
            changes.addAll(differs);
            boolean same = known.isPresent() && differs.isEmpty();
            (known.isEmpty() ? added : same ? unchanged : changed).add(described.name());
            if (!same && !preview) {
                known.ifPresent(row -> were.add(row.device(json)));
                DeviceRow row = known.orElseGet(DeviceRow::new);
                row.take(described, json);
                written.add(row);
            }
        }
        List<String> complaints = complaints(inventory, rows.keySet());
        if (!preview) {
            if (mayBeTakenBack) {
                before.keep(fileName, who, were, sitesOf(were, inventory), added);
            }
            inventory.sites().forEach(this::keep);
            devices.saveAll(written);
            events.append(
                    Optional.empty(),
                    fileName,
                    "fleet",
                    who,
                    "Inventory imported: %d added, %d changed, %d as before.%s%s"
                            .formatted(
                                    added.size(),
                                    changed.size(),
                                    unchanged.size(),
                                    told(changes),
                                    complaints.isEmpty()
                                            ? ""
                                            : " " + String.join(" ", complaints)));
        }
        return new Fleet.Imported(added, changed, unchanged, changes, complaints, preview);
    }

    /** The sites that a change gives other words, and those that devices need to be put back. */
    private List<Site> sitesOf(List<Device> were, Inventory inventory) {
        Set<String> names = were.stream().map(Device::site).collect(Collectors.toSet());
        Map<String, Site> now =
                inventory.sites().stream().collect(Collectors.toMap(Site::name, site -> site));
        return sites.findAll().stream()
                .map(SiteRow::site)
                .filter(
                        site ->
                                names.contains(site.name())
                                        || (now.containsKey(site.name())
                                                && !site.equals(now.get(site.name()))))
                .toList();
    }

    /**
     * What is taken over and leads nowhere yet: the other end may come with another file, and a
     * login later. Each is told, with the name that may have been meant.
     */
    private List<String> complaints(Inventory inventory, Set<String> known) {
        Set<String> names = new TreeSet<>(known);
        inventory.devices().forEach(device -> names.add(device.name()));
        Set<String> logs =
                logins.findAll().stream().map(login -> login.name).collect(Collectors.toSet());
        List<String> complaints = new ArrayList<>();
        for (Device device : inventory.devices()) {
            device.wiring().links().stream()
                    .filter(other -> !names.contains(other))
                    .forEach(
                            other ->
                                    complaints.add(
                                            "%s has a link to \"%s\", and there is no such device; %s"
                                                    .formatted(
                                                            device.name(),
                                                            other,
                                                            Nearest.hint(other, names))));
            device.logins().stream()
                    .filter(login -> !logs.contains(login))
                    .forEach(
                            login ->
                                    complaints.add(
                                            "%s has the login \"%s\", which is not set up; %s"
                                                    .formatted(
                                                            device.name(),
                                                            login,
                                                            logs.isEmpty()
                                                                    ? "set it up before it is read."
                                                                    : Nearest.hint(login, logs))));
        }
        return complaints.size() > MOST_TOLD
                ? Stream.concat(
                                complaints.stream().limit(MOST_TOLD),
                                Stream.of(
                                        "And %d more of this kind."
                                                .formatted(complaints.size() - MOST_TOLD)))
                        .toList()
                : complaints;
    }

    /**
     * A table changes what its columns name; a file in another format describes all of a device.
     */
    private Inventory known(InventoryText.Format format, Map<String, DeviceRow> rows) {
        return format == InventoryText.Format.CSV
                ? new Inventory(
                        sites.findAll().stream().map(SiteRow::site).toList(),
                        rows.values().stream().map(row -> row.device(json)).toList())
                : new Inventory(List.of(), List.of());
    }

    private static String told(List<FieldChange> changes) {
        return changes.isEmpty()
                ? ""
                : " %s%s."
                        .formatted(
                                changes.stream()
                                        .limit(MOST_TOLD)
                                        .map(FieldChange::sentence)
                                        .collect(Collectors.joining("; ")),
                                changes.size() > MOST_TOLD
                                        ? "; and %d more".formatted(changes.size() - MOST_TOLD)
                                        : "");
    }

    private static void mustBeFree(
            Map<String, String> nameAt, Device described, Set<String> moved) {
        String other = nameAt.getOrDefault(described.address(), described.name());
        if (!other.equals(described.name()) && !moved.contains(other)) {
            throw Refusal.unusable(
                    "The address %s of %s belongs to %s already; two devices cannot share one. Nothing was taken over."
                            .formatted(described.address(), described.name(), other),
                    List.of());
        }
    }

    private void remember(Map<String, DeviceRow> rows, Map<String, String> nameAt) {
        devices.findAll()
                .forEach(
                        row -> {
                            rows.put(row.name, row);
                            nameAt.put(row.address, row.name);
                        });
    }

    private static void mustFeed(
            String base, Device fed, Inventory inventory, Map<String, DeviceRow> rows) {
        String family = familyOf(inventory, base, rows);
        if (!family.equals(fed.family())) {
            throw Refusal.unusable(
                    "%s is to be fed by %s; expected a device of its family, %s, saw %s. Nothing was taken over."
                            .formatted(
                                    fed.name(),
                                    base,
                                    fed.family(),
                                    family.isEmpty()
                                            ? "no such device, here or in the file"
                                            : family),
                    List.of());
        }
    }

    private static String familyOf(Inventory inventory, String base, Map<String, DeviceRow> rows) {
        String family =
                inventory.devices().stream()
                        .filter(device -> device.name().equals(base))
                        .map(Device::family)
                        .findFirst()
                        .orElseGet(
                                () ->
                                        Optional.ofNullable(rows.get(base))
                                                .map(row -> row.family)
                                                .orElse(""));
        return family;
    }

    private void keep(Site site) {
        SiteRow row = sites.findById(site.name()).orElseGet(SiteRow::new);
        row.name = site.name();
        row.title = site.title();
        row.zone = site.zone().getId();
        row.contacts = String.join(" ", site.contacts());
        sites.save(row);
    }
}
