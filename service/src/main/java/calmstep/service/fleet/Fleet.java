package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.FieldChange;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Site;
import calmstep.core.text.RejectedText;
import calmstep.dialect.Dialect;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Dialects;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** The fleet as it is described and as it was read. */
@Component
public class Fleet {
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    private final DeviceRows devices;
    private final SiteRows sites;
    private final ReadingRows readings;
    private final Silences silences;
    private final InventoryImport imports;
    private final InventoryChanges changes;
    private final Dialects dialects;
    private final Events events;
    private final Json json;
    private final Clock clock;

    Fleet(
            DeviceRows devices,
            SiteRows sites,
            ReadingRows readings,
            Silences silences,
            InventoryImport imports,
            InventoryChanges changes,
            Dialects dialects,
            Events events,
            Json json,
            Clock clock) {
        this.devices = devices;
        this.sites = sites;
        this.readings = readings;
        this.silences = silences;
        this.imports = imports;
        this.changes = changes;
        this.dialects = dialects;
        this.events = events;
        this.json = json;
        this.clock = clock;
    }

    /** All sites, by name. */
    @Transactional(readOnly = true)
    public List<Site> sites() {
        return sites.findAll().stream()
                .map(SiteRow::site)
                .sorted(Comparator.comparing(Site::name))
                .toList();
    }

    /** All sites by the names that they have and had: whoever wrote a former one down means it. */
    @Transactional(readOnly = true)
    public Map<String, Site> sitesByAnyName() {
        List<SiteRow> rows = sites.findAll();
        Map<String, Site> found = new TreeMap<>();
        rows.forEach(row -> row.formerNames().forEach(former -> found.put(former, row.site())));
        rows.forEach(row -> found.put(row.name, row.site()));
        return found;
    }

    /**
     * What an import did, or would do.
     *
     * @param changes of the changed ones, field by field
     * @param complaints about what is taken over and leads nowhere, as sentences
     */
    public record Imported(
            List<String> added,
            List<String> changed,
            List<String> unchanged,
            List<FieldChange> changes,
            List<String> complaints,
            boolean preview) {}

    /** Why the last try to read a device gave nothing. */
    public record Silent(Instant at, String expected, String seen, String remedy) {}

    /**
     * A device with its newest reading, and the silence behind it where there is one.
     *
     * @param written as the inventory has it
     * @param device as it shows itself, where it was read
     */
    public record Known(
            long id,
            Device written,
            Device device,
            String siteTitle,
            String zone,
            String hostKey,
            Optional<Reading> reading,
            Optional<Silent> silent) {
        /** What the inventory says of it and the device says otherwise. */
        public List<Discrepancy> discrepancies() {
            return reading.map(read -> Discrepancy.of(written, read)).orElse(List.of());
        }
    }

    /**
     * Takes an inventory over, as a whole or not at all. Devices that the file does not name stay.
     *
     * @throws RejectedText with everything that is wrong in the text
     */
    @Transactional
    public Imported take(
            String fileName,
            String text,
            InventoryText.Format format,
            boolean preview,
            String who) {
        return imports.take(fileName, text, format, preview, who);
    }

    /** The inventory of some devices, with their sites. */
    @Transactional(readOnly = true)
    public Inventory inventory(Collection<String> names) {
        Set<String> wanted = Set.copyOf(names);
        List<Device> chosen =
                devices.findAllByOrderByName().stream()
                        .filter(row -> wanted.contains(row.name))
                        .map(row -> row.device(json))
                        .toList();
        Set<String> used = chosen.stream().map(Device::site).collect(Collectors.toSet());
        return new Inventory(
                sites.findAll().stream()
                        .filter(s -> used.contains(s.name))
                        .sorted(Comparator.comparing(s -> s.name))
                        .map(SiteRow::site)
                        .toList(),
                chosen);
    }

    /** Takes new devices in, through the same checks as a file; all or none. */
    @Transactional
    public Imported add(List<Device> found, String who) {
        Set<String> used = found.stream().map(Device::site).collect(Collectors.toSet());
        List<Site> places =
                sites.findAll().stream()
                        .filter(s -> used.contains(s.name))
                        .map(SiteRow::site)
                        .toList();
        return take(
                "accepted",
                InventoryText.write(new Inventory(places, found), InventoryText.Format.YAML),
                InventoryText.Format.YAML,
                false,
                who);
    }

    public boolean hasSite(String name) {
        return sites.existsById(name);
    }

