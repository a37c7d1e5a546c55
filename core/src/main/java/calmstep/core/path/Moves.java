package calmstep.core.path;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Channel;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Guard;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.MovementRule.Way;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Release;
import calmstep.core.catalogue.Variant;
import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * The moves that a catalogue gives one kind of device, and what bars each. What depends on the
 * release alone is worked out once.
 */
final class Moves {
    private static final int LOOK_ALIKES = 3;

    /**
     * The images of a release for this hardware.
     *
     * @param full what can be installed whatever runs before; empty where there is none
     * @param deltas what can be installed on one release alone
     */
    record Images(List<FirmwareImage> full, Map<Version, List<FirmwareImage>> deltas) {
        /**
         * What is installed on a device that runs {@code before}: the delta where there is one for
         * it.
         */
        List<FirmwareImage> on(Optional<Version> before) {
            return before.map(deltas::get).or(() -> Optional.of(full)).get();
        }
    }

    private record Facts(
            List<MovementRule> rules,
            List<Effect> effects,
            Images images,
            boolean withdrawn,
            boolean unproven) {}

    private final Catalogue catalogue;
    private final Hardware hardware;
    private final boolean entitled;
    private final LocalDate oldEnough;
    private final Map<String, Map<Version, String>> lines = new HashMap<>();
    private final Map<String, String> firstLines = new HashMap<>();
    private final IdentityHashMap<Release, Facts> facts = new IdentityHashMap<>();

    Moves(Kind kind) {
        catalogue = kind.catalogue();
        hardware = kind.hardware();
        entitled = kind.entitled();
        oldEnough = kind.today().minusDays(kind.youngestDays());
        for (Release release : catalogue.releases()) {
            firstLines.putIfAbsent(release.component(), release.line());
            lines.computeIfAbsent(release.component(), _ -> new HashMap<>())
                    .put(release.version(), release.line());
        }
    }

    private Facts facts(Release release) {
        return facts.computeIfAbsent(release, this::factsOf);
    }

    private Facts factsOf(Release release) {
        List<MovementRule> rules = rulesFor(release);
        List<Effect> effects =
                catalogue.effects().stream()
                        .filter(
                                e ->
                                        e.component().equals(release.component())
                                                && e.to().contains(release.version()))
                        .toList();
        boolean unproven = !release.channel().isProven() || release.date().isAfter(oldEnough);
        return new Facts(
                rules,
                effects,
                imagesOf(release),
                release.channel() == Channel.WITHDRAWN,
                unproven);
    }

    private List<MovementRule> rulesFor(Release release) {
        List<MovementRule> rules =
                catalogue.rules().stream()
                        .filter(
                                r ->
                                        r.component().equals(release.component())
                                                && r.to().contains(release.version()))
                        .toList();
        return rules;
    }

    private Images imagesOf(Release release) {
        List<FirmwareImage> fitting =
                release.images().stream()
                        .filter(i -> i.purpose() == Purpose.UPGRADE && i.variant().fits(hardware))
                        .toList();
        Map<Version, List<FirmwareImage>> deltas = new TreeMap<>();
        fitting.forEach(
                image ->
                        image.deltaFrom()
                                .ifPresent(
                                        base ->
                                                deltas.computeIfAbsent(
                                                        base, b -> deltasOn(b, fitting))));
        return new Images(
                together(fitting.stream().filter(image -> image.deltaFrom().isEmpty()).toList()),
                deltas);
    }

    private static List<FirmwareImage> deltasOn(Version b, List<FirmwareImage> fitting) {
        return together(
                fitting.stream()
                        .filter(other -> other.deltaFrom().equals(Optional.of(b)))
                        .toList());
    }

    /** The first image, with the other parts where it is a part: one of each. */
    private static List<FirmwareImage> together(List<FirmwareImage> fitting) {
        Map<String, FirmwareImage> byPart = new TreeMap<>();
        fitting.forEach(image -> byPart.putIfAbsent(image.part(), image));
        return fitting.isEmpty() || fitting.getFirst().part().isEmpty()
                ? fitting.stream().limit(1).toList()
                : List.copyOf(byPart.values());
    }

    /**
     * Why the nearest look-alikes are none: those with the fewest differences; an image for another
     * region as well would only be noise.
     */
    private List<String> refusalsOf(Release release) {
        Map<String, List<String>> byFile = new LinkedHashMap<>();
        release.images().forEach(image -> byFile.put(image.fileName(), refusalsOf(image)));
        int fewest = byFile.values().stream().mapToInt(List::size).min().orElse(0);
        return byFile.entrySet().stream()
                .filter(e -> e.getValue().size() == fewest)
                .map(e -> e.getKey() + ": " + String.join("; ", e.getValue()))
                .toList();
    }

