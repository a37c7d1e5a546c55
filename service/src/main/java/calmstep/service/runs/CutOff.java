package calmstep.service.runs;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.reach.Network;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.reach.Reaches;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Who else loses the network while a unit is dark, for whoever is asked at its gate. */
@Component
class CutOff {
    private static final int NAMED = 4;

    /**
     * The whole network is read for it: a thousand that come to their gates at once ask for the
     * same one.
     */
    private static final Duration KNOWN_FOR = Duration.ofMinutes(1);

    private final Reaches reaches;
    private final Fleet fleet;
    private final Clock clock;
    private Reaches.@Nullable Look look;
    private Map<String, String> titles = Map.of();
    private Instant lookedAt = Instant.EPOCH;

    CutOff(Reaches reaches, Fleet fleet, Clock clock) {
        this.reaches = reaches;
        this.fleet = fleet;
        this.clock = clock;
    }

    /** A sentence; empty where a hop darkens nobody else. */
    Optional<String> words(String device, HopPlan hop) {
        if (!hop.darkensOthers()) {
            return Optional.empty();
        }
        Reaches.Look now = look();
        List<Device> others = othersCutOff(now, device);
        return others.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        "Meanwhile it cuts off %s: %s; at %s."
                                .formatted(
                                        others.size() == 1
                                                ? "1 other device"
                                                : others.size() + " other devices",
                                        some(others.stream().map(Device::name).toList()),
                                        some(sites(others))));
    }

    /**
     * Why a unit does not begin beside those that are in work: together they would cut off a third
     * that none of them cuts off alone. Two of a plan are kept apart by their plan; here any number
     * of them, of several runs, and links that came since.
     */
    static Optional<String> whyNotWith(Network network, String unit, Collection<String> inWork) {
        Set<String> all = new TreeSet<>(inWork);
        all.add(unit);
        List<String> cut = List.copyOf(network.cutOffTogether(all));
        List<String> others = all.stream().filter(one -> !one.equals(unit)).toList();
        return cut.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        "%s in work; with it %s would lose every way"
                                .formatted(
                                        some(others) + (others.size() == 1 ? " is" : " are"),
                                        some(cut)));
    }

    /** The network as it was read not longer ago than a minute. */
    Network network() {
        return look().graph();
    }

    private static List<Device> othersCutOff(Reaches.Look now, String device) {
        Set<String> dark =
                now.devices().containsKey(device) ? now.graph().cutOffBy(device) : Set.of();
        List<Device> others =
                dark.stream().map(now.devices()::get).filter(Objects::nonNull).toList();
        return others;
    }

    private List<String> sites(List<Device> others) {
        return others.stream()
                .map(one -> titles.getOrDefault(one.site(), one.site()))
                .distinct()
                .toList();
    }

    /** The first of them by name, and how many more there are. */
    private static String some(List<String> all) {
        return String.join(", ", all.subList(0, Math.min(NAMED, all.size())))
                + (all.size() > NAMED ? " and %s more".formatted(all.size() - NAMED) : "");
    }

    private synchronized Reaches.Look look() {
        Instant now = clock.instant();
        Optional<Reaches.Look> known =
                Optional.ofNullable(look)
                        .filter(_ -> Duration.between(lookedAt, now).compareTo(KNOWN_FOR) < 0);
        if (known.isPresent()) {
            return known.get();
        }
        Reaches.Look fresh = reaches.look();
        look = fresh;
        titles = fleet.sites().stream().collect(Collectors.toMap(Site::name, Site::title));
        lookedAt = now;
        return fresh;
    }
}
