package calmstep.core.plan;

import calmstep.core.catalogue.Advisory;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Channel;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.Release;
import calmstep.core.fleet.Device;
import calmstep.core.path.Hop;
import calmstep.core.path.Path;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Finds what a path ventures: down, off the general channel, into a fault, without a configuration.
 */
final class Ventures {
    private final Device device;
    private final Catalogue catalogue;
    private final Abilities can;
    private final List<Concern> found = new ArrayList<>();

    private Ventures(Device device, Catalogue catalogue, Abilities can) {
        this.device = device;
        this.catalogue = catalogue;
        this.can = can;
    }

    /**
     * @param runs release by component, before the first hop
     */
    static List<Concern> of(
            Device device,
            Map<String, String> runs,
            Catalogue catalogue,
            Abilities can,
            Path path) {
        Ventures ventures = new Ventures(device, catalogue, can);
        Set<String> today = ventures.faultsOf(runs);
        Map<String, String> after = new TreeMap<>(runs);
        for (Hop hop : path.hops()) {
            boolean last = hop.equals(path.hops().getLast());
            ventures.release(hop.component(), hop.to())
                    .ifPresent(release -> ventures.look(hop, release, last, after));
            ventures.faults(hop, after, today, last);
        }
        ventures.newerRecommended(path);
        return List.copyOf(ventures.found);
    }

    private Set<String> faultsOf(Map<String, String> runs) {
        return Exposure.of(device, runs, catalogue).stream()
                .map(Advisory::id)
                .collect(Collectors.toSet());
    }

    private void look(Hop hop, Release release, boolean last, Map<String, String> after) {
        Optional<Release> before = release(hop.component(), hop.from());
        List<String> loses = effect(hop, release).loses();
        version(hop.component(), hop.from())
                .filter(from -> release.version().compareTo(from) < 0)
                .ifPresent(_ -> found.add(new Venture.GoesDown(from(hop), hop.step(), loses)));
        before.filter(was -> !was.line().equals(release.line()))
                .ifPresent(
                        was ->
                                found.add(
                                        new Venture.OtherLine(
                                                from(hop),
                                                was.line(),
                                                hop.step(),
                                                release.line(),
                                                loses)));
        if (release.channel() != Channel.GENERAL) {
            found.add(new Venture.NotGeneral(hop.step(), release.channel(), !last));
        }
        if (hop.configuration() == Effect.Configuration.WIPED) {
            found.add(new Venture.WipesConfiguration(hop.step(), loses, can.cannotGive()));
        }
        after.put(hop.component(), hop.to());
        release.brings().forEach((component, version) -> after.put(component, version.text()));
    }

    private void faults(Hop hop, Map<String, String> after, Set<String> today, boolean last) {
        for (Advisory advisory : Exposure.of(device, after, catalogue)) {
            boolean known = today.contains(advisory.id());
            if (last && known) {
                found.add(new Venture.StillExposed(hop.step(), advisory));
            } else if (!known && (last || hop.mayRest())) {
                found.add(new Venture.Exposed(hop.step(), advisory));
            } else if (!known) {
                found.add(new Venture.ExposedOnTheWay(hop.step(), advisory));
            }
        }
    }

    private void newerRecommended(Path path) {
        path.hops().stream()
                .filter(hop -> hop.component().equals(Catalogue.SYSTEM))
                .reduce((_, later) -> later)
                .flatMap(hop -> version(hop.component(), hop.to()))
                .ifPresent(
                        target ->
                                catalogue
                                        .recommended()
                                        .map(Release::version)
                                        .filter(newest -> newest.compareTo(target) > 0)
                                        .ifPresent(
                                                newest ->
                                                        found.add(
                                                                new Venture.NewerRecommended(
                                                                        target.text(),
                                                                        newest.text()))));
    }

    private static String from(Hop hop) {
        return hop.component().equals(Catalogue.SYSTEM)
                ? hop.from()
                : "%s %s".formatted(hop.component(), hop.from());
    }

    private Effect effect(Hop hop, Release release) {
        return catalogue.effectOf(release, version(hop.component(), hop.from()));
    }

    private Optional<Release> release(String component, String text) {
        return version(component, text).flatMap(version -> catalogue.find(component, version));
    }

    private Optional<Version> version(String component, String text) {
        VersionScheme scheme = catalogue.schemes().getOrDefault(component, VersionScheme.ANY);
        try {
            return text.isEmpty() ? Optional.empty() : Optional.of(scheme.parse(text));
        } catch (IllegalArgumentException unreadable) {
            return Optional.empty();
        }
    }
}
