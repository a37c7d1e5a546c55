package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.fleet.Device;
import calmstep.core.reach.Network;
import calmstep.core.step.UnitPlan;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Who loses the network at a site while a unit is dark, besides the unit itself.
 *
 * @param devices by name, in order
 * @param serves who stands behind them, in users' words
 */
public record Reached(String site, List<String> devices, List<String> serves) {
    public Reached {
        devices = List.copyOf(devices);
        serves = List.copyOf(serves);
    }

    /**
     * Site by site; none for a unit whose members restart one after the other.
     *
     * @param devices of the fleet, by name
     */
    public static List<Reached> by(UnitPlan unit, Map<String, Device> devices, Network network) {
        return unit.darkensOthers()
                ? at(
                        network.cutOffBy(unit.device()).stream()
                                .map(name -> known(devices, name))
                                .toList())
                : List.of();
    }

    private static List<Reached> at(Collection<Device> cutOff) {
        return cutOff.stream()
                .collect(Collectors.groupingBy(Device::site, TreeMap::new, Collectors.toList()))
                .entrySet()
                .stream()
                .map(
                        site ->
                                new Reached(
                                        site.getKey(),
                                        site.getValue().stream().map(Device::name).toList(),
                                        serving(site.getValue())))
                .toList();
    }

    /** Who stands behind some devices, in users' words. */
    static List<String> serving(Collection<Device> devices) {
        return devices.stream()
                .map(Device::serves)
                .filter(words -> !words.isEmpty())
                .distinct()
                .toList();
    }
}
