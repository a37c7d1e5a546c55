package calmstep.core.order;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Grouping;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Part;
import calmstep.core.path.Hop;
import calmstep.core.path.Path;
import calmstep.core.version.Version;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The order inside a device that is a unit of several members, or of a controller with its
 * dependents, along its path.
 */
public final class UnitOrder {
    private UnitOrder() {}

    /**
     * @return empty where the device has neither members beside it nor dependents, or its catalogue
     *     does not say how they hang together
     */
    public static Optional<RollingOrder> of(Device device, Catalogue catalogue, Path path) {
        List<String> members = members(device);
        List<Version> releases = releases(catalogue, path);
        if (members.size() < 2) {
            return withDependents(device, catalogue, path);
        }
        return catalogue
                .grouping()
                .filter(_ -> releases.size() > 1)
                .map(grouping -> rolling(grouping, members, releases, catalogue))
                .map(order -> imageFirst(order, members.size()));
    }

    private static RollingOrder rolling(
            Grouping grouping, List<String> members, List<Version> releases, Catalogue catalogue) {
        return RollingSearch.of(
                shape(members, grouping),
                releases,
                (one, other) ->
                        catalogue.sideBySide().stream().anyMatch(pair -> pair.holds(one, other)));
    }

    /**
     * How the members restart in one hop.
     *
     * @param atOnce how many at once while the others serve; 0 where everything restarts together
     * @param whole from the first restart until the unit is whole again
     * @param dark in which the unit serves nobody
     * @param handsOver whether the active member hands over to one that has restarted, and restarts
     *     then
     * @param standbys of the whole, until those have restarted to whom it may hand over
     */
    public record Restarts(
            int atOnce, Duration whole, Duration dark, boolean handsOver, Duration standbys) {
        /** Of a device that stands alone. */
        public static Restarts ofOne(Hop hop) {
            return new Restarts(0, hop.dark(), hop.dark(), false, Duration.ZERO);
        }
    }

    /**
     * How the members restart in a hop; empty for a device that stands alone, and for a component
     * beside the system.
     */
    public static Optional<Restarts> restarts(
            Device device, Catalogue catalogue, Path path, Hop hop) {
        return restarts(of(device, catalogue, path), device, catalogue, hop);
    }

    /**
     * @param whole the order of the whole path
     */
    static Optional<Restarts> restarts(
            Optional<RollingOrder> whole, Device device, Catalogue catalogue, Hop hop) {
        Optional<RollingOrder> order = whole.filter(_ -> hop.component().equals(Catalogue.SYSTEM));
        return order.map(
                found -> {
                    Duration takes =
                            found.moves().stream()
                                    .filter(move -> restartsInto(move, hop.to()))
                                    .map(RollingMove::takes)
                                    .reduce(Duration.ZERO, Duration::plus);
                    boolean rolls =
                            found.moves().stream()
                                            .anyMatch(
                                                    move ->
                                                            move
                                                                            instanceof
                                                                            RollingMove
                                                                                            .RestartMembers
                                                                                    some
                                                                    && some.to().equals(hop.to()))
                                    && catalogue.sideBySide().stream()
                                            .anyMatch(
                                                    pair ->
                                                            pair.holds(
                                                                    catalogue
                                                                            .systemScheme()
                                                                            .parse(hop.from()),
                                                                    catalogue
                                                                            .systemScheme()
                                                                            .parse(hop.to())));
                    return new Restarts(
                            rolls
                                    ? shape(members(device), catalogue.grouping().orElseThrow())
                                            .mayBeOut()
                                    : 0,
                            takes,
                            darkInto(found, hop.to()),
                            rolls && catalogue.grouping().orElseThrow().oneIsActive(),
                            rolls ? standbys(found, hop.to()) : Duration.ZERO);
                });
    }

    /** All but the last restart into a release: that one is of who was active. */
    private static Duration standbys(RollingOrder order, String release) {
        List<Duration> restarts =
                order.moves().stream()
                        .filter(move -> restartsInto(move, release))
                        .map(RollingMove::takes)
                        .toList();
        return restarts.stream()
                .limit(Math.max(0, restarts.size() - 1))
                .reduce(Duration.ZERO, Duration::plus);
    }

    /**
     * Who hands over does so to restart itself: its moment without service belongs to the release
     * that is restarted into next.
     */
    private static Duration darkInto(RollingOrder order, String release) {
        Duration dark = Duration.ZERO;
        Duration before = Duration.ZERO;
        for (RollingMove move : order.moves()) {
            before = before.plus(move.dark());
            if (restartsInto(move, release)) {
                dark = dark.plus(before);
            }
            before =
                    move instanceof RollingMove.HandOver || move instanceof RollingMove.BringImage
                            ? before
                            : Duration.ZERO;
        }
        return dark;
    }