    /**
     * Every device with its newest reading: three questions to the database, however many devices
     * there are.
     */
    @Transactional(readOnly = true)
    public List<Known> all() {
        Map<Long, ReadingRow> newest =
                readings.newestOfEach().stream().collect(Collectors.toMap(r -> r.deviceId, r -> r));
        Map<Long, Silence> silent =
                silences.newestOfEach().stream().collect(Collectors.toMap(s -> s.deviceId, s -> s));
        Map<String, SiteRow> places =
                sites.findAll().stream().collect(Collectors.toMap(s -> s.name, s -> s));
        return devices.findAllByOrderByName().stream()
                .map(
                        row ->
                                known(
                                        row,
                                        Optional.ofNullable(newest.get(row.id())),
                                        Optional.ofNullable(silent.get(row.id())),
                                        Optional.ofNullable(places.get(row.site))))
                .toList();
    }

    /** The newest reading of each device that was read, by name. */
    @Transactional(readOnly = true)
    public Map<String, Reading> readings() {
        Map<Long, String> names =
                devices.findAllByOrderByName().stream()
                        .collect(Collectors.toMap(DeviceRow::id, row -> row.name));
        return readings.newestOfEach().stream()
                .filter(row -> names.containsKey(row.deviceId))
                .collect(
                        Collectors.toMap(
                                row -> names.get(row.deviceId),
                                row -> json.read(row.body, Reading.class)));
    }

    /** Those of some names that the inventory has; no reading is looked at. */
    @Transactional(readOnly = true)
    public List<Device> devices(Collection<String> names) {
        return devices.findByNameIn(names).stream().map(row -> row.device(json)).toList();
    }

    /** Their numbers, by name. @throws Refusal for a name that the inventory does not have */
    @Transactional(readOnly = true)
    public Map<String, Long> ids(Collection<String> names) {
        Map<String, Long> ids =
                devices.numbered(names).stream()
                        .collect(
                                Collectors.toMap(
                                        DeviceRows.Numbered::name, DeviceRows.Numbered::id));
        names.stream()
                .filter(name -> !ids.containsKey(name))
                .findFirst()
                .ifPresent(
                        name -> {
                            throw Refusal.notFound("device", name);
                        });
        return ids;
    }

    /** Every device as the inventory has it, by name; no reading is looked at. */
    @Transactional(readOnly = true)
    public List<Device> devices() {
        return devices.findAllByOrderByName().stream().map(row -> row.device(json)).toList();
    }

    /** Also of one that is retired; empty where there is none, or no such device. */
    @Transactional(readOnly = true)
    public Optional<Reading> newestReading(String name) {
        return devices.idOfAny(name)
                .flatMap(readings::findFirstByDeviceIdOrderByIdDesc)
                .map(row -> json.read(row.body, Reading.class));
    }

    /** Also of one that is retired. */
    @Transactional(readOnly = true)
    public long idOfAny(String name) {
        return devices.idOfAny(name).orElseThrow(() -> Refusal.notFound("device", name));
    }

    /** How a device is called, which may be retired, and how it was called before. */
    @Transactional(readOnly = true)
    public List<String> namesOfAny(String name) {
        List<String> names =
                new ArrayList<>(
                        devices.formerNamesOfAny(name)
                                .map(former -> json.read(former, NAMES))
                                .orElse(List.of()));
        names.add(name);
        return names;
    }

    @Transactional(readOnly = true)
    public Known require(String name) {
        return devices.findByName(name)
                .map(this::known)
                .orElseThrow(() -> Refusal.notFound("device", name));
    }

    /** Whose address it is, and where that device stands. */
    public record At(String address, String name, String site) {}

    @Transactional(readOnly = true)
    public List<At> places() {
        return devices.places();
    }

    /** Name of the run that drives a device at this moment; empty where none does. */
    @Transactional(readOnly = true)
    public Optional<String> driver(String name) {
        return devices.driver(require(name).id());
    }

    String siteOf(String name) {
        return devices.findByName(name).map(row -> row.site).orElse("");
    }

    /**
     * How old what is known of the fleet is.
     *
     * @param newest null when nothing was ever read
     * @param oldest of the newest readings of all devices
     * @param read devices that were read
     * @param devices all devices
     */
    record Freshness(@Nullable Instant newest, @Nullable Instant oldest, long read, long devices) {}

    @Transactional(readOnly = true)
    Freshness freshness() {
        ReadingRows.Freshness known = readings.freshness();
        return new Freshness(
                known.getNewest(), known.getOldest(), known.getDevices(), devices.count());
    }

    @Transactional(readOnly = true)
    public List<Reading> readings(String name) {
        long id = require(name).id();
        return readings.findTop20ByDeviceIdOrderByIdDesc(id).stream()
                .map(r -> json.read(r.body, Reading.class))
                .toList();
    }

