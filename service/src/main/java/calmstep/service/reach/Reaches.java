package calmstep.service.reach;

import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.reach.Contradiction;
import calmstep.core.reach.Network;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** The network as the inventory joins it. */
@Component
public class Reaches {
    private final Fleet fleet;

    Reaches(Fleet fleet) {
        this.fleet = fleet;
    }

    /**
     * A device in the network.
     *
     * @param layer steps from the nearest root; null where there is no way to one
     * @param cutOff what loses every way to a root while it alone is down
     */
    record NodeView(
            String device,
            String family,
            String site,
            @Nullable Integer layer,
            boolean root,
            List<String> links,
            List<String> cutOff) {}

    /**
     * The whole network.
     *
     * @param unknown names that links have and no device here, each with the device that names it
     * @param standIns devices that stand in for each other, as the links show it
     * @param contradictions where devices see other neighbours than the inventory joins them with,
     *     as sentences
     */
    record NetworkView(
            List<NodeView> nodes,
            List<String> unreached,
            List<String> unknown,
            List<List<String>> standIns,
            List<String> contradictions) {}

    /**
     * What goes dark while devices are down.
     *
     * @param cutOff what loses every way to a root, besides the devices themselves
     * @param serves who stands behind all of them, in users' words
     * @param order the devices, the farthest from the roots first
     */
    public record DarkView(
            List<String> down, List<String> cutOff, List<String> serves, List<String> order) {}

    NetworkView network() {
        Look look = look();
        Map<String, Device> devices = look.devices();
        Network network = look.graph();
        List<String> unknown = new ArrayList<>();
        devices.values()
                .forEach(
                        d ->
                                d.wiring().links().stream()
                                        .filter(other -> !devices.containsKey(other))
                                        .forEach(
                                                other ->
                                                        unknown.add(
                                                                "%s, which %s names"
                                                                        .formatted(
                                                                                other, d.name()))));
        return new NetworkView(
                devices.values().stream()
                        .map(
                                d ->
                                        new NodeView(
                                                d.name(),
                                                d.family(),
                                                d.site(),
                                                network.layer(d.name()).stream()
                                                        .boxed()
                                                        .findFirst()
                                                        .orElse(null),
                                                d.wiring().root(),
                                                network.neighboursOf(d.name()),
                                                List.copyOf(network.cutOffBy(d.name()))))
                        .toList(),
                List.copyOf(network.unreached()),
                unknown,
                network.standIns().stream().<List<String>>map(List::copyOf).toList(),
                look.contradictions().stream().map(Contradiction::sentence).toList());
    }

    /**
     * The fleet as it hangs together now.
     *
     * @param devices by name, as they show themselves where they were read
     * @param readings the newest of each device that was read, by name
     * @param graph from the inventory's links and from what readings show beside devices
     * @param contradictions where these two differ
     */
    public record Look(
            Map<String, Device> devices,
            Map<String, Reading> readings,
            Network graph,
            List<Contradiction> contradictions) {
        /** Licences and support of a device that end soon, by its own word. */
        public List<Ailment.Ends> rights(String device, Instant now) {
            return Optional.ofNullable(readings.get(device))
                    .map(reading -> Ailment.rights(reading, now))
                    .orElse(List.of());
        }
    }

    /** Reads inventory and readings once, for whoever asks several questions. */
    public Look look() {
        Map<String, Reading> readings = fleet.readings();
        Map<String, Device> devices = new TreeMap<>();
        fleet.devices().forEach(one -> devices.put(one.name(), asShown(one, readings)));
        Map<String, Set<String>> seen = new TreeMap<>();
        readings.forEach(
                (device, reading) ->
                        Contradiction.neighbours(reading)
                                .ifPresent(neighbours -> seen.put(device, neighbours)));
        return new Look(
                devices,
                readings,
                Network.of(devices.values(), seen),
                Contradiction.of(devices.values(), seen));
    }

    private static Device asShown(Device written, Map<String, Reading> readings) {
        return Optional.ofNullable(readings.get(written.name()))
                .map(written::asShown)
                .orElse(written);
    }

    /**
     * @throws Refusal when one of them is not in the fleet
     */
    public DarkView dark(Collection<String> down) {
        Look look = look();
        Map<String, Device> devices = look.devices();
        mustBeKnown(down, devices);
        Network network = look.graph();
        Set<String> out = new TreeSet<>(down);
        List<String> cutOff = List.copyOf(network.cutOffBy(out));
        Set<String> dark = new TreeSet<>(out);
        dark.addAll(cutOff);
        return new DarkView(
                List.copyOf(out), cutOff, serves(dark, devices), network.farEdgeFirst(out));
    }

    private static List<String> serves(Set<String> dark, Map<String, Device> devices) {
        return dark.stream()
                .map(devices::get)
                .map(Device::serves)
                .filter(words -> !words.isEmpty())
                .distinct()
                .toList();
    }

    private static void mustBeKnown(Collection<String> down, Map<String, Device> devices) {
        down.stream()
                .filter(name -> !devices.containsKey(name))
                .findFirst()
                .ifPresent(
                        name -> {
                            throw Refusal.notFound("device", name);
                        });
    }
}
