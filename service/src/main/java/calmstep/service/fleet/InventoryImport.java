package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.FieldChange;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
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
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Takes inventory files over, as a whole or not at all. */
@Component
class InventoryImport {
    private static final int MOST_TOLD = 50;

    private final DeviceRows devices;
    private final SiteRows sites;
    private final Catalogues catalogues;
    private final Events events;
    private final Json json;

    InventoryImport(
            DeviceRows devices, SiteRows sites, Catalogues catalogues, Events events, Json json) {
        this.devices = devices;
        this.sites = sites;
        this.catalogues = catalogues;
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
        Map<String, DeviceRow> rows = new HashMap<>();
        Map<String, String> nameAt = new HashMap<>();
        remember(rows, nameAt);
        Inventory inventory =
                InventoryText.read(
                        fileName, text, format, catalogues.families(), known(format, rows));
        Set<String> moved =
                inventory.devices().stream().map(Device::name).collect(Collectors.toSet());
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
                DeviceRow row = known.orElseGet(DeviceRow::new);
                row.take(described, json);
                written.add(row);
            }
        }
        if (!preview) {
            inventory.sites().forEach(this::keep);
            devices.saveAll(written);
            events.append(
                    Optional.empty(),
                    fileName,
                    "fleet",
                    who,
                    "Inventory imported: %d added, %d changed, %d as before.%s"
                            .formatted(
                                    added.size(), changed.size(), unchanged.size(), told(changes)));
        }
        return new Fleet.Imported(added, changed, unchanged, changes, preview);
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