    private Known known(DeviceRow row) {
        return known(
                row,
                readings.findFirstByDeviceIdOrderByIdDesc(row.id()),
                silences.findFirstByDeviceIdOrderByIdDesc(row.id()),
                sites.findById(row.site));
    }

    private Known known(
            DeviceRow row,
            Optional<ReadingRow> newest,
            Optional<Silence> lastSilence,
            Optional<SiteRow> site) {
        Optional<Reading> reading = newest.map(r -> json.read(r.body, Reading.class));
        Device device = row.device(json);
        return new Known(
                row.id(),
                device,
                reading.map(device::asShown).orElse(device),
                site.map(s -> s.title).orElse(row.site),
                site.map(s -> s.zone).orElse("UTC"),
                row.hostKey,
                reading,
                silentSince(newest, lastSilence));
    }

    private static Optional<Silent> silentSince(
            Optional<ReadingRow> newest, Optional<Silence> last) {
        return last.filter(s -> newest.map(r -> s.at.isAfter(r.takenAt)).orElse(true))
                .map(Silence::told);
    }

    /** The dialect of a device's family. */
    public Dialect dialectOf(String device) {
        return dialects.require(
                devices.familyOf(device).orElseThrow(() -> Refusal.notFound("device", device)));
    }

    @Transactional
    public void keep(long deviceId, Reading reading) {
        ReadingRow row = new ReadingRow();
        row.deviceId = deviceId;
        row.takenAt = reading.takenAt();
        row.body = json.write(reading);
        readings.save(row);
    }

    @Transactional
    void keepSilence(long deviceId, String name, calmstep.core.device.Trouble trouble) {
        Silence row = new Silence();
        row.deviceId = deviceId;
        row.at = clock.instant();
        row.expected = trouble.expected();
        row.seen = trouble.seen();
        row.remedy = trouble.remedy();
        silences.save(row);
        events.append(
                Optional.empty(),
                name,
                "fleet",
                Events.SERVICE,
                "%s could not be read. %s".formatted(name, trouble.sentence()));
    }

    /** Remembers the host key of the first meeting. */
    @Transactional
    public void rememberHostKey(String name, String fingerprint) {
        devices.findByName(name)
                .filter(d -> d.hostKey.isEmpty() && !fingerprint.isEmpty())
                .ifPresent(d -> d.hostKey = fingerprint);
    }

    /**
     * Takes over what a device said of itself where the inventory says otherwise.
     *
     * @param why kept in the trail
     */
    @Transactional
    public Known takeOverAsRead(String name, String why, String who) {
        Reason.plain(why);
        DeviceRow row =
                devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        Known known = known(row);
        List<Discrepancy> discrepancies = known.discrepancies();
        if (discrepancies.isEmpty()) {
            throw Refusal.conflict(
                    known.reading().isEmpty()
                            ? "%s was never read; there is nothing to take over.".formatted(name)
                            : "%s is what the inventory says; there is nothing to take over."
                                    .formatted(name));
        }
        changes.keep(
                "%s as read".formatted(name),
                who,
                List.of(known.written()),
                sites.findById(row.site).map(SiteRow::site).stream().toList(),
                List.of());
        row.take(known.device(), json);
        events.append(
                Optional.empty(),
                name,
                "fleet",
                who,
                "%s is described as it was read now: %s. %s"
                        .formatted(
                                name,
                                discrepancies.stream()
                                        .map(
                                                d ->
                                                        "%s %s, not %s"
                                                                .formatted(
                                                                        d.what(),
                                                                        d.shown(),
                                                                        d.written()))
                                        .collect(Collectors.joining("; ")),
                                why)
                        .strip());
        return known(row);
    }

    /** Another box has its name, address and login now. */
    @Transactional
    void replace(String name, Reading met, String hostKey, String who) {
        DeviceRow row =
                devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        row.serial = met.identity().serial();
        row.hostKey = hostKey;
        keep(row.id(), met);
        events.append(
                Optional.empty(),
                name,
                "fleet",
                who,
                "%s is the box with serial number %s now; its host key is believed from here on."
                        .formatted(name, row.serial));
    }

    /** The device was replaced: its next host key is taken as its own. */
    @Transactional
    public void forgetHostKey(String name, String who) {
        DeviceRow row =
                devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        row.hostKey = "";
        events.append(
                Optional.empty(),
                name,
                "fleet",
                who,
                "The host key of %s was forgotten; the next one is believed.".formatted(name));
    }
}