    private List<String> refusalsOf(FirmwareImage image) {
        List<String> refusals = new ArrayList<>(image.variant().refusals(hardware));
        if (image.purpose() != Purpose.UPGRADE) {
            refusals.add("its purpose is " + image.purpose());
        }
        image.deltaFrom().ifPresent(base -> refusals.add("it is a delta from " + base));
        return refusals;
    }

    /**
     * Why the other images of a release that one could take for the chosen ones are not taken; the
     * nearest of them.
     */
    private List<String> lookAlikes(Release release, List<FirmwareImage> chosen) {
        boolean small = chosen.stream().anyMatch(image -> image.deltaFrom().isPresent());
        List<FirmwareImage> others =
                release.images().stream().filter(image -> !chosen.contains(image)).toList();
        int fewest = others.stream().mapToInt(image -> refusalsOf(image).size()).min().orElse(0);
        return others.stream()
                .filter(image -> refusalsOf(image).size() == fewest)
                .limit(LOOK_ALIKES)
                .map(image -> lookAlike(image, fewest, small))
                .toList();
    }

    private String lookAlike(FirmwareImage image, int fewest, boolean small) {
        return "%s: %s"
                .formatted(
                        image.fileName(),
                        fewest == 0
                                ? small
                                        ? "the delta is enough here, and" + " smaller"
                                        : "another file for the same" + " hardware"
                                : String.join("; ", refusalsOf(image)));
    }

    /**
     * Everything that bars installing the release in this state; empty when the move is allowed.
     */
    List<Obstacle> obstacles(SortedMap<String, Version> state, Release release) {
        Facts known = facts(release);
        Optional<Version> running = Optional.ofNullable(state.get(release.component()));
        List<Obstacle> found = new ArrayList<>();
        if (known.withdrawn()) {
            found.add(new Obstacle.Withdrawn(release));
        }
        if (known.images().on(running).isEmpty()) {
            found.add(new Obstacle.NoImage(release, refusalsOf(release)));
        }
        for (MovementRule rule : known.rules()) {
            if (rule.opens().isEmpty()) {
                violation(rule.guard(), state, release.component())
                        .ifPresent(seen -> found.add(new Obstacle.BarredByRule(rule, seen)));
            }
        }
        waysOf(running, release)
                .forEach(
                        way ->
                                shut(way, known.rules(), state, release)
                                        .filter(o -> !found.contains(o))
                                        .ifPresent(found::add));
        release.brings()
                .forEach(
                        (component, version) ->
                                Optional.ofNullable(state.get(component))
                                        .filter(there -> version.compareTo(there) < 0)
                                        .ifPresent(
                                                there ->
                                                        found.add(
                                                                new Obstacle.WouldLower(
                                                                        component,
                                                                        there.text(),
                                                                        version.text()))));
        return found;
    }

    /**
     * Why a way is shut: the first of the rules that would open it, or that none does; empty when
     * one of them holds.
     */
    private Optional<Obstacle> shut(
            Way way, List<MovementRule> rules, SortedMap<String, Version> state, Release release) {
        Optional<Obstacle> first = Optional.empty();
        for (MovementRule rule : rules) {
            if (rule.opens().contains(way)) {
                Optional<String> seen = violation(rule.guard(), state, release.component());
                if (seen.isEmpty()) {
                    return Optional.empty();
                }
                first =
                        first.isPresent()
                                ? first
                                : seen.map(s -> new Obstacle.BarredByRule(rule, s));
            }
        }
        Version running = known(state, release.component());
        return first.or(() -> notDescribed(way, running, release));
    }

    private Optional<Obstacle> notDescribed(Way way, Version running, Release release) {
        return Optional.of(
                switch (way) {
                    case DOWN ->
                            new Obstacle.WayDownNotDescribed(
                                    running.text(), release.version().text());
                    case LINE ->
                            new Obstacle.OtherLine(
                                    lineOf(release.component(), running), release.line());
                });
    }

    /** The ways that a move goes and that are shut unless a rule opens them. */
    private Set<Way> waysOf(Optional<Version> running, Release release) {
        Set<Way> ways = EnumSet.noneOf(Way.class);
        running.filter(r -> release.version().compareTo(r) < 0).ifPresent(_ -> ways.add(Way.DOWN));
        running.filter(r -> !lineOf(release.component(), r).equals(release.line()))
                .ifPresent(_ -> ways.add(Way.LINE));
        return ways;
    }

