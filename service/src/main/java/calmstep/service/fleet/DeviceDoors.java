package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Way;
import calmstep.dialect.Dialect;
import calmstep.dialect.Door;
import calmstep.dialect.Doors;
import calmstep.dialect.Talk;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import java.util.Comparator;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * The ways to devices of the fleet: the address, the stops before it, and the logins that open
 * both.
 */
@Component
public class DeviceDoors {
    private final Fleet fleet;
    private final DeviceRows devices;
    private final Logins logins;
    private final CountedSignIns signIns;
    private final Doors doors;
    private final Json json;

    DeviceDoors(
            Fleet fleet,
            DeviceRows devices,
            Logins logins,
            CountedSignIns signIns,
            Doors doors,
            Json json) {
        this.fleet = fleet;
        this.devices = devices;
        this.logins = logins;
        this.signIns = signIns;
        this.doors = doors;
        this.json = json;
    }

    /** The way to a device; what is said goes to {@code talk}. */
    @Transactional(readOnly = true)
    public Door door(String name, Talk talk) {
        return door(name, fleet.dialectOf(name), talk);
    }

    /** The way to a device through another dialect than its family's. */
    @Transactional(readOnly = true)
    Door door(String name, Dialect dialect, Talk talk) {
        DeviceRow row =
                devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        return door(row, row.hostKey, dialect, talk);
    }

    /** The way to whatever stands at a device's address, whoever it says it is. */
    @Transactional(readOnly = true)
    Door doorToAny(String name) {
        DeviceRow row =
                devices.findByName(name).orElseThrow(() -> Refusal.notFound("device", name));
        return door(row, "", fleet.dialectOf(name), Talk.NONE);
    }

    private Door door(DeviceRow row, String hostKey, Dialect dialect, Talk talk) {
        String name = row.name;
        Device device = row.device(json);
        List<Doors.Login> known = loginsOf(device, row);
        if (known.isEmpty()) {
            String login = device.logins().getFirst();
            throw Refusal.conflict(
                    "The login \"%s\" of %s has no password here. Give it one with: calmstep fleet login %s --user …"
                            .formatted(login, name, login));
        }
        return doors.to(
                addressOf(name, device, known, hostKey),
                dialect,
                talk,
                signIns.of(row, known.size() > 1));
    }

    private Doors.Address addressOf(
            String name, Device device, List<Doors.Login> known, String hostKey) {
        return new Doors.Address(
                name,
                device.address(),
                device.port(),
                device.consolePort(),
                known,
                hostKey,
                route(device));
    }

    private List<Doors.Login> loginsOf(Device device, DeviceRow row) {
        List<Doors.Login> known =
                device.logins().stream()
                        .sorted(Comparator.comparing(login -> !login.equals(row.letIn)))
                        .flatMap(login -> logins.find(login).stream())
                        .toList();
        return known;
    }

    private Doors.Route route(Device device) {
        return new Doors.Route(
                device.way().via().stream().map(stop -> stop(device, stop)).toList(),
                device.way().console().map(stop -> stop(device, stop)),
                device.way().oldAlgorithms());
    }

    private Doors.Stop stop(Device device, Way.Stop stop) {
        Doors.Login login =
                logins.find(stop.login())
                        .orElseThrow(
                                () ->
                                        Refusal.conflict(
                                                "The login \"%s\" of %s, on the way to %s, has no password here. Give it one with: calmstep fleet login %s --user …"
                                                        .formatted(
                                                                stop.login(),
                                                                stop.place(),
                                                                device.name(),
                                                                stop.login())));
        return new Doors.Stop(stop.host(), stop.port(), login);
    }
}
