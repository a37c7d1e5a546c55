package calmstep.service.fleet;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Way;
import calmstep.service.json.Json;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.annotations.SQLRestriction;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;

@Entity
@Table(name = "device")
@SQLRestriction("retired_at is null")
class DeviceRow {
    private static final TypeReference<Set<String>> WORDS = new TypeReference<>() {};
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String name = "";
    String family = "";
    String model = "";
    String revision = "";
    String region = "";
    String brand = "";
    String serial = "";
    String site = "";
    String role = "";
    String address = "";
    int port;
    int consolePort;
    String logins = "[]";
    boolean entitled;
    String runs = "{}";
    String serves = "";
    String tags = "[]";
    String features = "[]";
    String parts = "[]";
    String links = "[]";
    boolean root;
    String redundancy = "[]";
    String fedBy = "";
    String via = "[]";
    String console = "";
    String oldAlgorithms = "[]";
    String medium = "";
    String hostKey = "";

    /** When it was taken out of the fleet; whoever asks for devices is given none of these. */
    @Nullable Instant retiredAt;

    /** How it was called before, oldest first. */
    String formerNames = "[]";

    /** The login that it let in last: it is tried first. */
    String letIn = "";

    @Version int version;

    long id() {
        return id == null ? 0 : id;
    }

    Device device(Json json) {
        return new Device(
                name,
                family,
                new Hardware(model, revision, region, brand, json.read(features, WORDS)),
                serial,
                site,
                role,
                json.read(tags, WORDS),
                address,
                port,
                consolePort,
                json.read(logins, NAMES),
                entitled,
                json.read(runs, new TypeReference<Map<String, String>>() {}),
                json.read(parts, new TypeReference<List<Part>>() {}),
                serves,
                new Device.Wiring(
                        json.read(links, WORDS),
                        root,
                        json.read(redundancy, WORDS),
                        Optional.of(fedBy).filter(base -> !base.isEmpty())),
                new Way(
                        json.read(via, NAMES).stream().map(Way.Stop::parse).toList(),
                        Optional.of(console).filter(line -> !line.isEmpty()).map(Way.Stop::parse),
                        json.read(oldAlgorithms, WORDS),
                        Optional.of(medium).filter(one -> !one.isEmpty())));
    }

    void take(Device device, Json json) {
        name = device.name();
        family = device.family();
        takeMake(device);
        site = device.site();
        role = device.role();
        address = device.address();
        port = device.port();
        consolePort = device.consolePort();
        logins = json.write(device.logins());
        entitled = device.entitled();
        runs = json.write(new java.util.TreeMap<>(device.runs()));
        serves = device.serves();
        tags = json.write(device.tags());
        features = json.write(device.hardware().features());
        takeWiring(json, device);
    }

    private void takeMake(Device device) {
        model = device.hardware().model();
        revision = device.hardware().revision();
        region = device.hardware().region();
        brand = device.hardware().brand();
        serial = device.serial();
    }

    private void takeWiring(Json json, Device device) {
        parts = json.write(device.parts());
        links = json.write(device.wiring().links());
        root = device.wiring().root();
        redundancy = json.write(device.wiring().redundancy());
        fedBy = device.wiring().fedBy().orElse("");
        via = json.write(device.way().via().stream().map(Way.Stop::toString).toList());
        console = device.way().console().map(Way.Stop::toString).orElse("");
        oldAlgorithms = json.write(device.way().oldAlgorithms());
        medium = device.way().medium().orElse("");
    }
}