    /**
     * The software line of a version; a version that the catalogue does not have is taken for one
     * of its first line.
     */
    String lineOf(String component, Version version) {
        String line = lines.getOrDefault(component, Map.of()).get(version);
        return line != null ? line : firstLines.getOrDefault(component, "");
    }

    /** What the device has where the guard wants something else; empty when the guard holds. */
    private Optional<String> violation(
            Guard guard, SortedMap<String, Version> state, String component) {
        return switch (guard) {
            case Guard.From(var range) -> outside(range, component, state);
            case Guard.Needs(String other, var range) -> outside(range, other, state);
            case Guard.OnlyOn(Variant variant) ->
                    variant.covers(hardware) ? Optional.empty() : Optional.of(describe());
            case Guard.NeverOn(Variant variant) ->
                    variant.covers(hardware) ? Optional.of(describe()) : Optional.empty();
            case Guard.Entitled() ->
                    entitled ? Optional.empty() : Optional.of("no support entitlement");
        };
    }

    private static Optional<String> outside(
            VersionRange range, String component, SortedMap<String, Version> state) {
        Version version = state.get(component);
        if (version == null) {
            return Optional.of("%s is not known".formatted(component));
        }
        return range.contains(version)
                ? Optional.empty()
                : Optional.of("%s %s".formatted(component, version));
    }

    private String describe() {
        return "model %s, revision %s".formatted(hardware.model(), hardware.revision());
    }

    /** Rules that speak of a release. */
    List<MovementRule> rules(Release release) {
        return facts(release).rules();
    }

    boolean isWithdrawn(Release release) {
        return facts(release).withdrawn();
    }

    Images images(Release release) {
        return facts(release).images();
    }

    /** Whether a guard that looks at the device and not at its state holds. */
    boolean holdsOnThisDevice(Guard guard) {
        return violation(guard, new TreeMap<>(), "").isEmpty();
    }

    Effect effect(Release release, Optional<Version> before) {
        for (Effect effect : facts(release).effects()) {
            if (before.isEmpty() || effect.from().contains(before.get())) {
                return effect;
            }
        }
        return catalogue.effectOf(release, before);
    }

    /** Whether the cost of a move depends on what ran before. */
    boolean costsVary(Release release) {
        return (facts(release).effects().size() > 1
                        && !facts(release).effects().getFirst().from().equals(VersionRange.ANY))
                || facts(release).effects().stream()
                        .limit(1)
                        .anyMatch(e -> !e.from().equals(VersionRange.ANY))
                || !images(release).deltas().isEmpty();
    }

    Cost cost(Release release, Optional<Version> before) {
        Effect effect = effect(release, before);
        long bytes = images(release).on(before).stream().mapToLong(FirmwareImage::sizeBytes).sum();
        return new Cost(
                0,
                effect.restarts(),
                effect.dark().toSeconds(),
                facts(release).unproven() ? 1 : 0,
                bytes);
    }

    /** The move as a hop. The images are there for every move without obstacles. */
    Hop hop(SortedMap<String, Version> before, Release release, List<Reason> why) {
        Optional<Version> from = Optional.ofNullable(before.get(release.component()));
        Effect effect = effect(release, from);
        List<String> toKnow = new ArrayList<>(release.caveats());
        if (effect.configuration() != Effect.Configuration.KEPT) {
            toKnow.add("the configuration is %s by this move".formatted(effect.configuration()));
        }
        toKnow.addAll(effect.loses());
        if (catalogue.statedEffectOf(release, from).isEmpty()) {
            toKnow.add(
                    "the catalogue does not say what this move takes: one restart and %s min without service are a guess"
                            .formatted(effect.dark().toMinutes()));
        }
        List<String> brings =
                release.brings().entrySet().stream()
                        .filter(b -> !b.getValue().equals(before.get(b.getKey())))
                        .map(b -> "%s %s".formatted(b.getKey(), b.getValue()))
                        .toList();
        List<FirmwareImage> chosen = images(release).on(from);
        return new Hop(
                release.component(),
                from.map(Version::text).orElse(""),
                release.version().text(),
                chosen,
                lookAlikes(release, chosen),
                brings,
                effect.restarts(),
                effect.dark(),
                effect.configuration(),
                release.mayRest(),
                why,
                toKnow);
    }
}
