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
import java.util.HashSet;
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
        return take(fileName, text, format, preview ? Manner.LOOKS : Manner.TAKES, who);
    }

    /** Puts back what a change was before; what it added is the caller's. */
    Fleet.Imported takeBack(InventoryChanges.Newest change, String who) {
        return take(
                "%s (by %s), taken back".formatted(change.what(), change.who()),
                change.before(),
                InventoryText.Format.YAML,
                Manner.TAKES_BACK,
                who);
    }

    private enum Manner {
        /** Only says what it would do. */
        LOOKS,
        TAKES,
        /** Nobody takes that back again. */
        TAKES_BACK
    }

    private Fleet.Imported take(
            String what, String text, InventoryText.Format format, Manner manner, String who) {
        Map<String, DeviceRow> rows = new HashMap<>();
        Map<String, String> nameAt = new HashMap<>();
        remember(rows, nameAt);
        Inventory inventory =
                InventoryText.read(what, text, format, catalogues.families(), known(format, rows));
        if (manner != Manner.LOOKS && bringsBack(inventory)) {
            rows.clear();
            remember(rows, nameAt);
        }
        Difference difference = difference(inventory, rows, nameAt);
        List<String> complaints = complaints(inventory, rows.keySet());
        if (manner == Manner.TAKES) {
            before.keep(
                    what,
                    who,
                    difference.were,
                    sitesOf(difference.were, inventory),
                    difference.added);
        }
        if (manner != Manner.LOOKS) {
            inventory.sites().forEach(this::keep);
            devices.saveAll(difference.are.stream().map(device -> row(device, rows)).toList());
            tell(what, difference, complaints, who);
        }
        return new Fleet.Imported(
                difference.added,
                difference.changed,
                difference.unchanged,
                difference.fields,
                complaints,
                manner == Manner.LOOKS);
    }

    /** Whether it names devices that were retired; they are of the fleet again. */
    private boolean bringsBack(Inventory inventory) {
        Set<String> retired = new HashSet<>(devices.retired());
        retired.retainAll(inventory.devices().stream().map(Device::name).toList());
        return !retired.isEmpty() && devices.bringBack(retired) > 0;
    }

    /** What an inventory adds and changes. */
    private static final class Difference {
        final List<String> added = new ArrayList<>();
        final List<String> changed = new ArrayList<>();
        final List<String> unchanged = new ArrayList<>();
        final List<FieldChange> fields = new ArrayList<>();

        /** The changed ones, as they were. */
        final List<Device> were = new ArrayList<>();

        /** The added and the changed ones, as they are described. */
        final List<Device> are = new ArrayList<>();

        void add(Optional<Device> was, Device described) {
            List<FieldChange> differs =
                    was.map(known -> FieldChange.between(known, described)).orElse(List.of());
            fields.addAll(differs);
            boolean same = was.isPresent() && differs.isEmpty();
            (was.isEmpty() ? added : same ? unchanged : changed).add(described.name());
            if (!same) {
                was.ifPresent(were::add);
                are.add(described);
            }
        }
    }

    private Difference difference(
            Inventory inventory, Map<String, DeviceRow> rows, Map<String, String> nameAt) {
        Set<String> moved =
                inventory.devices().stream().map(Device::name).collect(Collectors.toSet());
        Difference difference = new Difference();
        for (Device described : inventory.devices()) {
            mustBeFree(nameAt, described, moved);
            described
                    .wiring()
                    .fedBy()
                    .ifPresent(base -> mustFeed(base, described, inventory, rows));
            difference.add(
                    Optional.ofNullable(rows.get(described.name())).map(row -> row.device(json)),
                    described);
        }
        return difference;
    }

    private DeviceRow row(Device described, Map<String, DeviceRow> rows) {
        DeviceRow row = rows.getOrDefault(described.name(), new DeviceRow());
        row.take(described, json);
        return row;
    }

    private void tell(String what, Difference difference, List<String> complaints, String who) {
        events.append(
                Optional.empty(),
                what,
                "fleet",
                who,
                "Inventory imported: %s added, %s changed, %s as before.%s%s"
                        .formatted(
                                difference.added.size(),
                                difference.changed.size(),
                                difference.unchanged.size(),
                                told(difference.fields),
                                complaints.isEmpty() ? "" : " " + String.join(" ", complaints)));
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
                                        "And %s more of this kind."
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
                                        ? "; and %s more".formatted(changes.size() - MOST_TOLD)
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