    private static boolean restartsInto(RollingMove move, String release) {
        return switch (move) {
            case RollingMove.RestartMembers(var _, String _, String to, Duration _) ->
                    to.equals(release);
            case RollingMove.RestartAll(String _, String to, Duration _) -> to.equals(release);
            case RollingMove.RestartController(String _, String _, String to, Duration _) ->
                    to.equals(release);
            case RollingMove.DependentsFollow(int _, String to, boolean _, Duration _) ->
                    to.equals(release);
            case RollingMove.BringImage _,
                    RollingMove.PreLoadDependents _,
                    RollingMove.Drain _,
                    RollingMove.HandOver _ ->
                    false;
        };
    }

    /**
     * Before the first member restarts into a release, its image is on all of them: a member that
     * restarts without it falls out of the unit.
     */
    private static RollingOrder imageFirst(RollingOrder order, int members) {
        List<RollingMove> moves = new ArrayList<>();
        Set<String> brought = new HashSet<>();
        for (RollingMove move : order.moves()) {
            into(move)
                    .filter(brought::add)
                    .ifPresent(release -> moves.add(new RollingMove.BringImage(members, release)));
            moves.add(move);
        }
        return new RollingOrder(moves, order.barred());
    }

    private static Optional<String> into(RollingMove move) {
        return switch (move) {
            case RollingMove.RestartMembers(var _, String _, String to, var _) -> Optional.of(to);
            case RollingMove.RestartAll(String _, String to, var _) -> Optional.of(to);
            case RollingMove.BringImage _,
                    RollingMove.Drain _,
                    RollingMove.HandOver _,
                    RollingMove.PreLoadDependents _,
                    RollingMove.RestartController _,
                    RollingMove.DependentsFollow _ ->
                    Optional.empty();
        };
    }

    /**
     * Hop by hop: the image is brought to the dependents where they can hold it, then the
     * controller and they restart in the catalogue's order.
     */
    private static Optional<RollingOrder> withDependents(
            Device device, Catalogue catalogue, Path path) {
        int count =
                (int)
                        device.parts().stream()
                                .filter(part -> part.kind() == Part.Kind.DEPENDENT)
                                .count();
        List<Hop> hops =
                path.hops().stream()
                        .filter(hop -> hop.component().equals(Catalogue.SYSTEM))
                        .toList();
        return catalogue
                .dependents()
                .filter(_ -> count > 0 && !hops.isEmpty())
                .map(
                        how -> {
                            List<RollingMove> moves = new ArrayList<>();
                            for (Hop hop : hops) {
                                how.preLoad()
                                        .ifPresent(
                                                takes ->
                                                        moves.add(
                                                                new RollingMove.PreLoadDependents(
                                                                        count, hop.to(), takes)));
                                RollingMove controller =
                                        new RollingMove.RestartController(
                                                device.name(), hop.from(), hop.to(), hop.dark());
                                RollingMove follow =
                                        new RollingMove.DependentsFollow(
                                                count,
                                                hop.to(),
                                                how.preLoad().isEmpty(),
                                                how.preLoad().isEmpty()
                                                        ? how.fetch().plus(how.restart())
                                                        : how.restart());
                                moves.addAll(
                                        how.after()
                                                ? List.of(controller, follow)
                                                : List.of(follow, controller));
                            }
                            return new RollingOrder(moves, List.of());
                        });
    }

    private static UnitShape shape(List<String> members, Grouping grouping) {
        return new UnitShape(
                members,
                grouping.oneIsActive() ? members.getFirst() : "",
                Math.min(grouping.mayBeOut(), members.size() - 1),
                grouping.restart(),
                grouping.restartAll(),
                grouping.handOver(),
                grouping.settle());
    }

    /**
     * The members of a stack by their numbers; of a pair its two sides, or where only its partner
     * is known, the device itself and that.
     */
    private static List<String> members(Device device) {
        List<String> names = new ArrayList<>();
        boolean onlyItsPartner =
                device.parts().stream().filter(part -> part.kind() == Part.Kind.PARTNER).count()
                        == 1;
        if (onlyItsPartner) {
            names.add(device.name());
        }
        device.parts().stream()
                .filter(part -> part.kind() == Part.Kind.MEMBER || part.kind() == Part.Kind.PARTNER)
                .map(part -> called(part, onlyItsPartner))
                .forEach(names::add);
        return names;
    }

    private static String called(Part part, boolean onlyItsPartner) {
        return part.kind() == Part.Kind.MEMBER
                ? "member " + part.name()
                : (onlyItsPartner ? "its %s" : "its %s side").formatted(part.name());
    }

    private static List<Version> releases(Catalogue catalogue, Path path) {
        List<Hop> hops =
                path.hops().stream()
                        .filter(hop -> hop.component().equals(Catalogue.SYSTEM))
                        .toList();
        List<Version> releases = new ArrayList<>();
        for (Hop hop : hops) {
            if (releases.isEmpty()) {
                releases.add(catalogue.systemScheme().parse(hop.from()));
            }
            releases.add(catalogue.systemScheme().parse(hop.to()));
        }
        return releases;
    }
}
