package calmstep.core.fleet;

import java.util.List;
import java.util.Optional;

/** What an inventory file holds. */
public record Inventory(List<Site> sites, List<Device> devices) {
    public Inventory {
        sites = List.copyOf(sites);
        devices = List.copyOf(devices);
    }

    public Optional<Device> find(String name) {
        return devices.stream().filter(device -> device.name().equals(name)).findFirst();
    }
}
