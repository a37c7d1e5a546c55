package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Reading;
import calmstep.core.text.RejectedText;
import calmstep.dialect.Dialect;
import calmstep.dialect.Doors;
import calmstep.dialect.SshDoor;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.releases.Dialects;
import calmstep.service.secrets.SecretBox;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The fleet as it is described and as it was read. */
@Component
public class Fleet {
    private final DeviceRows devices;
    private final SiteRows sites;
    private final LoginRows logins;
    private final ReadingRows readings;
    private final Silences silences;
    private final Catalogues catalogues;
    private final Dialects dialects;
    private final Doors doors;
    private final SecretBox secrets;
    private final Events events;
    private final Json json;
    private final Clock clock;

    Fleet(DeviceRows devices, SiteRows sites, LoginRows logins, ReadingRows readings, Silences silences, Catalogues catalogues, Dialects dialects,
            Doors doors, SecretBox secrets, Events events, Json json, Clock clock) {
        this.devices = devices;
        this.sites = sites;
        this.logins = logins;
        this.readings = readings;
        this.silences = silences;
        this.catalogues = catalogues;
        this.dialects = dialects;
        this.doors = doors;
        this.secrets = secrets;
        this.events = events;
        this.json = json;
        this.clock = clock;
    }

    /** What an import did, or would do. */
    public record Imported(List<String> added, List<String> changed, List<String> unchanged, boolean preview) {}

    /** Why the last try to read a device gave nothing. */
    public record Silent(Instant at, String expected, String seen, String remedy) {}

    /** A device with its newest reading, and the silence behind it where there is one. */
    public record Known(long id, Device device, String siteTitle, String zone, String hostKey, Optional<Reading> reading, Optional<Silent> silent) {}

    /**
     * Takes an inventory over, as a whole or not at all. Devices that the file does not name stay.
     *
     * @throws RejectedText with everything that is wrong in the text
     */
    @Transactional
    public Imported take(String fileName, String text, boolean preview, String who) {
        Inventory inventory = InventoryText.read(fileName, text, catalogues.families());
        List<String> added = new ArrayList<>();
        List<String> changed = new ArrayList<>();
        List<String> unchanged = new ArrayList<>();
        for (Device device : inventory.devices()) {
            devices.findByAddress(device.address()).filter(other -> !other.name.equals(device.name())
                    && inventory.find(other.name).map(d -> d.address().equals(device.address())).orElse(true)).ifPresent(other -> {
                throw Refusal.unusable("The address %s of %s belongs to %s already; two devices cannot share one. Nothing was taken over."
                        .formatted(device.address(), device.name(), other.name), List.of());
            });
            Optional<DeviceRow> known = devices.findByName(device.name());
            (known.isEmpty() ? added : known.get().device(json).equals(device) ? unchanged : changed).add(device.name());
        }
        if (!preview) {
            inventory.sites().forEach(site -> {
                SiteRow row = sites.findById(site.name()).orElseGet(SiteRow::new);
                row.name = site.name();
                row.title = site.title();
                row.zone = site.zone().getId();
                sites.save(row);
            });
            inventory.devices().forEach(device -> {
                DeviceRow row = devices.findByName(device.name()).orElseGet(DeviceRow::new);
                row.take(device, json);
                devices.save(row);
            });
            events.append(Optional.empty(), fileName, "fleet", who,
                    "Inventory imported: %d added, %d changed, %d as before.".formatted(added.size(), changed.size(), unchanged.size()));
        }
        return new Imported(added, changed, unchanged, preview);
    }

    /** Sets the user and password that open devices; the password never comes back out. */
    @Transactional
    public void setLogin(String name, String user, String password, String who) {
        LoginRow row = logins.findById(name).orElseGet(LoginRow::new);
        row.name = name;
        row.userName = user;
        row.secret = secrets.seal("login/" + name, password);
        row.changedAt = clock.instant();
        row.changedBy = who;
        logins.save(row);
        events.append(Optional.empty(), name, "fleet", who, "The login \"%s\" has a password.".formatted(name));
    }

    public boolean hasSecret(String login) {
        return logins.existsById(login);
    }

    @Transactional(readOnly = true)
    public List<Known> all() {
        return devices.findAllByOrderByName().stream().map(this::known).toList();
    }

    @Transactional(readOnly = true)
    public Known require(String name) {
        return devices.findByName(name).map(this::known).orElseThrow(() -> Refusal.notFound("device", name));
    }

    @Transactional(readOnly = true)
    public List<Reading> readings(String name) {
        long id = require(name).id();
        return readings.findTop20ByDeviceIdOrderByIdDesc(id).stream().map(r -> json.read(r.body, Reading.class)).toList();
    }

    private Known known(DeviceRow row) {
        Optional<ReadingRow> newest = readings.findFirstByDeviceIdOrderByIdDesc(row.id());
        Optional<Silence> silence = silences.findFirstByDeviceIdOrderByIdDesc(row.id())
                .filter(s -> newest.map(r -> s.at.isAfter(r.takenAt)).orElse(true));
        Optional<SiteRow> site = sites.findById(row.site);
        return new Known(row.id(), row.device(json), site.map(s -> s.title).orElse(row.site), site.map(s -> s.zone).orElse("UTC"), row.hostKey,
                newest.map(r -> json.read(r.body, Reading.class)), silence.map(s -> new Silent(s.at, s.expected, s.seen, s.remedy)));
    }

    /** The dialect of a device's family. */
    public Dialect dialectOf(String device) {
        return dialects.require(require(device).device().family());
    }

    /** The way to a device; what is said goes to {@code talk}. */
    @Transactional(readOnly = true)
    public SshDoor door(String name, Talk talk) {
        Known known = require(name);
        LoginRow login = logins.findById(known.device().login()).orElseThrow(() -> Refusal.conflict(
                "The login \"%s\" of %s has no password here. Give it one with: calmstep fleet login %s --user …".formatted(known.device().login(), name, known.device().login())));
        Device device = known.device();
        return doors.to(new Doors.Address(name, device.address(), device.port(), device.consolePort(), login.userName,
                secrets.open("login/" + login.name, login.secret), known.hostKey()), dialects.require(device.family()), talk);
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
        events.append(Optional.empty(), name, "fleet", Events.SERVICE, "%s could not be read. %s".formatted(name, trouble.sentence()));
    }

    /** Remembers the host key of the first meeting. */
    @Transactional
    public void rememberHostKey(String name, String fingerprint) {
        devices.findByName(name).filter(d -> d.hostKey.isEmpty() && !fingerprint.isEmpty()).ifPresent(d -> d.hostKey = fingerprint);
    }

    /** The device was replaced: its next host key is taken as its own. */
    @Transactional
    public void forgetHostKey(String name, String who) {
        DeviceRow row = devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        row.hostKey = "";
        events.append(Optional.empty(), name, "fleet", who, "The host key of %s was forgotten; the next one is believed.".formatted(name));
    }
}
