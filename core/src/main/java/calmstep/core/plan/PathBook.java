package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Advisory;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Release;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Part;
import calmstep.core.path.Cost;
import calmstep.core.path.Hop;
import calmstep.core.path.Kind;
import calmstep.core.path.Obstacle;
import calmstep.core.path.Path;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.PathSearch;
import calmstep.core.path.Preference;
import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * Answers the path questions of many devices. Devices of one kind that are to go to one release
 * share a search, and the same question is worked out once. Not for use by several threads at once.
 */
public final class PathBook {
    /**
     * What people mean by "proven", when they are asked: a quarter of a year in others' networks.
     */
    public static final int OLDER_DAYS = 90;

    private static final int YOUNG_DAYS = 14;

    private record Asked(Hardware hardware, boolean entitled, Version target) {}

    private final Preference preference;
    private final LocalDate today;
    private final IdentityHashMap<Catalogue, Map<Asked, PathSearch>> searches =
            new IdentityHashMap<>();
    private final IdentityHashMap<PathSearch, Map<SortedMap<String, Version>, PathAnswer>> answers =
            new IdentityHashMap<>();

    public PathBook(Preference preference, LocalDate today) {
        this.preference = preference;
        this.today = today;
    }

    /**
     * @param wanted what a policy comes to for this device; empty when the catalogue has no release
     *     for it
     * @param answer empty likewise
     */
    public record Entry(Optional<Version> wanted, Optional<PathAnswer> answer) {
        static final Entry NONE = new Entry(Optional.empty(), Optional.empty());
    }

    /**
     * @param runs release by component, as the device or its inventory line writes it
     * @throws IllegalArgumentException when the target is no version of the family's scheme, or
     *     names no advisory of the catalogue
     */
    public Entry look(Device device, Map<String, String> runs, Catalogue catalogue, Target target) {
        SortedMap<String, Version> state = new TreeMap<>();
        for (Map.Entry<String, String> entry : runs.entrySet()) {
            VersionScheme scheme = catalogue.schemes().get(entry.getKey());
            if (scheme != null) {
                try {
                    state.put(entry.getKey(), scheme.parse(entry.getValue()));
                } catch (IllegalArgumentException refused) {
                    return new Entry(
                            target.in(catalogue, today),
                            Optional.of(
                                    new PathAnswer.Refused(
                                            List.of(
                                                    new Obstacle.UnreadableVersion(
                                                            entry.getValue(),
                                                            String.valueOf(refused.getMessage()))),
                                            Optional.empty())));
                }
            }
        }
        device.parts().stream()
                .filter(part -> part.kind() == Part.Kind.LINE_BOARD)
                .forEach(
                        board ->
                                board.runs()
                                        .forEach(
                                                (component, release) ->
                                                        oldest(
                                                                state, catalogue, component,
                                                                release)));
        if (target instanceof Target.Clears(String id)) {
            Advisory advisory =
                    catalogue
                            .findAdvisory(id)
                            .orElseThrow(
                                    () ->
                                            new IllegalArgumentException(
                                                    "The catalogue of %s has no advisory \"%s\"."
                                                            .formatted(catalogue.title(), id)));
            return clearing(device, state, catalogue, advisory);
        }
        return target.in(catalogue, today)
                .map(wanted -> entry(device, state, catalogue, wanted))
                .orElse(Entry.NONE);
    }

    /** Of several boards of one kind the oldest counts: it is the one that has to move. */
    private static void oldest(
            SortedMap<String, Version> state,
            Catalogue catalogue,
            String component,
            String release) {
        Optional.ofNullable(catalogue.schemes().get(component))
                .map(scheme -> scheme.parse(release))
                .ifPresent(
                        version ->
                                state.merge(
                                        component,
                                        version,
                                        (one, other) -> one.compareTo(other) <= 0 ? one : other));
    }

    /**
     * How far a device gets by releases alone that are at least so many days old.
     *
     * @param endsAt the highest such release on the way to the wanted one; empty when there is none
     */
    public record ByOlderOnes(int days, Optional<Version> endsAt) {}

    /** Empty when the path to what is wanted has such releases alone, or there is none. */
    public Optional<ByOlderOnes> byOlderOnes(
            Device device, Map<String, String> runs, Catalogue catalogue, Entry entry, int days) {
        if (!(entry.answer().orElse(null) instanceof PathAnswer.Found found)
                || isOlder(found, catalogue, days)) {
            return Optional.empty();
        }
        Version wanted = entry.wanted().orElseThrow();
        return Optional.of(
                new ByOlderOnes(
                        days,
                        catalogue.general().stream()
                                .filter(r -> r.version().compareTo(wanted) <= 0 && isOlder(r, days))
                                .filter(r -> isReachedByOlderOnes(r, device, runs, catalogue, days))
                                .map(Release::version)
                                .findFirst()));
    }

    private boolean isReachedByOlderOnes(
            Release r, Device device, Map<String, String> runs, Catalogue catalogue, int days) {
        return look(device, runs, catalogue, new Target.Exactly(r.version().text()))
                                .answer()
                                .orElse(null)
                        instanceof PathAnswer.Found way
                && isOlder(way, catalogue, days);
    }

    private boolean isOlder(PathAnswer.Found found, Catalogue catalogue, int days) {
        return found.best().hops().stream()
                .allMatch(hop -> release(catalogue, hop).filter(r -> isOlder(r, days)).isPresent());
    }

    private boolean isOlder(Release release, int days) {
        return !release.date().isAfter(today.minusDays(days));
    }

    private PathAnswer answer(
            Device device, SortedMap<String, Version> state, Catalogue catalogue, Version wanted) {
        Asked asked = new Asked(device.hardware(), device.entitled(), wanted);
        PathSearch search =
                searches.computeIfAbsent(catalogue, _ -> new HashMap<>())
                        .compute(
                                asked,
                                (_, known) ->
                                        known != null && known.knows(state)
                                                ? known
                                                : PathSearch.towards(
                                                        kind(catalogue, device),
                                                        Catalogue.SYSTEM,
                                                        wanted,
                                                        List.of(state)));
        return answers.computeIfAbsent(search, _ -> new HashMap<>())
                .computeIfAbsent(state, search::from);
    }

    private Kind kind(Catalogue catalogue, Device device) {
        return new Kind(
                catalogue, device.hardware(), device.entitled(), preference, today, YOUNG_DAYS);
    }

    /**
     * The smallest move out of an advisory: of the paths up to a general release behind which the
     * component that has the fault is on a release without it, the one that costs the fewest
     * restarts and the least dark time, and of equals the lowest. A device that does not have the
     * fault stays.
     */
    private Entry clearing(
            Device device,
            SortedMap<String, Version> state,
            Catalogue catalogue,
            Advisory advisory) {
        Optional<Version> running = Optional.ofNullable(state.get(Catalogue.SYSTEM));
        Version faulty = state.get(advisory.component());
        if (faulty != null
                && (!advisory.affects().contains(faulty)
                        || !advisory.on().covers(device.hardware()))) {
            return new Entry(
                    running,
                    Optional.of(new PathAnswer.AlreadyThere(running.orElse(faulty).text())));
        }
        boolean ofSystem = advisory.component().equals(Catalogue.SYSTEM);
        List<Version> up =
                catalogue.general().stream()
                        .map(Release::version)
                        .filter(v -> running.isEmpty() || v.compareTo(running.get()) > 0)
                        .filter(v -> !ofSystem || !advisory.affects().contains(v))
                        .sorted()
                        .toList();
        return up.stream()
                .flatMap(to -> cure(device, state, catalogue, advisory, to).stream())
                .min(
                        Comparator.comparingInt((Cure c) -> c.cost().restarts())
                                .thenComparingLong(c -> c.cost().darkSeconds())
                                .thenComparing(Cure::release))
                .map(cure -> new Entry(Optional.of(cure.release()), Optional.of(cure.found())))
                .or(
                        () ->
                                up.stream()
                                        .filter(_ -> ofSystem)
                                        .findFirst()
                                        .map(to -> entry(device, state, catalogue, to)))
                .orElse(Entry.NONE);
    }

    private Entry entry(
            Device device, SortedMap<String, Version> state, Catalogue catalogue, Version to) {
        return new Entry(Optional.of(to), Optional.of(answer(device, state, catalogue, to)));
    }

    private Optional<Cure> cure(
            Device device,
            SortedMap<String, Version> state,
            Catalogue catalogue,
            Advisory advisory,
            Version to) {
        return answer(device, state, catalogue, to) instanceof PathAnswer.Found found
                        && Optional.ofNullable(
                                        behind(found.best(), state, catalogue)
                                                .get(advisory.component()))
                                .filter(release -> !advisory.affects().contains(release))
                                .isPresent()
                ? Optional.of(new Cure(to, found))
                : Optional.empty();
    }

    /** What each component runs behind a path. */
    private static SortedMap<String, Version> behind(
            Path path, SortedMap<String, Version> state, Catalogue catalogue) {
        SortedMap<String, Version> runs = state;
        for (Hop hop : path.hops()) {
            runs = release(catalogue, hop).orElseThrow().appliedTo(runs);
        }
        return runs;
    }

    private static Optional<Release> release(Catalogue catalogue, Hop hop) {
        return catalogue.find(
                hop.component(), known(catalogue.schemes(), hop.component()).parse(hop.to()));
    }

    private record Cure(Version release, PathAnswer.Found found) {
        Cost cost() {
            return found.best().cost();
        }
    }
}
